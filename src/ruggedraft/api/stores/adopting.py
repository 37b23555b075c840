"""Rolls that were found on a store, and stores side by side, as Stores shows them."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.adopting.models import ComparisonRow, StoreComparison, StoreSearch
from ruggedraft.adopting.queries import FoundRoll
from ruggedraft.core.comparing import Kind


class AdoptIn(BaseModel):
    """folder: as it was found"""

    tag: str
    folder: str


class TakeInIn(BaseModel):
    """folder: at the top of the store, as it was found. finals: it holds finals, and no card"""

    folder: str
    finals: bool = False


class FoundRollOut(BaseModel):
    """A folder that seems to hold a roll, by names and sizes. files of of_files: of the roll's own

    known: the ledger knows this copy, where it is. moved_from: where the ledger knows it, and nothing of it is any more
    twice: the ledger knows a copy elsewhere on this store, which is there
    """

    production: str
    tag: str
    folder: str
    files: int
    of_files: int
    bytes: int
    known: bool
    moved_from: str
    twice: bool

    @classmethod
    def of(cls, one: FoundRoll) -> "FoundRollOut":
        elsewhere = one.copy is not None and not one.known
        return cls(
            production=one.roll.production.slug, tag=one.roll.tag, folder=one.folder, files=one.files,
            of_files=one.of_files, bytes=one.bytes, known=one.known,
            moved_from=one.copy.folder if one.copy and elsewhere and one.copy_gone else "",
            twice=elsewhere and not one.copy_gone,
        )  # fmt: skip


class StrangerOut(BaseModel):
    """A folder at the top of the store (or a file there), with what in it belongs to no roll."""

    folder: str
    files: int
    bytes: int


class SearchOut(BaseModel):
    """asked_at: None if it never was. going: it is under way. trouble: why it could not be looked through

    files, bytes: of everything on it. strangers_left: how many more folders hold what belongs to no roll
    """

    asked_at: datetime | None = None
    going: bool = False
    trouble: str = ""
    files: int = 0
    bytes: int = 0
    rolls: list[FoundRollOut] = []
    strangers: list[StrangerOut] = []
    strangers_left: int = 0

    @classmethod
    def of(cls, search: StoreSearch | None, found: list[FoundRoll]) -> "SearchOut":
        if search is None:
            return cls()
        return cls(
            asked_at=search.asked_at, going=search.finished_at is None, trouble=search.trouble, files=search.files,
            bytes=search.bytes, rolls=[FoundRollOut.of(one) for one in found],
            strangers=[StrangerOut(folder=folder, files=files, bytes=size) for folder, files, size in search.strangers],
            strangers_left=search.strangers_left,
        )  # fmt: skip


class SidesIn(BaseModel):
    """left: empty for what the ledger knows to be on the right"""

    left: str = ""
    right: str


class ComparisonIn(SidesIn):
    """by_content: read everything; else names and sizes are compared"""

    by_content: bool = False


class KindOut(BaseModel):
    """How many files of a kind, and how many bytes of them on the left, or where there are none on the right."""

    kind: Kind
    files: int
    bytes: int


class ComparisonOut(BaseModel):
    """asked_at: None if they never were compared. going: it is under way. trouble: why it could not be done

    by_content: it is by content, and not by names and sizes alone. read: bytes that were read so far
    stopping: somebody wants it to end. cached: files that may have come from the station's memory: nothing is known
    doubted: copies in which something was found, and that are read again or looked at, so that the ledger knows it too
    identical: both sides hold the same, and nothing else. no_roll: how many of the missing belong to no roll
    """

    asked_at: datetime | None = None
    going: bool = False
    trouble: str = ""
    by_content: bool = False
    read: int = 0
    stopping: bool = False
    cached: int = 0
    doubted: int = 0
    identical: bool = False
    left_files: int = 0
    left_bytes: int = 0
    right_files: int = 0
    right_bytes: int = 0
    kinds: list[KindOut] = []
    no_roll: int = 0

    @classmethod
    def of(cls, found: StoreComparison | None) -> "ComparisonOut":
        if found is None:
            return cls()
        told = {Kind(kind): tally for kind, tally in found.kinds.items()}
        kinds = [KindOut(kind=kind, files=told[kind][0], bytes=told[kind][1]) for kind in Kind if kind in told]
        return cls(
            asked_at=found.asked_at, going=found.finished_at is None, trouble=found.trouble,
            by_content=found.by_content, read=found.read, stopping=found.stopped_by_id is not None,
            cached=found.cached, doubted=found.doubted,
            identical=found.finished_at is not None and not found.trouble and found.identical,
            left_files=found.left_files, left_bytes=found.left_bytes, right_files=found.right_files,
            right_bytes=found.right_bytes, kinds=[one for one in kinds if one.files], no_roll=found.no_roll,
        )  # fmt: skip


class DifferenceOut(BaseModel):
    """left, right: bytes on each side, None where it is not there. elsewhere: of one that was moved

    reason: of one that could not be read
    """

    kind: Kind
    path: str
    left: int | None
    right: int | None
    elsewhere: str
    reason: str

    @classmethod
    def of(cls, row: ComparisonRow) -> "DifferenceOut":
        return cls(
            kind=Kind(row.kind), path=row.path, left=row.left, right=row.right, elsewhere=row.elsewhere,
            reason=row.reason,
        )  # fmt: skip


class DifferencesOut(BaseModel):
    """after: what to ask for to get the next; None on the last page"""

    rows: list[DifferenceOut]
    after: int | None
