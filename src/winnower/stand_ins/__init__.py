"""Outside services: small ones that ship in their place, and the ways to real ones."""
