"""The account of a shoot day, as data: what a page shows, what is printed, and what is kept when a shift hands over.

Sizes are bytes, lengths seconds, rates bytes a second. `later`: it became true after the account was last frozen.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from ..redundancy import CopyState, RollState
from ..runs import RunEnd, RunKind


@dataclass(frozen=True)
class Material:
    """What was shot. seconds: of picture and sound together, as headers tell; untold: recordings whose length none does

    rolls that are another rendering of one that is counted (RAW here, JPEG there) add files and bytes, and no seconds
    """

    files: int = 0
    bytes: int = 0
    clips: int = 0
    seconds: float = 0.0
    untold: int = 0


def added(parts: Iterable[Material]) -> Material:
    """
    >>> added([Material(1, 10, 1, 2.5), Material(2, 20, 1, 1.5, 1)])
    Material(files=3, bytes=30, clips=2, seconds=4.0, untold=1)
    """
    found = list(parts)
    return Material(
        sum(one.files for one in found), sum(one.bytes for one in found), sum(one.clips for one in found),
        sum(one.seconds for one in found), sum(one.untold for one in found),
    )  # fmt: skip


@dataclass(frozen=True)
class DayCamera:
    """What a camera shot on the day."""

    letter: str
    name: str
    rolls: int
    material: Material


@dataclass(frozen=True)
class DayCopy:
    """How a copy of a roll stands. location: where its store is"""

    store: str
    location: str
    state: CopyState


@dataclass(frozen=True)
class DayBar:
    """A clip on the clock. start: seconds since 1970-01-01 UTC, by the camera's clock put right"""

    start: float
    length: float


@dataclass(frozen=True)
class DayRoll:
    """A roll of the day. why: what it lacks; empty of one that is safe. was: what of it was otherwise when frozen

    bars: its clips that have a time, in shooting order
    """

    tag: str
    camera: str
    card: str
    opened_at: datetime
    material: Material
    state: RollState
    why: str
    copies: tuple[DayCopy, ...]
    bars: tuple[DayBar, ...] = ()
    later: bool = False
    was: str = ""


@dataclass(frozen=True)
class DayRun:
    """A run that ended on the day. bytes: that it read off a card, and so are seconds and rate; 0 and None of others"""

    id: int
    kind: RunKind
    tag: str
    station: str
    person: str
    ended_at: datetime
    end: RunEnd
    outcome: str
    bytes: int
    seconds: float
    rate: float | None
    later: bool = False


@dataclass(frozen=True)
class DayTrouble:
    """Something that went wrong on the day. subject: a roll, a card or a device"""

    at: datetime
    subject: str
    sentence: str
    later: bool = False


@dataclass(frozen=True)
class DayClearance:
    """Signed on the day. revoked: who took it back, when and why; empty of one that stands"""

    id: int
    card: str
    rolls: tuple[str, ...]
    signers: tuple[str, ...]
    at: datetime
    revoked: str
    later: bool = False
    revoked_later: bool = False


@dataclass(frozen=True)
class DayOpen:
    """What was not done when the account was made. subject: a roll, a card or a station"""

    subject: str
    sentence: str


@dataclass(frozen=True)
class DayNote:
    """What somebody noted of the day, or of a roll of it. about: that, as people call it"""

    id: int
    about: str
    words: str
    by: str
    at: datetime
    later: bool = False


@dataclass(frozen=True)
class DayAccount:
    """number: of the production's shoot days, the first is 1. at: when it was made

    head, seal: id and seal of the journal's last entry then: what it says can be held against the journal
    """

    production: str
    day: date
    number: int
    time_zone: str
    at: datetime
    head: int
    seal: str
    material: Material
    cameras: tuple[DayCamera, ...]
    rolls: tuple[DayRoll, ...]
    runs: tuple[DayRun, ...]
    troubles: tuple[DayTrouble, ...]
    clearances: tuple[DayClearance, ...]
    open: tuple[DayOpen, ...]
    notes: tuple[DayNote, ...]


@dataclass(frozen=True)
class DayFigures:
    """One day beside others. unsafe: rolls that do not meet their rule now"""

    day: date
    number: int
    rolls: int
    unsafe: int
    material: Material
    troubles: int
    clearances: int


def by_camera(rolls: Sequence[DayRoll], names: Sequence[tuple[str, str]]) -> tuple[DayCamera, ...]:
    """What each camera shot, in the order of names; of those that shot anything. names: letter and name of each"""
    shot = {letter: [roll for roll in rolls if roll.camera == letter] for letter, _ in names}
    return tuple(
        DayCamera(letter, name, len(shot[letter]), added(roll.material for roll in shot[letter]))
        for letter, name in names
        if shot[letter]
    )
