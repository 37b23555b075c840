"""What a run did, file by file where it matters: findings are data."""

from collections.abc import Mapping, MutableSet, Set
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from ..evidence import Evidence, Result


class FileRead(NamedTuple):
    """A file read off the card, whole: bytes, modification time in ns, checksum in hexadecimal.

    others: its further checksums, in the order in which they were asked for
    fingerprint: see `core.sources.fingerprint`
    """

    size: int
    modified_ns: int
    checksum: str
    others: tuple[str, ...] = ()
    fingerprint: str = ""


@dataclass(frozen=True, slots=True)
class FileFailure:
    """Why a file is not safe. found: what is known of it on the store; UNSPOKEN where nothing is."""

    path: str
    reason: str
    found: Result = Result.UNSPOKEN


@dataclass
class StoreResult:
    """One store after a run.

    asked: how many files it was to hold
    agreed: the files whose bytes were read from the store and agree with the card. Only what stands here is claimed.
    already: how many of them stood there before and were only read
    level: the weakest evidence among them
    failed: what is not safe there, with the reason
    settled: the folders are durable, and afterwards every file that agreed was still where it belongs
    behind: those of `failed` that the store was too slow for; they can be fed from another store's copy
    proves: what this store was to prove, such as attested where its server's word is taken
    since: of what an earlier part of the run has proven and is believed, when those parts began, in the caller's words
    """

    name: str
    folder: str
    asked: int
    agreed: MutableSet[str] = field(default_factory=set)
    already: int = 0
    level: Evidence = Evidence.READ_BACK
    failed: list[FileFailure] = field(default_factory=list)
    behind: set[str] = field(default_factory=set)
    settled: bool = False
    proves: Evidence = Evidence.READ_BACK
    since: set[str] = field(default_factory=set)

    def with_fed(self, fed: "StoreResult") -> "StoreResult":
        """This store after it was fed what it was too slow for. `fed` speaks of those files only."""
        told = {*fed.agreed, *(one.path for one in fed.failed)}
        return replace(
            self, agreed={*self.agreed, *fed.agreed}, already=self.already + fed.already, behind=self.behind - told,
            failed=[*(one for one in self.failed if one.path not in told), *fed.failed],
            level=min(self.level, fed.level), settled=self.settled and fed.settled, since=self.since | fed.since,
        )  # fmt: skip

    @property
    def evidence(self) -> Evidence:
        """The level that may be claimed of what agreed: nothing is past being written before all is settled."""
        return self.level if self.settled else min(self.level, Evidence.WRITTEN)

    def can_feed(self, paths: Set[str]) -> bool:
        """Whether these files were read back here, so that another store can have them from here."""
        return paths <= self.agreed and self.evidence >= Evidence.READ_BACK

    @property
    def verified(self) -> bool:
        """The one place that says it: everything asked for was read back past the caches and agrees."""
        return self._whole and self.evidence >= Evidence.READ_BACK

    @property
    def as_meant(self) -> bool:
        """Everything asked for agrees, as far as this store was to prove it: attested is less than verified."""
        return self._whole and self.evidence >= self.proves

    @property
    def _whole(self) -> bool:
        return len(self.agreed) == self.asked and not self.failed


@dataclass
class TransferReport:
    """read: the files read off the card whole, by path. unread: what could not be, with the reason.

    doubted: files that the card's own checksum list contradicts. They were copied as the card gave them.
    card_gone: the card left its reader before it was read to its end
    errors: files of which the card gave an error, though it may have given them the next time
    """

    read: Mapping[str, FileRead]
    unread: list[FileFailure]
    stores: list[StoreResult]
    cancelled: bool = False
    doubted: list[FileFailure] = field(default_factory=list)
    card_gone: bool = False
    errors: frozenset[str] = frozenset()

    @property
    def verified(self) -> bool:
        """Whether everything is safe on every store, and nothing about the card is in doubt."""
        sound = not (self.cancelled or self.unread or self.doubted)
        return sound and all(store.verified for store in self.stores)
