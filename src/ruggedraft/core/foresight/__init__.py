"""How long the room of a store lasts, from what its days came to so far."""

from .room import Foreseen, PartOfDay, foresee

__all__ = ["Foreseen", "PartOfDay", "foresee"]
