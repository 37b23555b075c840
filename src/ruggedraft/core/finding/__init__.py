"""Understanding what somebody asks for: "where is card 14?", typed by a person in gloves, and words of names."""

from .asked import Asked, Rank, Thing, asked_for
from .mentions import mentioned
from .words import LEAST, plain_form, spellings, stands_in, words_of

__all__ = [
    "LEAST", "Asked", "Rank", "Thing", "asked_for", "mentioned", "plain_form", "spellings", "stands_in", "words_of",
]  # fmt: skip
