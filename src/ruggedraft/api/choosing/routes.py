"""What people say of the clips of a roll, which ones to open, and whether they decode."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router
from pydantic import BaseModel

from ruggedraft.choosing.acts.mark_clip import mark_clip, take_mark_back
from ruggedraft.choosing.acts.waive_my_drops import waive_my_drops
from ruggedraft.choosing.models import Mark
from ruggedraft.choosing.queries import Against, Choosing, Spot, against_giving_back, choosing_in
from ruggedraft.core.choosing import Choice, MarkKind, Why
from ruggedraft.intake.queries import card_of
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.pictures.acts.ask_decoding import ask_decoding
from ruggedraft.pictures.queries import Decoding
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.queries import roll_named

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who

router = Router(tags=["choosing"])


class MarkOut(BaseModel):
    """What somebody says of a clip. path: of its main file. timecode: where in it; empty: all of it

    username: of whoever says it; by: the same, as people call them
    """

    id: int
    path: str
    kind: MarkKind
    words: str
    timecode: str
    username: str
    by: str
    at: datetime

    @classmethod
    def of(cls, mark: Mark) -> "MarkOut":
        return cls(
            id=mark.pk, path=mark.file.path, kind=MarkKind(mark.kind), words=mark.words, timecode=mark.timecode,
            username=mark.by.username, by=mark.by.shown_name, at=mark.at,
        )  # fmt: skip


class SpotOut(BaseModel):
    """A clip worth opening, and why. opened: somebody did"""

    path: str
    why: list[Why]
    opened: bool

    @classmethod
    def of(cls, spot: Spot) -> "SpotOut":
        return cls(path=spot.path, why=list(spot.why), opened=spot.opened)


class DecodingOut(BaseModel):
    """How far the recordings of a roll were decoded since somebody asked. left: of them; breaking: so many break

    unknown: so many could not be decoded here, which says nothing against them
    """

    by: str
    at: datetime
    recordings: int
    left: int
    breaking: int
    unknown: int

    @classmethod
    def of(cls, found: Decoding) -> "DecodingOut":
        return cls(
            by=found.asked.by.shown_name, at=found.asked.at, recordings=found.recordings, left=found.left,
            breaking=found.breaking, unknown=found.unknown,
        )  # fmt: skip


class ChosenOut(BaseModel):
    """What choosing comes to. Paths of clips' main files; of those kept and undecided, how many there are

    dropped: and not waived yet, so that they are copied like the others. contested: one keeps what another drops
    waived: dropped, and needs no copies any more. regretted: waived, and somebody keeps it
    """

    kept: int
    undecided: int
    dropped: list[str]
    contested: list[str]
    waived: list[str]
    regretted: list[str]

    @classmethod
    def of(cls, one: Choice) -> "ChosenOut":
        return cls(
            kept=len(one.kept), undecided=len(one.undecided), dropped=list(one.dropped), contested=list(one.contested),
            waived=list(one.waived), regretted=list(one.regretted),
        )  # fmt: skip


class WaiveMineIn(BaseModel):
    """seen: the clips that you were shown as dropped by you. though_delivered: even if the roll was delivered"""

    seen: list[str]
    though_delivered: bool = False


class ChoosingOut(BaseModel):
    """contested: paths of clips that one keeps and another drops. decoding: null where nobody asked"""

    choice: ChosenOut
    marks: list[MarkOut]
    contested: list[str]
    spots: list[SpotOut]
    decoding: DecodingOut | None

    @classmethod
    def of(cls, found: Choosing) -> "ChoosingOut":
        return cls(
            choice=ChosenOut.of(found.choice),
            marks=[MarkOut.of(one) for one in found.marks],
            contested=list(found.contested),
            spots=[SpotOut.of(one) for one in found.spots],
            decoding=DecodingOut.of(found.decoding) if found.decoding else None,
        )


class AgainstOut(BaseModel):
    """What was said of the clips of a roll that speaks against giving its card back; by paths of clips.

    trouble: marked. contested: one keeps and another drops. breaking: the decoder complains
    unknown: decoding did not tell whether they decode
    undecoded: so many recordings were to be decoded, and are not yet. No verdict rests on it
    """

    tag: str
    trouble: list[str]
    contested: list[str]
    breaking: list[str]
    unknown: list[str]
    undecoded: int

    @classmethod
    def of(cls, found: Against) -> "AgainstOut":
        return cls(
            tag=found.tag, trouble=list(found.trouble), contested=list(found.contested), breaking=list(found.breaking),
            unknown=list(found.unknown), undecoded=found.undecoded,
        )  # fmt: skip


class MarkIn(BaseModel):
    """path: of the clip's main file. timecode: where in it, as HH:MM:SS:FF; empty: all of it"""

    path: str
    kind: MarkKind
    words: str = ""
    timecode: str = ""


@router.get("/rolls/{tag}", response=ChoosingOut)
@asked_together
@one_moment()
def choosing(request: HttpRequest, production: Path[str], tag: str) -> HttpResponse:
    """What was said of the clips of a roll, and which ones to open."""
    return written(ChoosingOut.of(choosing_in(roll_named(production_named(production), tag))))


@router.get("/cards/{card_id}", response=list[AgainstOut])
@one_moment()
def against(request: HttpRequest, production: Path[str], card_id: int) -> list[AgainstOut]:
    """What speaks against giving a card back besides its copies; empty where nothing does."""
    card = card_of(production_named(production), card_id)
    return [AgainstOut.of(one) for one in against_giving_back(card)]


@router.post("/rolls/{tag}/marks", response={200: Done, **REFUSED})
def mark(request: HttpRequest, production: Path[str], tag: str, given: MarkIn) -> Done:
    """Say something of a clip."""
    roll = roll_named(production_named(production), tag)
    mark_clip(who(request), roll, given.path, given.kind, words=given.words, timecode=given.timecode)
    return Done()


@router.delete("/marks/{mark_id}", response={200: Done, **REFUSED})
def take_back(request: HttpRequest, production: Path[str], mark_id: int) -> Done:
    take_mark_back(who(request), production_named(production), mark_id)
    return Done()


@router.post("/rolls/{tag}/waivers", response={200: Done, **REFUSED})
def waive_mine(request: HttpRequest, production: Path[str], tag: str, given: WaiveMineIn) -> Done:
    """Waive what you dropped of a roll, in your name: it needs no copies any more."""
    roll = roll_named(production_named(production), tag)
    waive_my_drops(who(request), roll, seen=given.seen, though_delivered=given.though_delivered)
    return Done()


@router.post("/rolls/{tag}/decoding", response={200: Done, **REFUSED})
def decoding(request: HttpRequest, production: Path[str], tag: str) -> Done:
    """Have every frame of a roll's recordings decoded."""
    ask_decoding(who(request), roll_named(production_named(production), tag))
    return Done()
