"""What a run did, file by file where it matters: findings are data."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..evidence import Evidence


@dataclass(frozen=True, slots=True)
class FileRead:
    """A file read off the card, whole: bytes, modification time in ns, checksum in hexadecimal."""

    size: int
    modified_ns: int
    checksum: str


@dataclass(frozen=True, slots=True)
class FileFailure:
    path: str
    reason: str


@dataclass
class StoreResult:
    """One store after a run.

    asked: how many files it was to hold
    agreed: the files whose bytes were read from the store and agree with the card. Only what stands here is claimed.
    already: how many of them stood there before and were only read
    level: the weakest evidence among them
    failed: what is not safe there, with the reason
    """

    name: str
    folder: str
    asked: int
    agreed: set[str] = field(default_factory=set)
    already: int = 0
    level: Evidence = Evidence.READ_BACK
    failed: list[FileFailure] = field(default_factory=list)

    @property
    def verified(self) -> bool:
        """The one place that says it: everything asked for was read back past the caches and agrees."""
        return not self.failed and len(self.agreed) == self.asked and self.level >= Evidence.READ_BACK


@dataclass
class TransferReport:
    """read: the files read off the card whole, by path. unread: what could not be, with the reason."""

    read: Mapping[str, FileRead]
    unread: list[FileFailure]
    stores: list[StoreResult]
    cancelled: bool = False

    @property
    def verified(self) -> bool:
        return not self.cancelled and not self.unread and all(store.verified for store in self.stores)
