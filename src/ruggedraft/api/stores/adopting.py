"""Rolls that were found on a store, as Stores shows them."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.adopting.models import StoreSearch
from ruggedraft.adopting.queries import FoundRoll


class AdoptIn(BaseModel):
    """production: of the roll, as its address names it. folder: as it was found"""

    production: str
    tag: str
    folder: str


class TakeInIn(BaseModel):
    """folder: at the top of the store, as it was found"""

    folder: str


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
