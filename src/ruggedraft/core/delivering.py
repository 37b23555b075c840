"""What goes to whom, and how much of it went out."""

from collections.abc import Iterable
from enum import StrEnum


class DeliveryWay(StrEnum):
    """How a delivery goes."""

    LINK = "link"
    """a page that whoever has its address can open, and fetch from"""
    DRIVE = "drive"
    """a drive of theirs, or one that stays with them"""
    BUCKET = "bucket"
    """an object storage of theirs"""
    OTHER = "other"


def sent_whole(size: int, parts: Iterable[tuple[int, int]]) -> bool:
    """Whether these parts of a file (first byte, how many) cover all of it; an empty one, whether it was asked for.

    >>> sent_whole(10, [(0, 6), (5, 5)]), sent_whole(10, [(0, 4), (5, 5)]), sent_whole(0, []), sent_whole(0, [(0, 0)])
    (True, False, False, True)
    """
    reached, asked = 0, False
    for first, count in sorted(parts):
        asked = True
        if first > reached:
            return False
        reached = max(reached, first + count)
    return asked and reached >= size
