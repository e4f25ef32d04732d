"""MariaDB as the truth, and the corpus opened from it. The only room with SQL."""
