"""What happened that somebody may want to be told of."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from enum import StrEnum


class NewsKind(StrEnum):
    """What it is about."""

    TROUBLE = "trouble"
    """a run ended badly, a drive is lost, a station is away"""
    BELOW = "below the line"
    """a roll whose card may be erased does not meet its rule any more"""
    CHECK = "check failed"
    """a copy was read again, or looked at, and is not what it should be"""
    SIGN = "second signature"
    """a card waits for one more person to sign"""
    FULL = "nearly full"
    FREE = "card free"
    """a card was cleared: it may go back"""
    BEHIND = "feed behind"
    """a copy that is brought from another is not there yet, long after it was asked for"""
    VERIFIED = "roll verified"
    """a roll meets its rule"""


GRAVE = frozenset((NewsKind.TROUBLE, NewsKind.BELOW, NewsKind.CHECK))
"""What is told to others when nobody says that they know."""


@dataclass(frozen=True)
class Happening:
    """key: names this one occurrence; as long as it is there, it is told once. subject: a tag, a label, a store's name

    roll: id of the roll that it is about; 0 for none
    """

    kind: NewsKind
    key: str
    subject: str
    sentence: str
    roll: int = 0


def fresh_and_over(
    now: Iterable[Happening], told: Collection[tuple[NewsKind, str]]
) -> tuple[list[Happening], set[tuple[NewsKind, str]]]:
    """What is there now and was not told yet; and what was told and is over. told: kinds and keys

    >>> fresh_and_over([Happening(NewsKind.FULL, "1", "x", "")], [(NewsKind.FULL, "2")])[1]
    {(<NewsKind.FULL: 'nearly full'>, '2')}
    """
    there = {(one.kind, one.key): one for one in now}
    return [one for key, one in there.items() if key not in set(told)], set(told) - there.keys()
