"""Understanding what somebody asks for: "where is card 14?", typed by a person in gloves."""

from .asked import Asked, Rank, Thing, asked_for
from .mentions import mentioned

__all__ = ["Asked", "Rank", "Thing", "asked_for", "mentioned"]
