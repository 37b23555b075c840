"""What to take of a card, and what stays behind."""

from .take import EVERYTHING, Take, Taken, take

__all__ = ["EVERYTHING", "Take", "Taken", "take"]
