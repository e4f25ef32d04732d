"""Winnower: count, compare and read large bodies of text, with every number leading back to its passages."""

__version__ = "0.1.0"
