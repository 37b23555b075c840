"""What is on the card in a reader: layouts, clips, findings, what is held of it, and pictures to look at."""

from datetime import UTC

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.clearing.contents import CardContents, contents_of
from ruggedraft.core.cards import Companion, Finding, Holding, Role
from ruggedraft.core.cards.describe import contents as counts_of
from ruggedraft.core.sources import to_ledger
from ruggedraft.intake.acts.ask_comparison import ask_comparison
from ruggedraft.intake.acts.recognise_card import recognise_card
from ruggedraft.intake.acts.use_whole_card import use_whole_card
from ruggedraft.intake.models import Card, EntryMedia, Insertion
from ruggedraft.productions.acts.set_clock import set_clock
from ruggedraft.productions.models import Camera

from .current import production
from .shapes import Done, Problem

router = Router(tags=["bench"])
REFUSED = {403: Problem, 409: Problem}
_MOST_PATHS = 50


class CardFindingOut(Schema):
    """grave: it asks whether the card is whole. paths: the first of what it is about, `paths_in_all` of them."""

    kind: str
    sentence: str
    grave: bool
    paths: list[str]
    paths_in_all: int

    @staticmethod
    def of(finding: Finding) -> "CardFindingOut":
        paths = [to_ledger(path) for path in finding.paths[:_MOST_PATHS]]
        return CardFindingOut(
            kind=finding.kind, sentence=finding.sentence + ".", grave=finding.grave, paths=paths,
            paths_in_all=len(finding.paths),
        )  # fmt: skip


class CountsOut(Schema):
    """Clips of each kind; sidecars and other: files. The rest are files by what is held of them."""

    stills: int
    video: int
    sound: int
    sidecars: int
    other: int
    held: int
    new: int
    changed: int
    left: int
    alike: int
    unsure: int


class CompanionOut(Schema):
    roll: str
    pairs: int
    clips: int

    @staticmethod
    def of(found: Companion) -> "CompanionOut":
        return CompanionOut(roll=found.roll, pairs=found.pairs, clips=found.clips)


class ClipsOut(Schema):
    """The clips in shooting order, by columns.

    starts: seconds since 1970-01-01 UTC, the camera's clock offset taken off. lengths: seconds
    files: how many each is; chapters: how many of them are the recording itself
    rolls: the roll it was found in
    odd: the finding it is in, or -1. previews: an id for `/previews/ID`, 0 where there is none
    words: size, rate, codec, timecode as far as known
    """

    paths: list[str]
    names: list[str]
    kinds: list[str]
    bodies: list[str]
    starts: list[float]
    lengths: list[float]
    bytes: list[int]
    files: list[int]
    chapters: list[int]
    holdings: list[Holding]
    rolls: list[str]
    odd: list[int]
    previews: list[int]
    words: list[str]


class ContentsOut(Schema):
    """headers_read: nothing more is to come. compared: files that were read for a comparison by content.

    shifted_s: all times differ by this from those of `shifted_roll`
    gone_roll: the card's last roll, not cleared, of which nothing is on it any more
    """

    layouts: list[str]
    counts: CountsOut
    findings: list[CardFindingOut]
    companion: CompanionOut | None
    shifted_s: int | None
    shifted_roll: str
    gone_roll: str
    headers_read: bool
    compared: int
    clock_ahead_s: int
    clips: ClipsOut


class ClockIn(Schema):
    """ahead_s: seconds by which the camera's clock is ahead of the true time; negative if it is behind."""

    ahead_s: int


class RecogniseIn(Schema):
    label: str


@router.get("/insertions/{insertion_id}/contents", response=ContentsOut | None)
def contents(request: HttpRequest, insertion_id: int) -> HttpResponse:
    """Null before the card has been listed.

    Written as JSON right here: tens of thousands of clips are not to be checked a second time on their way out.
    """
    insertion = get_object_or_404(Insertion.objects.select_related("reader"), pk=insertion_id)
    found = contents_of(insertion)
    if found is None:
        return HttpResponse("null", content_type="application/json")
    camera = found.listing.card.camera if found.listing.card else None
    shaped = ContentsOut(
        layouts=list(dict.fromkeys(layout.name for layout in found.described.layouts)),
        counts=_counts(found),
        findings=[CardFindingOut.of(finding) for finding in found.described.findings],
        companion=CompanionOut.of(found.companion) if found.companion else None,
        shifted_s=found.holdings.shifted_s,
        shifted_roll=found.holdings.shifted_roll,
        gone_roll=found.gone_roll,
        headers_read=found.listing.headers_read_at is not None,
        compared=found.listing.entries.exclude(checksum="").count(),
        clock_ahead_s=camera.clock_ahead_s if camera else 0,
        clips=_clips(found),
    )
    return HttpResponse(shaped.model_dump_json(), content_type="application/json")


_PICTURE = {"responses": {200: {"description": "A picture", "content": {"image/jpeg": {}}}}}


@router.get("/previews/{entry_id}", url_name="preview", openapi_extra=_PICTURE)
def preview(request: HttpRequest, entry_id: int) -> HttpResponse:
    """An embedded preview as JPEG. It never changes: another reading of the card has other ids."""
    found = EntryMedia.objects.filter(entry=entry_id).exclude(preview=None).values_list("preview", flat=True).first()
    if found is None:
        raise Http404
    answer = HttpResponse(bytes(found), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer


@router.post("/cards/{card_id}/compare", response={200: Done, **REFUSED})
def compare(request: HttpRequest, card_id: int) -> Done:
    ask_comparison(request.user, get_object_or_404(Card.objects.select_related("camera__plan"), pk=card_id))
    return Done()


@router.post("/insertions/{insertion_id}/recognise", response={200: Done, **REFUSED})
def recognise(request: HttpRequest, insertion_id: int, given: RecogniseIn) -> Done:
    recognise_card(request.user, get_object_or_404(Insertion, pk=insertion_id), given.label)
    return Done()


@router.post("/insertions/{insertion_id}/whole", response={200: Done, **REFUSED})
def whole(request: HttpRequest, insertion_id: int) -> Done:
    use_whole_card(request.user, get_object_or_404(Insertion, pk=insertion_id))
    return Done()


@router.post("/cameras/{letter}/clock", response={200: Done, **REFUSED})
def clock(request: HttpRequest, letter: str, given: ClockIn) -> Done:
    set_clock(request.user, get_object_or_404(Camera, production=production(), letter=letter), given.ahead_s)
    return Done()


def _counts(found: CardContents) -> CountsOut:
    clips, held = counts_of(found.described), found.counts()
    return CountsOut(
        stills=clips.stills, video=clips.video, sound=clips.sound, sidecars=clips.sidecars, other=clips.other,
        **{str(holding): held[holding] for holding in Holding},
    )  # fmt: skip


def _clips(found: CardContents) -> ClipsOut:
    clips = found.described.clips
    held = [found.of_clip(clip) for clip in clips]
    place = {finding: n for n, finding in enumerate(found.described.findings)}
    odd = found.odd
    return ClipsOut(
        paths=[to_ledger(clip.main.path) for clip in clips],
        names=[to_ledger(clip.name) for clip in clips],
        kinds=[clip.kind for clip in clips],
        bodies=[clip.facts.body if clip.facts else "" for clip in clips],
        starts=[clip.starts.astimezone(UTC).timestamp() if clip.starts else 0.0 for clip in clips],
        lengths=[round(clip.duration_s, 3) for clip in clips],
        bytes=[clip.bytes for clip in clips],
        files=[len(clip.parts) for clip in clips],
        chapters=[1 + len(clip.of_role(Role.PART)) for clip in clips],
        holdings=[one.holding for one in held],
        rolls=[one.roll for one in held],
        odd=[place[odd[clip.main.path]] if clip.main.path in odd else -1 for clip in clips],
        previews=[found.previews.get(clip.main.path, 0) for clip in clips],
        words=[_words(clip) for clip in clips],
    )


def _words(clip) -> str:
    facts = clip.facts
    if facts is None:
        return ""
    size = f"{facts.width} x {facts.height}" if facts.width else ""
    rate = f"{_rate(facts.rate)} fps" if facts.rate else ""
    sound = f"{facts.channels} ch {facts.sample_rate / 1000:g} kHz" if facts.sample_rate and not facts.width else ""
    return ", ".join(word for word in (size, rate, sound, facts.codec, facts.timecode, facts.note) if word)


def _rate(rate: str) -> str:
    above, _, below = rate.partition("/")
    return f"{int(above) / int(below or 1):.5g}"
