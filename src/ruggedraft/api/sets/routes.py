"""Sets for discs and tapes: divided, their folders made, where each medium is kept."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.core.labels import SHEETS, sheet_named
from ruggedraft.core.sets import MEDIA, custom_medium, medium_named
from ruggedraft.kit.stations import station_named
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.reports.documents.labels import label_sheets
from ruggedraft.reports.set_labels import set_labels
from ruggedraft.sets.acts.divide_rolls import divide_rolls
from ruggedraft.sets.acts.make_folder import make_folder, say_shelf
from ruggedraft.sets.acts.take_medium_in import take_medium_in
from ruggedraft.sets.index import set_index
from ruggedraft.sets.models import MediaSet
from ruggedraft.sets.queries import VolumeTold, set_numbered, sets_of, volume_numbered

from ..answers import described_as, sent
from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["sets"])


class OnVolumeOut(BaseModel):
    """files: so many of the roll"""

    tag: str
    files: int


class VolumeOfSetOut(BaseModel):
    """takes: bytes of the medium, of as many as it has room for. closed_at: since when it gets nothing more"""

    number: int
    name: str
    files: int
    bytes: int
    takes: int
    room: int
    rolls: list[OnVolumeOut]
    closed_at: datetime | None
    shelf: str

    @classmethod
    def of(cls, one: VolumeTold) -> "VolumeOfSetOut":
        rolls = [OnVolumeOut(tag=tag, files=files) for tag, files in one.rolls]
        return cls(
            number=one.row.number, name=one.row.name, files=one.files, bytes=one.bytes, takes=one.takes, room=one.room,
            rolls=rolls, closed_at=one.row.closed_at, shelf=one.row.shelf,
        )  # fmt: skip


class MediaSetOut(BaseModel):
    number: int
    name: str
    medium: str
    by: str
    at: datetime
    volumes: list[VolumeOfSetOut]

    @classmethod
    def of(cls, one: MediaSet, volumes: list[VolumeTold]) -> "MediaSetOut":
        return cls(
            number=one.number, name=one.name, medium=one.medium, by=one.by.shown_name, at=one.at,
            volumes=[VolumeOfSetOut.of(volume) for volume in volumes],
        )  # fmt: skip


class SetsOut(BaseModel):
    """media: by name, those that are known"""

    media: list[str]
    sets: list[MediaSetOut]


class DivideIn(BaseModel):
    """medium: by name; or capacity: bytes of another, and whether it is a tape. into: number of a set that they join"""

    tags: list[str]
    medium: str = ""
    capacity: int = 0
    tape: bool = False
    into: int = 0


class VolumeFolderIn(BaseModel):
    station: str
    folder: str
    system_disk_reason: str = ""


class ReturnedIn(BaseModel):
    """folder: where it is mounted. place: where it is kept"""

    station: str
    folder: str
    place: str


class ShelfIn(BaseModel):
    shelf: str


@router.get("", response=SetsOut)
@asked_together
@one_moment()
def sets(request: HttpRequest, production: Path[str]) -> SetsOut:
    """Newest first."""
    told = sets_of(production_named(production))
    return SetsOut(media=[one.name for one in MEDIA], sets=[MediaSetOut.of(one, volumes) for one, volumes in told])


@router.post("", response={200: Done, **REFUSED})
def divide(request: HttpRequest, production: Path[str], given: DivideIn) -> Done:
    """Divide rolls among media; a set that they join keeps what it has where it is."""
    medium = medium_named(given.medium) if given.medium else custom_medium(given.capacity, tape=given.tape)
    divide_rolls(who(request), production_named(production), given.tags, medium, tape=given.tape, into=given.into)
    return Done()


@router.post("/{int:number}/volumes/{int:volume}/folder", response={200: Done, **REFUSED})
def folder(request: HttpRequest, production: Path[str], number: int, volume: int, given: VolumeFolderIn) -> Done:
    """Have what goes onto a medium brought to a folder, read back; the medium gets nothing more."""
    make_folder(
        who(request), volume_numbered(production_named(production), number, volume), station_named(given.station),
        given.folder, system_disk_reason=given.system_disk_reason,
    )  # fmt: skip
    return Done()


@router.put("/{int:number}/volumes/{int:volume}/shelf", response={200: Done, **REFUSED})
def shelf(request: HttpRequest, production: Path[str], number: int, volume: int, given: ShelfIn) -> Done:
    """Where a medium is kept."""
    say_shelf(who(request), volume_numbered(production_named(production), number, volume), given.shelf)
    return Done()


@router.post("/returned", response={200: Done, **REFUSED})
def returned(request: HttpRequest, production: Path[str], given: ReturnedIn) -> Done:
    """A medium is in a reader of this machine: its rolls are read, and count then."""
    take_medium_in(
        who(request), production_named(production).pk, given.folder, given.place, station_named(given.station)
    )
    return Done()


@router.get("/{int:number}/index.csv", openapi_extra=described_as("text/csv"), response={**REFUSED})
@one_moment()
def index(request: HttpRequest, production: Path[str], number: int) -> HttpResponse:
    """Every file, and the medium that it goes onto."""
    one = set_numbered(production_named(production), number)
    return sent(set_index(one), "text/csv; charset=utf-8", f"{one.name}.csv")


@router.get("/{int:number}/labels.pdf", openapi_extra=described_as("application/pdf"), response={**REFUSED})
def labels(
    request: HttpRequest, production: Path[str], number: int, sheet: str = SHEETS[0].name, first: int = 1
) -> HttpResponse:
    """A label for each medium. first: the first free one of a sheet."""
    one = set_numbered(production_named(production), number)
    made = set_labels(one, request.build_absolute_uri("/").rstrip("/"))
    return sent(label_sheets(made, sheet_named(sheet), first), "application/pdf", f"{one.name}-labels.pdf", "inline")
