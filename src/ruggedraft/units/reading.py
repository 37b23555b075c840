"""Reading what a unit handed in: nothing of it is believed before all of it was proven."""

import hashlib
import hmac
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.models import JournalEntry
from ruggedraft.journal.writing import seal_of
from ruggedraft.productions.models import Production, UnitAway

from .lines import LINE, VERSION, EndLine, EntryLine, HeadLine
from .models import UnitEntry
from .queries import secret_of

MOST_BYTES = 400_000_000
_NEWER = "This file is of a newer version than this ledger reads: bring this one up to date."
_Kind = TypeVar("_Kind", bound=BaseModel)


@dataclass
class HandedIn:
    """unit: whose it is. digest: SHA-256 of the file"""

    unit: UnitAway
    head: HeadLine
    digest: str
    lines: dict[type[BaseModel], list[BaseModel]] = field(default_factory=lambda: defaultdict(list))

    def of(self, kind: type[_Kind]) -> Sequence[_Kind]:
        """Its lines of a kind, in the order of the file."""
        return [one for one in self.lines.get(kind, ()) if isinstance(one, kind)]


def read_handed_in(production: Production, data: bytes) -> HandedIn:
    """Raises ActRefused with what is wrong: it is cut off, changed, of another production, unit or version."""
    if len(data) > MOST_BYTES:
        raise ActRefused(f"This file has more than {MOST_BYTES:,} bytes: no more are taken in.")
    rows = data.split(b"\n")
    if len(rows) < 3 or rows[-1]:
        raise ActRefused("This is no whole file of a unit: it is cut off. Export it again.")
    head, end = _line(rows[0], 1), _line(rows[-2], len(rows) - 1)
    if not isinstance(head, HeadLine):
        raise ActRefused("This is no file of a unit: it does not begin like one.")
    unit = _unit(production, head)
    body = data[: -len(rows[-2]) - 1]
    _prove(end, body, len(rows) - 2, unit)
    found = HandedIn(unit, head, hashlib.sha256(data).hexdigest())
    for number, row in enumerate(rows[1:-2], 2):
        line = _line(row, number)
        found.lines[type(line)].append(line)
    _refuse_another_journal(unit, found.of(EntryLine))
    return found


def _line(row: bytes, number: int) -> BaseModel:
    try:
        return LINE.validate_json(row)
    except ValidationError as error:
        if number == 1 and b'"version":' in row and f'"version":{VERSION}'.encode() not in row:
            raise ActRefused(
                "This file is of a newer version than this ledger reads: bring this one up to date."
            ) from error
        raise ActRefused(f"Line {number} of this file is none that a unit writes. Nothing was taken in.") from error


def _unit(production: Production, head: HeadLine) -> UnitAway:
    if head.version != VERSION:
        raise ActRefused(_NEWER)
    if head.production != production.uuid:
        raise ActRefused(f"This file is of the production {head.production_name}, and not of {production.name}.")
    unit = UnitAway.objects.filter(production=production, uuid=head.unit, here=False).first()
    if unit is None:
        raise ActRefused(f"No unit that was sent out here is called {head.unit_name}: this file is of another.")
    return unit


def _prove(end: BaseModel, body: bytes, lines: int, unit: UnitAway) -> None:
    if not isinstance(end, EndLine):
        raise ActRefused("This is no whole file of a unit: its end is missing. Export it again.")
    if end.sha256 != hashlib.sha256(body).hexdigest() or end.lines != lines:
        raise ActRefused("This file was changed or damaged on its way: its checksum does not agree. Export it again.")
    seal = hmac.new(secret_of(unit), body, "sha256").hexdigest()
    if not hmac.compare_digest(seal, end.hmac):
        raise ActRefused(f"Unit {unit.name} did not write this file: its seal is not the unit's.")


def _refuse_another_journal(unit: UnitAway, entries: Sequence[EntryLine]) -> None:
    """Raises ActRefused unless the unit's journal is sealed row by row, and goes on from what it handed in before.

    A ledger that was put back to an earlier state gives its ids anew: nothing of it could be told apart any more.
    """
    known = dict(UnitEntry.objects.filter(unit=unit).values_list("number", "row__seal"))
    seals = {one.id: one.seal for one in entries}
    changed = min((number for number, seal in known.items() if seals.get(number) != seal), default=None)
    if changed is not None:
        raise ActRefused(
            f"Unit {unit.name} handed in another journal before: entry {changed} is not the same. Its ledger was put "
            "back to an earlier state, or somebody rewrote it. Nothing was taken in: send it out as a new unit."
        )
    broken = _broken(entries)
    if broken is not None:
        raise ActRefused(
            f"Entry {broken} of the journal of unit {unit.name} is not as it was written. Nothing was taken in."
        )


def _broken(entries: Sequence[EntryLine]) -> int | None:
    """Of the rows that are there in full, the first that its seal does not follow from, and the one before."""
    previous = ""
    for one in entries:
        if one.at is not None and one.seal != seal_of(as_entry(one), previous):
            return one.id
        previous = one.seal
    return None


def as_entry(line: EntryLine) -> JournalEntry:
    """As its seal was made over it; it is no row of this ledger."""
    return JournalEntry(
        at=datetime.fromisoformat(line.at or ""), person_id=line.person, origin=line.origin,
        production=line.production, act=line.act, subject=line.subject, sentence=line.sentence, detail=line.detail,
    )  # fmt: skip
