"""Clearing: which cards may go back, which may not, and why not? And the line that says what is not safe yet."""

from datetime import UTC
from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.clearing.acts.answer_for_gone import answer_for_gone
from ruggedraft.clearing.acts.give_card import give_card
from ruggedraft.clearing.acts.hand_back import hand_back
from ruggedraft.clearing.acts.holds import lift_hold, place_hold
from ruggedraft.clearing.acts.refuse_to_sign import refuse_to_sign
from ruggedraft.clearing.acts.revoke_clearance import revoke_clearance
from ruggedraft.clearing.acts.set_card_aside import set_card_aside, trust_card, use_card_again
from ruggedraft.clearing.acts.sign_clearance import Signing, look_at_all, sign_clearance
from ruggedraft.clearing.acts.waive_file import waive_file, waive_left_behind, waive_stretch
from ruggedraft.clearing.cases import active_cards, case, cases
from ruggedraft.clearing.clearance_page import clearance_with
from ruggedraft.clearing.page import CardGroup, page_of_cards
from ruggedraft.clearing.queries import called, hold_of
from ruggedraft.clearing.waterline import waterline as current_waterline
from ruggedraft.intake.queries import card_named, card_of
from ruggedraft.journal.clock import now
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import camera_of, production_named
from ruggedraft.rolls.queries import roll_named
from ruggedraft.rolls.summaries import places_of_all

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import session_of, who
from .clearance import ClearanceOut
from .shapes import (
    AsideIn,
    CardLine,
    CaseOut,
    ClearingOut,
    GivenIn,
    GoneIn,
    HandedIn,
    HoldIn,
    HoldOn,
    Reason,
    RefusalIn,
    ScanOut,
    SignatureIn,
    SignedOut,
    TrustIn,
    WaiveIn,
    WaiveLeftIn,
    WaiveStretchIn,
    WaterlineOut,
    case_out,
)

if TYPE_CHECKING:
    from ruggedraft.intake.models import Card
    from ruggedraft.productions.models import Camera, Production
    from ruggedraft.rolls.models import Roll

router = Router(tags=["clearing"])


@router.get("", response=ClearingOut)
@asked_together
@one_moment()
def clearing(request: HttpRequest, production: Path[str], after: str = "") -> HttpResponse:
    places = places_of_all()
    page = page_of_cards(production_named(production), places, after=after)
    cards = [case_out(one, places) for one in page.cards]
    counts = {group: page.counts.get(group, 0) for group in CardGroup}
    return written(ClearingOut(cards=cards, after=page.after, counts=counts))


@router.get("/scan", response=ScanOut)
@one_moment()
def scan(request: HttpRequest, production: Path[str], code: str = "") -> ScanOut:
    """What a scanned code is called here; all null where nothing is."""
    found = called(production_named(production), code)
    return ScanOut(card=found.card, roll=found.roll, store=found.store)


@router.get("/cards/{card_id}", response=CaseOut)
@one_moment()
def one_card(request: HttpRequest, production: Path[str], card_id: int) -> HttpResponse:
    places = places_of_all()
    (one,) = cases(active_cards().filter(pk=_card(production, card_id).pk), places)
    return written(case_out(one, places))


@router.get("/cards", response=list[CardLine])
def every_card(request: HttpRequest, production: Path[str]) -> list[CardLine]:
    """All cards of the production's cameras, by camera and label."""
    cards = active_cards().filter(camera__production=production_named(production))
    return [
        CardLine(id=card.pk, label=card.label, kind=card.kind, capacity=card.capacity, camera=card.owner.letter)
        for card in cards
    ]


@router.put("/cards/{card_id}/camera", response={200: Done, **REFUSED})
def give(request: HttpRequest, production: Path[str], card_id: int, given: GivenIn) -> Done:
    """Say that a card is another camera's from now on, of this production or another."""
    camera = camera_of(production_named(given.production), given.camera)
    give_card(who(request), _card(production, card_id), camera)
    return Done()


@router.post("/cards/{card_id}/sign", response={200: SignedOut, **REFUSED})
def sign(request: HttpRequest, production: Path[str], card_id: int, given: SignatureIn) -> SignedOut:
    words = {"tag": given.tag, "digest": given.digest, "session": session_of(request)}
    signed = sign_clearance(who(request), _card(production, card_id), **words)
    return SignedOut(state=signed.state, cleared=signed.state is Signing.CLEARED, waiting_for=list(signed.waiting_for))


@router.post("/cards/{card_id}/look", response={200: Done, **REFUSED})
def look(request: HttpRequest, production: Path[str], card_id: int) -> Done:
    """Have the card and its copies looked at, as when the signing view opens."""
    look_at_all(case(_card(production, card_id)))
    return Done()


@router.post("/cards/{card_id}/waive", response={200: Done, **REFUSED})
def waive(request: HttpRequest, production: Path[str], card_id: int, given: WaiveIn) -> Done:
    waive_file(who(request), _card(production, card_id), given.path, given.reason, seen=given.seen)
    return Done()


@router.post("/cards/{card_id}/waive-left", response={200: Done, **REFUSED})
def waive_left(request: HttpRequest, production: Path[str], card_id: int, given: WaiveLeftIn) -> Done:
    waive_left_behind(who(request), _card(production, card_id), given.reason, count=given.count, seen=given.seen)
    return Done()


@router.post("/cards/{card_id}/gone", response={200: Done, **REFUSED})
def gone(request: HttpRequest, production: Path[str], card_id: int, given: GoneIn) -> Done:
    answer_for_gone(who(request), _card(production, card_id), given.reason, count=given.count)
    return Done()


@router.post("/cards/{card_id}/waive-stretch", response={200: Done, **REFUSED})
def waive_a_stretch(request: HttpRequest, production: Path[str], card_id: int, given: WaiveStretchIn) -> Done:
    waive_stretch(who(request), _card(production, card_id), **given.model_dump())
    return Done()


@router.post("/cards/{card_id}/refuse", response={200: Done, **REFUSED})
def refuse(request: HttpRequest, production: Path[str], card_id: int, given: RefusalIn) -> Done:
    """Say no instead of signing."""
    refuse_to_sign(who(request), _card(production, card_id), given.reason, digest=given.digest)
    return Done()


@router.post("/cards/{card_id}/revoke", response={200: Done, **REFUSED})
def revoke(request: HttpRequest, production: Path[str], card_id: int, given: Reason) -> Done:
    """Take the card's last clearance back."""
    revoke_clearance(who(request), _card(production, card_id), given.reason)
    return Done()


@router.post("/cards/{card_id}/hand-back", response={200: Done, **REFUSED})
def given_back(request: HttpRequest, production: Path[str], card_id: int, given: HandedIn) -> Done:
    hand_back(who(request), _card(production, card_id), given.to)
    return Done()


@router.post("/cards/{card_id}/aside", response={200: Done, **REFUSED})
def aside(request: HttpRequest, production: Path[str], card_id: int, given: AsideIn) -> Done:
    """Take a card out of use."""
    set_card_aside(who(request), _card(production, card_id), given.kind, given.reason)
    return Done()


@router.delete("/cards/{card_id}/aside", response={200: Done, **REFUSED})
def use_again(request: HttpRequest, production: Path[str], card_id: int, why: str = "") -> Done:
    use_card_again(who(request), _card(production, card_id), why)
    return Done()


@router.post("/cards/{card_id}/trust", response={200: Done, **REFUSED})
def trust(request: HttpRequest, production: Path[str], card_id: int, given: TrustIn) -> Done:
    """Answer for a card that gave errors or slowed down."""
    trust_card(who(request), _card(production, card_id), given.reason, seen=given.seen)
    return Done()


@router.post("/holds", response={200: Done, **REFUSED})
def hold(request: HttpRequest, production: Path[str], given: HoldIn) -> Done:
    here = production_named(production)
    until = given.until.astimezone(UTC) if given.until else None
    place_hold(who(request), _held(here, given), given.reason, ends=given.ends, until=until)
    return Done()


def _held(here: "Production", given: HoldIn) -> "Roll | Card | Camera":
    """Raises NotThere."""
    if given.on is HoldOn.ROLL:
        return roll_named(here, given.name)
    return card_named(here, given.name) if given.on is HoldOn.CARD else camera_of(here, given.name)


@router.delete("/holds/{hold_id}", response={200: Done, **REFUSED})
def lift(request: HttpRequest, production: Path[str], hold_id: int, why: str = "") -> Done:
    lift_hold(who(request), hold_of(production_named(production), hold_id), why)
    return Done()


@router.get("/clearances/{clearance_id}", response=ClearanceOut)
@one_moment()
def clearance(request: HttpRequest, production: Path[str], clearance_id: int) -> HttpResponse:
    """Everything that a clearance was decided on, and what happened since."""
    return written(ClearanceOut.of(clearance_with(production_named(production), clearance_id)))


def _card(production: str, card_id: int) -> "Card":
    return card_of(production_named(production), card_id)


line = Router(tags=["waterline"])


@line.get("", response=WaterlineOut)
@asked_together
@one_moment()
def waterline(request: HttpRequest, production: Path[str]) -> HttpResponse:
    current = production_named(production)
    line = current_waterline(current)
    today = current.shoot_day(now())
    return written(
        WaterlineOut(
            production=current.name,
            time_zone=current.time_zone,
            day=current.number_of(today),
            cards_waiting=list(line.cards_waiting),
            bytes_short=line.bytes_short,
            rolls_short=list(line.rolls_short),
            rolls_below=list(line.rolls_below),
            cards_recalled=list(line.cards_recalled),
            runs=line.runs,
        )
    )
