"""Cards in readers: what is on them, and which cards they are."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.clearing.contents import contents_of
from ruggedraft.intake.acts.ask_comparison import ask_comparison
from ruggedraft.intake.acts.ask_reading import ask_reading
from ruggedraft.intake.acts.ask_release import ask_release
from ruggedraft.intake.acts.introduce_card import introduce_card
from ruggedraft.intake.acts.name_reader import name_reader
from ruggedraft.intake.acts.recognise_card import recognise_card
from ruggedraft.intake.acts.say_folder import say_folder
from ruggedraft.intake.acts.say_not_ours import say_not_ours, say_ours_after_all
from ruggedraft.intake.acts.set_unattended import set_unattended
from ruggedraft.intake.acts.use_whole_card import use_whole_card
from ruggedraft.intake.clock import moved_by
from ruggedraft.intake.errands import send
from ruggedraft.intake.queries import card_of, insertion_in, reader_with, readers_there
from ruggedraft.kit.stations import station_named
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.acts.set_clock import checked, set_clock
from ruggedraft.productions.queries import camera_of, plan_named, production_named

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who
from .shapes import (
    ClipsOut,
    ClockIn,
    ContentsOut,
    FolderIn,
    IntroduceIn,
    MovedCardOut,
    NameIn,
    ReaderOut,
    RecogniseIn,
    UnattendedIn,
    clips_out,
    contents_out,
)

router = Router(tags=["intake"])


@router.get("/insertions/{insertion_id}/contents", response=ContentsOut | None)
@asked_together
@one_moment()
def contents(request: HttpRequest, production: Path[str], insertion_id: int) -> HttpResponse:
    """Null before the card has been listed."""
    found = contents_of(insertion_in(production_named(production), insertion_id))
    if found is None:
        return HttpResponse("null", content_type="application/json")
    return written(contents_out(found))


@router.get("/insertions/{insertion_id}/clips", response=ClipsOut | None)
@asked_together
@one_moment()
def clips(request: HttpRequest, production: Path[str], insertion_id: int) -> HttpResponse:
    """Every clip of a card; null before it has been listed."""
    found = contents_of(insertion_in(production_named(production), insertion_id))
    if found is None:
        return HttpResponse("null", content_type="application/json")
    return written(clips_out(found, found.described.clips))


@router.post("/cards/{card_id}/compare", response={200: Done, **REFUSED})
def compare(request: HttpRequest, production: Path[str], card_id: int) -> Done:
    ask_comparison(who(request), card_of(production_named(production), card_id))
    return Done()


@router.post("/insertions/{insertion_id}/recognise", response={200: Done, **REFUSED})
def recognise(request: HttpRequest, production: Path[str], insertion_id: int, given: RecogniseIn) -> Done:
    recognise_card(who(request), insertion_in(production_named(production), insertion_id), given.label)
    return Done()


@router.post("/insertions/{insertion_id}/not-ours", response={200: Done, **REFUSED})
def not_ours(request: HttpRequest, production: Path[str], insertion_id: int) -> Done:
    say_not_ours(who(request), insertion_in(production_named(production), insertion_id))
    return Done()


@router.delete("/insertions/{insertion_id}/not-ours", response={200: Done, **REFUSED})
def ours_after_all(request: HttpRequest, production: Path[str], insertion_id: int) -> Done:
    say_ours_after_all(who(request), insertion_in(production_named(production), insertion_id))
    return Done()


@router.post("/insertions/{insertion_id}/whole", response={200: Done, **REFUSED})
def whole(request: HttpRequest, production: Path[str], insertion_id: int) -> Done:
    use_whole_card(who(request), insertion_in(production_named(production), insertion_id))
    return Done()


@router.post("/cameras/{letter}/clock", response={200: Done, **REFUSED})
def clock(request: HttpRequest, production: Path[str], letter: str, given: ClockIn) -> Done:
    set_clock(who(request), camera_of(production_named(production), letter), given.as_span())
    return Done()


@router.post("/cameras/{letter}/clock/moves", response={200: list[MovedCardOut], **REFUSED})
def clock_moves(request: HttpRequest, production: Path[str], letter: str, given: ClockIn) -> list[MovedCardOut]:
    """What setting the clock so would move; nothing is changed."""
    camera = camera_of(production_named(production), letter)
    return [MovedCardOut.of(card) for card in moved_by(camera, checked(given.as_span()))]


@router.post("/cards/{card_id}/read", response={200: Done, **REFUSED})
def read(request: HttpRequest, production: Path[str], card_id: int) -> Done:
    ask_reading(who(request), card_of(production_named(production), card_id))
    return Done()


@router.post("/cards/{card_id}/release", response={200: Done, **REFUSED})
def let_it_go(request: HttpRequest, production: Path[str], card_id: int) -> Done:
    """Have the reader let go of the card as soon as nothing reads it."""
    ask_release(who(request), card_of(production_named(production), card_id))
    return Done()


@router.post("/insertions/{insertion_id}/introduce", response={200: Done, **REFUSED})
def introduce(request: HttpRequest, production: Path[str], insertion_id: int, given: IntroduceIn) -> Done:
    camera = camera_of(production_named(production), given.camera)
    stay = insertion_in(production_named(production), insertion_id)
    introduce_card(who(request), stay, label=given.label, camera=camera, is_another=given.is_another)
    return Done()


@router.post("/readers/{reader_id}/unattended", response={200: Done, **REFUSED})
def unattended(request: HttpRequest, production: Path[str], reader_id: int, given: UnattendedIn) -> Done:
    plan = plan_named(production_named(production), given.plan) if given.plan else None
    set_unattended(who(request), reader_with(reader_id), on=given.on, plan=plan)
    return Done()


@router.get("/readers", response=list[ReaderOut])
def readers(request: HttpRequest, production: Path[str]) -> list[ReaderOut]:
    """Every reader that a station sees now."""
    return [ReaderOut.of(known) for known in readers_there()]


@router.put("/readers/{reader_id}/name", response={200: Done, **REFUSED})
def name(request: HttpRequest, production: Path[str], reader_id: int, given: NameIn) -> Done:
    name_reader(who(request), reader_with(reader_id), given.name)
    return Done()


@router.put("/folders", response={200: Done, **REFUSED})
def folder(request: HttpRequest, production: Path[str], given: FolderIn) -> Done:
    """Say of a folder that it is a reader, for the one card it holds, or that it is none any more."""
    station = station_named(given.station) if given.station else None
    said = given.model_dump(exclude={"station"})
    if station and station.role:
        send(who(request), station, "say folder", **said)
    else:
        say_folder(who(request), **said)
    return Done()
