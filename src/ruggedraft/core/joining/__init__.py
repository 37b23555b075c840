"""The chapters of a split recording as one file, without touching a sample."""

from .join import JoinFailed, join, packets

__all__ = ["JoinFailed", "join", "packets"]
