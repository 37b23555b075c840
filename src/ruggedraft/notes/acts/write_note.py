from datetime import date

from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.finding import mentioned
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.crew.queries import people_of
from ruggedraft.intake.queries import card_named
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.rolls.queries import roll_named
from ruggedraft.stores.queries import store_in

from ..models import Note, NoteOn

_LONGEST = 2000


@transaction.atomic
def write_note(person: Person, production: Production, on: NoteOn, name: str, words: str, *, clip: str = "") -> Note:
    """Write something down about a roll, one of its clips, a card, a store or a day.

    name: of what it is about: a tag, a label, a store's name, or the day as YYYY-MM-DD
    clip: path of the file of the roll, in the ledger's form; empty: about all of it
    Raises ActRefused without words, NotThere for what is not there.
    """
    require(person, May.NOTE, production.pk)
    words = words.strip()
    if not words:
        raise ActRefused("A note needs a few words.")
    if len(words) > _LONGEST:
        raise ActRefused(f"A note has at most {_LONGEST:,} signs: this one has {len(words):,}. Nothing was kept.")
    note = Note(production=production, on=on, words=words, by=person, at=now())
    _say_on_what(note, name, clip)
    note.save()
    people = {one.username: one for one in people_of(production.pk) if one.is_active}
    note.mentions.set([people[one] for one in mentioned(words, people)])
    about = f"{note.name}, {note.clip.path}" if note.clip else note.name
    write("note", note.name, f"On {on.label} {about}: {words}", person=person, production=production.pk)
    changed(Topic.NOTES, production=production.pk)
    return note


@transaction.atomic
def withdraw_note(person: Person, production: Production, note_id: int) -> None:
    """Show a note no more; whoever wrote it may, and whoever may change the set-up. The journal keeps its words."""
    note = Note.objects.select_for_update(no_key=True, of=("self",)).filter(pk=note_id, production=production).first()
    if note is None:
        raise NotThere("There is no such note.")
    require(person, May.NOTE if note.by_id == person.pk else May.SET_UP, production.pk)
    if note.withdrawn_at:
        return
    note.withdrawn_at, note.withdrawn_by = now(), person
    note.save(update_fields=["withdrawn_at", "withdrawn_by"])
    write("withdraw note", note.name, f"A note on {note.name} was withdrawn: {note.words}", person=person,
          production=production.pk)  # fmt: skip
    changed(Topic.NOTES, production=production.pk)


def _say_on_what(note: Note, name: str, clip: str) -> None:
    if clip and note.on != NoteOn.ROLL:
        raise ActRefused("Only a roll has clips.")
    if note.on == NoteOn.ROLL:
        note.roll = roll_named(note.production, name)
        note.clip = _clip(note.roll, clip) if clip else None
    elif note.on == NoteOn.CARD:
        note.card = card_named(note.production, name)
    elif note.on == NoteOn.STORE:
        note.store = store_in(note.production.pk, name)
    else:
        note.day = _day(name)


def _clip(roll: Roll, path: str) -> RollFile:
    found = RollFile.objects.filter(roll=roll, path=path).first()
    if found is None:
        raise NotThere(f"There is no file {path} in {roll.tag}.")
    return found


def _day(name: str) -> date:
    try:
        return date.fromisoformat(name)
    except ValueError as error:
        raise ActRefused(f"'{name}' is no day: say it as 2026-05-14.") from error
