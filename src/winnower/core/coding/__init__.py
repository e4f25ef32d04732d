"""Stretches of texts: how they keep their place when a text is corrected."""

from winnower.core.coding.anchor import Moves

__all__ = ["Moves"]
