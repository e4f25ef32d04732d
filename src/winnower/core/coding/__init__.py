"""Stretches of texts: how they keep their place when a text is corrected, and what differs then."""

from winnower.core.coding.anchor import Moves
from winnower.core.coding.differences import Stretch, differences

__all__ = ["Moves", "Stretch", "differences"]
