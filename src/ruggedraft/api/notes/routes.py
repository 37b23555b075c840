"""Notes: what people write down, and see wherever the thing is seen."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.crew.models import Person
from ruggedraft.live.snapshot import one_moment
from ruggedraft.notes.acts.write_note import withdraw_note, write_note
from ruggedraft.notes.models import Note, NoteOn
from ruggedraft.notes.queries import is_for, notes_of
from ruggedraft.productions.queries import production_named

from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["notes"])


class NoteOut(BaseModel):
    """on, name: what it is about. clip: path of the file of a roll, else empty.

    mine: you wrote it. for_me: it names you
    """

    id: int
    on: NoteOn
    name: str
    clip: str
    words: str
    by: str
    at: datetime
    mine: bool
    for_me: bool

    @classmethod
    def of(cls, note: Note, me: Person) -> "NoteOut":
        return cls(
            id=note.pk, on=NoteOn(note.on), name=note.name, clip=note.clip.path if note.clip else "",
            words=note.words, by=note.by.shown_name, at=note.at, mine=note.by_id == me.pk, for_me=is_for(note, me),
        )  # fmt: skip


class NoteIn(BaseModel):
    """name: a tag, a label, a store's name, or a day as YYYY-MM-DD. clip: path of a file of the roll"""

    on: NoteOn
    name: str
    words: str
    clip: str = ""


@router.get("", response=list[NoteOut])
@one_moment()
def notes(request: HttpRequest, production: Path[str]) -> list[NoteOut]:
    """The last 500 that are shown, newest first."""
    me = who(request)
    return [NoteOut.of(note, me) for note in notes_of(production_named(production))]


@router.post("", response={200: Done, **REFUSED})
def note(request: HttpRequest, production: Path[str], given: NoteIn) -> Done:
    """Write something down about a roll, a clip, a card, a store or a day."""
    write_note(who(request), production_named(production), given.on, given.name, given.words, clip=given.clip)
    return Done()


@router.delete("/{note_id}", response={200: Done, **REFUSED})
def withdraw(request: HttpRequest, production: Path[str], note_id: int) -> Done:
    withdraw_note(who(request), production_named(production), note_id)
    return Done()
