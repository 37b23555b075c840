"""What people of a unit said and signed: holds, notes, clearances, and their journal."""

import base64

from ruggedraft.clearing.models import ClearedElsewhere, Hold
from ruggedraft.notes.models import Note, NoteOn

from .known import Known
from .lines import (
    ClearedLine,
    EntryLine,
    HoldLine,
    NoteLine,
)
from .models import UnitEntry


class Words:
    """A hold of theirs holds here; a clearance of theirs clears nothing here, and says that its card may be erased."""

    def __init__(self, known: Known) -> None:
        self._known = known

    def take_in(self) -> None:
        """After the rolls that they are about."""
        self._words()
        self._cleared()
        self._entries()

    def _words(self) -> None:
        for hold in self._known.said.of(HoldLine):
            roll, person = self._known.ours("roll", hold.roll), self._known.ours("person", hold.person)
            if self._known.ours("hold", hold.id) is None and roll is not None and person is not None:
                made = Hold.objects.create(roll_id=roll, reason=hold.reason, placed_at=hold.at, placed_by_id=person)
                self._known.note("hold", hold.id, made.pk)
        for note in self._known.said.of(NoteLine):
            roll, person = self._known.ours("roll", note.roll), self._known.ours("person", note.person)
            if self._known.ours("note", note.id) is None and roll is not None and person is not None:
                said = Note.objects.create(
                    production=self._known.production, on=NoteOn.ROLL, roll_id=roll, words=note.words, by_id=person,
                    at=note.at,
                )  # fmt: skip
                self._known.note("note", note.id, said.pk)

    def _cleared(self) -> None:
        for one in self._known.said.of(ClearedLine):
            rolls = [roll for roll in (self._known.ours("roll", theirs) for theirs in one.rolls) if roll is not None]
            known = self._known.ours("cleared", one.id)
            if known is not None:
                ClearedElsewhere.objects.filter(pk=known).update(revoked=one.revoked)
                continue
            if not rolls:
                continue
            made = ClearedElsewhere.objects.create(
                unit=self._known.unit.name, card=one.card, at=one.at, evidence=one.evidence,
                files=base64.b64decode(one.files) or None, revoked=one.revoked,
            )  # fmt: skip
            made.rolls.set(rolls)
            self._known.note("cleared", one.id, made.pk)

    def _entries(self) -> None:
        """Those that are new; that they go on from those before was proven."""
        known = set(UnitEntry.objects.filter(unit=self._known.unit).values_list("number", flat=True))
        lines = self._known.said.of(EntryLine)
        UnitEntry.objects.bulk_create(
            (
                UnitEntry(unit=self._known.unit, number=one.id, row=one.model_dump(mode="json"))
                for one in lines
                if one.id not in known
            ),
            batch_size=2000,
        )
