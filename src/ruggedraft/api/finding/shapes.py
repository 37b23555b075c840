"""What one box finds."""

from datetime import date, datetime

from pydantic import BaseModel

from ruggedraft.clearing.tally import Sought
from ruggedraft.core.choosing import MarkKind
from ruggedraft.finding.queries import FilePlace, Found, FoundFile
from ruggedraft.finding.said import Said, SaidIn
from ruggedraft.notes.models import NoteOn

from ..cards.shapes import FoundThingOut
from ..footage.shapes import RollClip
from ..keywords.shapes import SaidOfOut


class FindIn(BaseModel):
    """text: words, all of which must stand in what is found; in quotation marks several as one. At most 200 signs

    The rest narrows files: day of shooting, camera by its letter, a store on which a copy of the roll was read or never
    was. Left out: any
    """

    text: str = ""
    day: date | None = None
    camera: str = ""
    on: str = ""
    not_on: str = ""

    def as_sought(self) -> Sought:
        return Sought(day=self.day, camera=self.camera, on=self.on, not_on=self.not_on)


class SaidOut(BaseModel):
    """Something that was said. mark: of a mark, its kind. on, name: what it is about; of a report, the roll as it says

    clip: path of the roll's file, or as the report calls it; empty: all of it. timecode: where in it, or empty
    by: who said it; of a report, its file
    """

    where: SaidIn
    words: str
    mark: MarkKind | None
    on: NoteOn
    name: str
    clip: str
    timecode: str
    by: str
    at: datetime

    @classmethod
    def of(cls, one: Said) -> "SaidOut":
        return cls(
            where=one.where, words=one.words, mark=one.mark, on=one.on, name=one.name, clip=one.clip,
            timecode=one.timecode, by=one.by, at=one.at,
        )  # fmt: skip


class FilePlaceOut(BaseModel):
    """A store that is known to hold a file. path: in the store's folder. where: the store, in words, as noted `since`

    connected: a station sees the store now
    """

    store: str
    path: str
    where: str
    since: datetime | None
    connected: bool
    lost: bool

    @classmethod
    def of(cls, one: FilePlace) -> "FilePlaceOut":
        return cls(
            store=one.store, path=one.path, where=one.where, since=one.since, connected=one.connected, lost=one.lost
        )


class FoundFileOut(BaseModel):
    """A file, as a clip of its roll. places: the easiest to get to first. unread: it was never read off its card

    to_look_at: it is the main file of a clip, so that it can be opened. said: null where nothing ever was
    """

    tag: str
    day: date
    kept_as: str
    clip: RollClip
    places: list[FilePlaceOut]
    unread: bool
    to_look_at: bool
    said: SaidOfOut | None

    @classmethod
    def of(cls, one: FoundFile) -> "FoundFileOut":
        file = one.seen.file
        return cls(
            tag=file.roll.tag, day=file.roll.shoot_day, kept_as=file.kept_as, clip=RollClip.of(one.seen),
            places=[FilePlaceOut.of(place) for place in one.places], unread=one.unread,
            to_look_at=file.is_clip or bool(one.seen.pictures), said=SaidOfOut.of(one.said) if one.said else None,
        )  # fmt: skip


class FoundOut(BaseModel):
    """things, said: with the first page alone. said_more: there is more of what was said

    files: newest roll first, a page of them; after: hand this in to get the next, null on the last page
    files_in_all: so many are shown, page by page. files_more: further ones fit, and these are any thousand of them
    gave_up: the database took too long to look for files
    """

    things: list[FoundThingOut]
    said: list[SaidOut]
    said_more: bool
    files: list[FoundFileOut]
    after: str | None
    files_in_all: int
    files_more: bool
    gave_up: bool

    @classmethod
    def of(cls, found: Found) -> "FoundOut":
        return cls(
            things=[FoundThingOut.of(one) for one in found.things], said=[SaidOut.of(one) for one in found.said],
            said_more=found.said_more, files=[FoundFileOut.of(one) for one in found.files], after=found.after,
            files_in_all=found.files_in_all, files_more=found.files_more, gave_up=found.gave_up,
        )  # fmt: skip
