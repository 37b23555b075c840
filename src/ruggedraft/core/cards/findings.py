"""What a reading of a card has to say beyond its counts, as data."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class FindingKind(StrEnum):
    """What a finding is about."""

    INNER_FOLDER = "inner folder"
    MISSING_CLIP = "missing clip"
    """an index names a clip that is not there"""
    STRAY_CLIP = "stray clip"
    """a clip that no index names"""
    EMPTIED = "emptied"
    """the folders of a layout without anything recorded in them"""
    MIXED_BODIES = "mixed bodies"
    FUTURE = "future"
    BEFORE = "before the production"
    FAR = "far in time"
    WRAPPED = "wrapped counter"
    FRAMES_MISSING = "frames missing"
    HEADER = "header"
    ODD = "odd entry"
    """a link, special file or unreadable folder"""
    SYSTEM = "system folder"
    """a folder that a computer keeps for itself, and that did not open"""
    TWINS = "twin names"
    FOLDER_NUMBER = "folder number"


GRAVE = frozenset(
    {FindingKind.INNER_FOLDER, FindingKind.MISSING_CLIP, FindingKind.EMPTIED, FindingKind.FRAMES_MISSING,
     FindingKind.ODD}
)  # fmt: skip
"""Findings that ask: is this card whole?"""


@dataclass(frozen=True, slots=True)
class Finding:
    """sentence: for the person at the cart. paths: what it is about, all of them."""

    kind: FindingKind
    sentence: str
    paths: tuple[str, ...] = ()

    @property
    def grave(self) -> bool:
        """Whether it asks if the card is whole."""
        return self.kind in GRAVE


def named(paths: Sequence[str], most: int = 3) -> str:
    """The first names, and how many more there are.

    >>> named(["a/C1.MXF", "a/C2.MXF"])
    'C1.MXF, C2.MXF'
    """
    names = [path.rpartition("/")[2] for path in paths[:most]]
    more = len(paths) - len(names)
    return ", ".join(names) + (f" and {more:,} more" if more else "")
