"""Understanding what somebody asks for: "where is card 14?", typed by a person in gloves."""

from .asked import Asked, Rank, Thing, asked_for

__all__ = ["Asked", "Rank", "Thing", "asked_for"]
