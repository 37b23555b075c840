"""Writing the journal, and proving that nobody rewrote it."""

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from django.db import connection, transaction

from .clock import now
from .models import JournalEntry

if TYPE_CHECKING:
    from ruggedraft.crew.models import Person

_LOCK = 0x52416A6F  # advisory lock: rows are sealed one after the other


def write(
    act: str,
    subject: str,
    sentence: str,
    *,
    person: "Person | None",
    origin: str = "",
    production: int | None = None,
    detail: dict[str, object] | None = None,
) -> JournalEntry:
    """Add one row. Call it inside the transaction of the act itself: both happen, or neither.

    origin: the station or address the act came from
    production: id of the one it happened in; None where it concerns the whole ledger, as a station does
    """
    if not connection.in_atomic_block:
        raise transaction.TransactionManagementError("a journal row belongs into the transaction of its act")
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
    entry = JournalEntry(
        at=now(),
        person=person,
        origin=origin,
        production=production,
        act=act,
        subject=subject,
        sentence=sentence,
        detail=detail or {},
    )
    last = JournalEntry.objects.order_by("-id").values_list("seal", flat=True).first()
    entry.seal = seal_of(entry, last or "")
    entry.save(force_insert=True)
    return entry


def write_in_each(
    productions: Iterable[int],
    act: str,
    subject: str,
    sentence: str,
    *,
    person: "Person | None",
    origin: str = "",
    detail: dict[str, object] | None = None,
) -> None:
    """What concerns something that these productions (ids) share: each one's log tells it, and no other's does."""
    each: list[int | None] = [*productions]
    for production in each or [None]:
        write(act, subject, sentence, person=person, origin=origin, production=production, detail=detail)


def seal_of(entry: JournalEntry, previous: str) -> str:
    row = [
        previous,
        entry.at.isoformat(),
        entry.person_id,
        entry.origin,
        entry.production,
        entry.act,
        entry.subject,
        entry.sentence,
    ]
    return hashlib.sha256(json.dumps([*row, entry.detail], sort_keys=True).encode()).hexdigest()


@dataclass(frozen=True)
class BrokenSeal:
    """The first row whose seal does not follow from it and the row before."""

    entry_id: int


def find_broken_seal() -> BrokenSeal | None:
    previous = ""
    for entry in JournalEntry.objects.order_by("id").iterator():
        if entry.seal != seal_of(entry, previous):
            return BrokenSeal(entry.id)
        previous = entry.seal
    return None
