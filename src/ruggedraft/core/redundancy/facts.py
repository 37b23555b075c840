"""The facts a verdict rests on. All times are aware datetimes, all sizes bytes."""

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import NamedTuple

from ..evidence import Evidence


@dataclass(frozen=True)
class StoreFacts:
    """A store as redundancy sees it.

    counts: whether copies there count at all (landing areas and the system disk do not)
    online, free: whether a station can reach it now, and its room; what remedies need to know
    """

    name: str
    device: str
    location: str
    medium: str
    offsite: bool = False
    counts: bool = True
    lost: bool = False
    online: bool = True
    free: int = 0


@dataclass(frozen=True)
class CopyFacts:
    """A copy of a roll.

    level, verified_at: of its last finished check; verified_at is None while there was none
    missing_files, missing_bytes: files of the roll it lacks or holds broken
    """

    store: StoreFacts
    level: Evidence = Evidence.LISTED
    verified_at: datetime | None = None
    missing_files: int = 0
    missing_bytes: int = 0


class FileFact(NamedTuple):
    """A file by what can be seen of it without reading: the same path, size and time mean the same file."""

    path: str
    size: int
    modified_ns: int


@dataclass(frozen=True)
class HoldFact:
    reason: str
    by: str


@dataclass(frozen=True)
class WaiverFact:
    """One file that need not be covered, by whom and why."""

    file: FileFact
    reason: str
    by: str


@dataclass(frozen=True)
class RollFacts:
    tag: str
    files: frozenset[FileFact]
    copies: tuple[CopyFacts, ...]
    holds: tuple[HoldFact, ...] = ()
    looked_at: float = 0.0
    bytes: int = 0


@dataclass(frozen=True)
class CardFacts:
    """A card as it was last listed, and the rolls whose files it holds or held since its last format.

    entries: everything on it that needs cover; links and unlistable folders too, which nothing covers
    """

    label: str
    entries: tuple[FileFact, ...]
    listed_at: datetime | None
    rolls: tuple[RollFacts, ...]
    waivers: tuple[WaiverFact, ...] = ()


@dataclass(frozen=True)
class Rule:
    """What a roll needs before its card may be reused.

    fresh: oldest allowed last check. listing_within: oldest allowed listing of the card. None: any age.
    """

    copies: int = 2
    devices: int = 2
    locations: int = 1
    offsite: int = 0
    media: int = 1
    level: Evidence = Evidence.READ_BACK
    fresh: timedelta | None = None
    looked_at: float = 0.0
    signers: int = 1
    listing_within: timedelta | None = field(default=None)
