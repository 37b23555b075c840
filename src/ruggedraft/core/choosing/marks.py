"""Marks that somebody puts on a clip."""

from collections.abc import Iterable
from enum import StrEnum


class MarkKind(StrEnum):
    """What somebody says of a clip; the value is how it travels."""

    KEEP = "keep"
    DROP = "drop"
    SEEN = "seen"
    """looked at, all of it"""
    SOFT = "soft"
    """out of focus"""
    EXPOSURE = "exposure"
    DROPOUT = "dropout"
    """frames or sound are missing for a moment"""
    CORRUPT = "corrupt"
    NO_SOUND = "no_sound"
    BAD_SOUND = "bad_sound"
    OTHER = "other"
    """other trouble, in words"""


IN_WORDS = {
    MarkKind.KEEP: "keep it",
    MarkKind.DROP: "drop it",
    MarkKind.SEEN: "looked at, all of it",
    MarkKind.SOFT: "out of focus",
    MarkKind.EXPOSURE: "exposed wrong",
    MarkKind.DROPOUT: "dropout",
    MarkKind.CORRUPT: "corrupt",
    MarkKind.NO_SOUND: "no sound",
    MarkKind.BAD_SOUND: "bad sound",
    MarkKind.OTHER: "trouble",
}
"""As journal and papers say them."""

TROUBLE = frozenset(MarkKind) - {MarkKind.KEEP, MarkKind.DROP, MarkKind.SEEN}


def excludes(kind: MarkKind) -> MarkKind | None:
    """The mark that one person cannot leave on a clip beside this one.

    >>> excludes(MarkKind.KEEP)
    <MarkKind.DROP: 'drop'>
    """
    return {MarkKind.KEEP: MarkKind.DROP, MarkKind.DROP: MarkKind.KEEP}.get(kind)


def is_contested(kinds: Iterable[MarkKind]) -> bool:
    """Whether one person keeps what another one drops. kinds: of all marks on a clip"""
    return {MarkKind.KEEP, MarkKind.DROP} <= set(kinds)
