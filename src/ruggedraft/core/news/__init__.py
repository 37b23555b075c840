"""News that matters: what happened, who is told in which way, and what is sent to other programs."""

from .happenings import GRAVE, Happening, NewsKind, fresh_and_over
from .signing import new_secret, signed_headers
from .telling import DEFAULT_CHOICES, Choices, Quiet, Way, next_try, ways_of

__all__ = [
    "DEFAULT_CHOICES",
    "GRAVE",
    "Choices",
    "Happening",
    "NewsKind",
    "Quiet",
    "Way",
    "fresh_and_over",
    "new_secret",
    "next_try",
    "signed_headers",
    "ways_of",
]
