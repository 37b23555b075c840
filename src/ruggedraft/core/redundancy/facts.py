"""The facts a verdict rests on. All times are aware datetimes, all sizes bytes."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import NamedTuple

from ..evidence import Evidence, Result
from .holds import HoldFact

_ZONE_STEP_NS = 900 * 10**9
_WIDEST_SHIFT_NS = 26 * 3600 * 10**9
"""Zones lie between UTC-12 and UTC+14, in steps of a quarter hour (IANA time zone database)."""


@dataclass(frozen=True)
class StoreFacts:
    """A store as redundancy sees it.

    devices: identities of every physical thing under the store; stores whose sets overlap are one device
    counts: whether copies there count at all (landing areas, the system disk and what is out of service do not)
    landing: it is a place that cards empty into. retired: it is out of service
    online, free: whether a station can reach it now, and its room; what remedies need to know
    proves: what a run proves there by itself, such as attested where the server's own word is taken
    """

    name: str
    devices: frozenset[str]
    location: str
    medium: str
    offsite: bool = False
    counts: bool = True
    lost: bool = False
    online: bool = True
    free: int = 0
    proves: Evidence = Evidence.READ_BACK
    landing: bool = False
    retired: bool = False


@dataclass(frozen=True)
class Reading:
    """A reading of a copy, or a look at it that found something wrong.

    seq: its place in the order in which evidence was noted
    after: the last evidence that was noted before this reading began on the medium. Order comes from these two
        numbers and never from a clock, which may jump.
    began_at: when it began, for saying how old it is
    all_but: it speaks of every file of the takes up to `until`, which agree, except as `results` says; otherwise only
        of the files in `results`
    results: by the file's number
    """

    seq: int
    after: int
    began_at: datetime
    level: Evidence
    all_but: bool
    until: int
    results: Mapping[int, Result] = field(default_factory=dict)

    def of(self, file: int, take: int) -> Result:
        """What this reading says of one file."""
        return self.results.get(file, Result.AGREES if self.speaks_of_take(take) else Result.UNSPOKEN)

    def speaks_of_take(self, take: int) -> bool:
        """Whether it says that every file of a take agrees, but for those it names."""
        return self.all_but and take <= self.until


@dataclass(frozen=True)
class CopyFacts:
    """A copy of a roll, as its readings and looks leave it.

    files, bytes: what of the roll it is known to hold
    missing_files, missing_bytes: files of the roll that it is not known to hold; broken_files of them are
        damaged there, or were there and are not any more
    proven: for each level of evidence, the age of the oldest reading on which a claim of that level rests; None where
        some file is not proven so strongly
    looked_at: when its names, sizes and times were last compared; None if never
    """

    store: StoreFacts
    proven: tuple[datetime | None, ...] = (None,) * len(Evidence)
    files: int = 0
    bytes: int = 0
    missing_files: int = 0
    missing_bytes: int = 0
    broken_files: int = 0
    looked_at: datetime | None = None

    @property
    def level(self) -> Evidence:
        """The strongest level at which everything that it holds is proven."""
        return max((level for level in Evidence if self.proven[level]), default=Evidence.LISTED)

    @property
    def read_at(self) -> datetime | None:
        """When the oldest reading began that the copy's level rests on."""
        return self.proven[self.level]

    @property
    def whole(self) -> bool:
        """Whether it is known to hold every file of the roll."""
        return self.files > 0 and self.missing_files == 0

    @property
    def whole_and_read_back(self) -> bool:
        """What another copy, or a picture, may be made from. Whether its store is lost is not said by this."""
        return self.whole and self.level >= Evidence.READ_BACK


class FileFact(NamedTuple):
    """A file by what can be seen of it without reading it whole.

    fingerprint: a digest of its first and last bytes; empty where it was not taken
    """

    path: str
    size: int
    modified_ns: int
    fingerprint: str = ""

    @property
    def seen(self) -> tuple[str, int]:
        """Path and size: what the name alone tells."""
        return self.path, self.size

    def is_like(self, other: "FileFact") -> bool:
        """The same path, size and time. Times of FAT cards shift by the zone they are read in."""
        return self.seen == other.seen and same_time(self.modified_ns, other.modified_ns)

    def is_surely(self, other: "FileFact") -> bool:
        """Alike, with the same fingerprint."""
        return self.is_like(other) and bool(self.fingerprint) and self.fingerprint == other.fingerprint

    def may_be(self, other: "FileFact") -> bool:
        """Alike, and not known to be another file: a fingerprint is missing."""
        return self.is_like(other) and not (self.fingerprint and other.fingerprint)


def same_time(one_ns: int, other_ns: int) -> bool:
    """Equal, or apart by whole quarter hours of a time zone.

    FAT keeps local time without a zone (Microsoft, 'FAT File System Specification' 1.03).
    """
    apart = abs(one_ns - other_ns)
    return apart == 0 or (apart <= _WIDEST_SHIFT_NS and apart % _ZONE_STEP_NS == 0)


@dataclass(frozen=True)
class WaiverFact:
    """One file that need not be covered, by whom and why."""

    file: FileFact
    reason: str
    by: str


@dataclass(frozen=True)
class RollFacts:
    """files, bytes: what a whole copy must hold: everything that was taken, but for what was waived.

    content: those files, for the coverage of a card; may be left out where that is known or only copies are judged
    unread: of them, the files that no run has read yet. bare: those that no copy is known to hold
    waived, left: what was waived by name, and what was left on the card on purpose
    looked_at: share of its clips that somebody opened
    delivered: it was given to whom it was made for
    double_of: tag of the roll of which it is another rendering, RAW here and JPEG there; empty if of none.
    double_delivered: whether that one was delivered
    own_rule: what is asked of it, where that is not what its production asks
    """

    tag: str
    content: frozenset[FileFact]
    copies: tuple[CopyFacts, ...]
    holds: tuple[HoldFact, ...] = ()
    looked_at: float = 0.0
    files: int = 0
    bytes: int = 0
    unread: int = 0
    bare: int = 0
    waived: int = 0
    left: int = 0
    delivered: bool = False
    double_of: str = ""
    double_delivered: bool = False
    own_rule: "Rule | None" = None


@dataclass(frozen=True)
class ClearanceFact:
    """entries: what was on the card when it was cleared. handed_back_at: when it left our hands afterwards.

    handed_to: who has it then; empty if nobody said
    revoked_at, revoked_by, revoked_why: of a clearance that was taken back; None and empty for one that stands
    out_when_revoked: the card had gone out as cleared by then. read_since: it was read here after that
    """

    at: datetime
    entries: frozenset[FileFact]
    handed_back_at: datetime | None = None
    handed_to: str = ""
    revoked_at: datetime | None = None
    revoked_by: str = ""
    revoked_why: str = ""
    out_when_revoked: bool = False
    read_since: bool = False


@dataclass(frozen=True)
class Rule:
    """What a roll needs before its card may be reused.

    fresh: oldest allowed reading. shelf: the same for copies on a store that is not connected
    looked_at: share of clips that somebody must have opened, from 0 to 1
    keep_doubles: a card with another rendering of a roll is kept until that was delivered
    chosen_only: files that somebody dropped need no copies
    listing_within: oldest allowed listing of the card. looked_within: oldest look at a copy that a signature rests on
    None: any age.
    """

    copies: int = 2
    devices: int = 2
    locations: int = 1
    offsite: int = 0
    media: int = 1
    level: Evidence = Evidence.READ_BACK
    fresh: timedelta | None = None
    shelf: timedelta | None = None
    looked_at: float = 0.0
    signers: int = 1
    listing_within: timedelta | None = None
    looked_within: timedelta | None = None
    keep_doubles: bool = True
    chosen_only: bool = False


def device_groups(stores: Iterable[StoreFacts]) -> list[frozenset[str]]:
    """The separate devices under these stores: sets that overlap, also by way of a third, are one."""
    groups: list[frozenset[str]] = []
    for store in stores:
        touching = [group for group in groups if group & store.devices]
        groups = [group for group in groups if not group & store.devices]
        groups.append(store.devices.union(*touching))
    return groups
