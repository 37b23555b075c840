"""Understanding what somebody asks for: "where is card 14?", typed by a person in gloves, and words of names."""

from .asked import Asked, Rank, Thing, asked_for
from .mentions import mentioned
from .words import LEAST, literally, plain_form, searched, spellings, words_of

__all__ = [
    "LEAST", "Asked", "Rank", "Thing", "asked_for", "literally", "mentioned", "plain_form", "searched", "spellings",
    "words_of",
]  # fmt: skip
