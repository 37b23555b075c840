"""The journal as the Log shows it."""

from datetime import datetime

from pydantic import BaseModel

from ruggedraft.journal.kinds import ActKind, kind_of
from ruggedraft.journal.models import JournalEntry


class LogEntry(BaseModel):
    """card, roll: what it is about, where that is one the production has now."""

    id: int
    at: datetime
    person: str | None
    origin: str
    act: str
    kind: ActKind
    subject: str
    card: str | None
    roll: str | None
    sentence: str

    @classmethod
    def of(cls, e: JournalEntry, *, card: str | None = None, roll: str | None = None) -> "LogEntry":
        return cls(
            id=e.pk, at=e.at, person=e.person.shown_name if e.person else None, origin=e.origin, act=e.act,
            kind=kind_of(e.act), subject=e.subject, card=card, roll=roll, sentence=e.sentence,
        )  # fmt: skip


class LogPerson(BaseModel):
    username: str
    name: str


class LogOut(BaseModel):
    """Newest first.

    before: hand this in to get the next page; None on the last. people: whose acts can be asked for
    """

    entries: list[LogEntry]
    before: int | None
    people: list[LogPerson]


class SealOut(BaseModel):
    """broken_at: the first entry that was tampered with, None if the whole journal is as it was written.

    Records beside copies know the journal as it was when they were written. agree: those that were read now and know a
    row that is there. differ: where the others lie. unread: those that are not here to be asked
    """

    broken_at: int | None
    agree: int
    differ: list[str]
    unread: int
