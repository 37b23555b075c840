"""Which clips of a roll to open, so that little looking finds much."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum


class Why(StrEnum):
    """What makes a clip worth opening."""

    FIRST = "first"
    LAST = "last"
    LONGEST = "longest"
    TROUBLE = "trouble"
    """somebody marked trouble on it"""
    UNSHOWN = "unshown"
    """not all of it could be shown"""
    BREAKS = "breaks"
    """it does not decode to its end"""


@dataclass(frozen=True)
class ClipToOpen:
    """A clip by its main file, in the order of a roll. size: bytes. duration_s: seconds, None where nobody knows"""

    path: str
    size: int
    duration_s: float | None = None
    trouble: bool = False
    unshown: bool = False
    breaks: bool = False


def spot_check(clips: Sequence[ClipToOpen]) -> dict[str, list[Why]]:
    """The first, the last, the longest, and each of which something is known that is not as it should be; by path.

    clips: all of a roll, in its order. The longest is the one of most seconds; where nobody knows any, of most bytes.

    >>> spot_check([ClipToOpen("A", 9), ClipToOpen("B", 5, trouble=True), ClipToOpen("C", 3)])
    {'A': [<Why.FIRST: 'first'>, <Why.LONGEST: 'longest'>], 'B': [<Why.TROUBLE: 'trouble'>], 'C': [<Why.LAST: 'last'>]}
    """
    if not clips:
        return {}
    longest = max(clips, key=lambda one: (one.duration_s or 0.0, one.size))
    found: dict[str, list[Why]] = {}
    for one in clips:
        reasons = [
            (one is clips[0], Why.FIRST),
            (one is clips[-1] and len(clips) > 1, Why.LAST),
            (one is longest and len(clips) > 1, Why.LONGEST),
            (one.trouble, Why.TROUBLE),
            (one.unshown, Why.UNSHOWN),
            (one.breaks, Why.BREAKS),
        ]
        if why := [reason for holds, reason in reasons if holds]:
            found[one.path] = why
    return found
