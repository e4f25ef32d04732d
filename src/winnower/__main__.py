"""``python -m winnower``."""

from winnower.cli.main import app

app()
