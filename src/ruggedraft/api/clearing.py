"""Clearing: which cards may go back, which may not, and why not?"""

from collections.abc import Mapping
from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.clearing.acts.answer_for_gone import answer_for_gone
from ruggedraft.clearing.acts.hand_back import hand_back
from ruggedraft.clearing.acts.holds import lift_hold, place_hold
from ruggedraft.clearing.acts.sign_clearance import Signing, look_at_all, sign_clearance
from ruggedraft.clearing.acts.waive_file import waive_file, waive_left_behind
from ruggedraft.clearing.cases import Case, active_cards, case, cases, remedy_of
from ruggedraft.clearing.models import Hold
from ruggedraft.clearing.page import page_of_cards
from ruggedraft.core.redundancy import CardStanding, card_sentence, is_lashed
from ruggedraft.intake.models import Card
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.stores.models import Store

from .current import production
from .shapes import BlockOut, CameraOut, Done, PlankOut, Problem, WaiverOut

router = Router(tags=["clearing"])
REFUSED = {403: Problem, 409: Problem}
_MOST_NAMES = 50


class HoldOut(Schema):
    id: int
    reason: str
    by: str


class CaseOut(Schema):
    """A card and whether it may go back. `may_go_back` is true for a cleared or empty card only.

    sentence: where it stands and why. read_at: when it was last listed; nothing later is known of it
    looked_at: when the copies that count, on connected stores, were all last looked at
    lashed: every file on it is covered or waived, and the rule is met
    waived, left_behind, gone: the first names; `…_in_all`: how many
    digest: of everything a signature would rest on; signing repeats it. seen: of the listing; waiving repeats it
    returned: it was handed back once, and is here again with what was cleared
    """

    card_id: int
    label: str
    camera: CameraOut
    roll_id: int | None
    tag: str | None
    standing: CardStanding
    sentence: str
    may_go_back: bool
    slot: str | None
    insertion_id: int | None
    read_at: datetime | None
    looked_at: datetime | None
    files: int
    bytes: int
    digest: str
    seen: str
    blocks: list[BlockOut]
    holds: list[HoldOut]
    remedy: list[str]
    signed_by: list[str]
    missing_signatures: int
    cleared_at: datetime | None
    cleared_by: list[str]
    handed_back_at: datetime | None
    returned: bool
    needed_copies: int
    waived: list[WaiverOut]
    waived_in_all: int
    left_behind: list[str]
    left_in_all: int
    gone: list[str]
    gone_in_all: int
    lashed: bool
    planks: list[PlankOut]


class ClearingOut(Schema):
    """A page of cards: those that keep somebody waiting first, the ones in readers ahead; then those that may go back;
    then those that were handed back or never read.

    after: hand this in to get the next page; null on the last. in_all: how many cards there are
    """

    cards: list[CaseOut]
    after: str | None
    in_all: int


class WaiveLeftIn(Schema):
    """count: how many files the person was shown. seen: of which listing."""

    reason: str
    count: int
    seen: str | None = None


class GoneIn(Schema):
    """count: how many files the person was shown."""

    reason: str
    count: int


class SignatureIn(Schema):
    """digest: of the case as it was shown."""

    tag: str
    digest: str


class SignedOut(Schema):
    """state: `looking` while card and copies are being looked at: ask again. waiting_for: what that is."""

    state: Signing
    cleared: bool
    waiting_for: list[str]


class Reason(Schema):
    reason: str


class WaiveIn(Schema):
    path: str
    reason: str
    seen: str | None = None


@router.get("", response=ClearingOut)
def clearing(request: HttpRequest, after: str = "") -> ClearingOut:
    places = places_of_all()
    page = page_of_cards(production(), places, after=after)
    return ClearingOut(cards=[_shape(one, places) for one in page.cards], after=page.after, in_all=page.in_all)


@router.get("/cards/{card_id}", response=CaseOut)
def one_card(request: HttpRequest, card_id: int) -> CaseOut:
    places = places_of_all()
    (one,) = cases([get_object_or_404(active_cards(), pk=card_id)], places)
    return _shape(one, places)


def _card(card_id: int) -> Card:
    return get_object_or_404(Card.objects.exclude(camera=None).select_related("camera"), pk=card_id)


@router.post("/cards/{card_id}/sign", response={200: SignedOut, **REFUSED})
def sign(request: HttpRequest, card_id: int, given: SignatureIn) -> SignedOut:
    signed = sign_clearance(request.user, _card(card_id), tag=given.tag, digest=given.digest)
    return SignedOut(state=signed.state, cleared=signed.state is Signing.CLEARED, waiting_for=list(signed.waiting_for))


@router.post("/cards/{card_id}/look", response={200: Done, **REFUSED})
def look(request: HttpRequest, card_id: int) -> Done:
    """Have the card and its copies looked at, as when the signing view opens."""
    look_at_all(case(active_cards().get(pk=_card(card_id).pk)))
    return Done()


@router.post("/cards/{card_id}/waive", response={200: Done, **REFUSED})
def waive(request: HttpRequest, card_id: int, given: WaiveIn) -> Done:
    waive_file(request.user, _card(card_id), given.path, given.reason, seen=given.seen)
    return Done()


@router.post("/cards/{card_id}/waive-left", response={200: Done, **REFUSED})
def waive_left(request: HttpRequest, card_id: int, given: WaiveLeftIn) -> Done:
    waive_left_behind(request.user, _card(card_id), given.reason, count=given.count, seen=given.seen)
    return Done()


@router.post("/cards/{card_id}/gone", response={200: Done, **REFUSED})
def gone(request: HttpRequest, card_id: int, given: GoneIn) -> Done:
    answer_for_gone(request.user, _card(card_id), given.reason, count=given.count)
    return Done()


@router.post("/cards/{card_id}/hand-back", response={200: Done, **REFUSED})
def given_back(request: HttpRequest, card_id: int) -> Done:
    hand_back(request.user, _card(card_id))
    return Done()


@router.post("/rolls/{roll_id}/hold", response={200: Done, **REFUSED})
def hold(request: HttpRequest, roll_id: int, given: Reason) -> Done:
    place_hold(request.user, get_object_or_404(Roll, pk=roll_id), given.reason)
    return Done()


@router.delete("/holds/{hold_id}", response={200: Done, **REFUSED})
def lift(request: HttpRequest, hold_id: int) -> Done:
    lift_hold(request.user, get_object_or_404(Hold.objects.select_related("roll"), pk=hold_id))
    return Done()


def _shape(case: Case, places: Mapping[int, Store]) -> CaseOut:
    remedy = remedy_of(case, places)
    roll, listing, verdict, facts = case.roll, case.listing, case.verdict, case.facts
    planks = PlankOut.all_of(roll.copies, case.rule, case.moment) if roll else []
    looks = [plank.looked_at for plank in planks if plank.counts and plank.online]
    return CaseOut(
        card_id=case.card.pk,
        label=case.card.label,
        camera=CameraOut.of(case.card.camera),
        roll_id=roll.roll.pk if roll else None,
        tag=roll.roll.tag if roll else None,
        standing=case.standing,
        sentence=card_sentence(facts, verdict),
        may_go_back=case.standing.may_go_back,
        slot=case.stay.slot if case.stay else None,
        insertion_id=case.stay.id if case.stay else None,
        read_at=listing.began_at if listing else None,
        looked_at=min((at for at in looks if at), default=None) if all(looks) else None,
        files=listing.files if listing else 0,
        bytes=listing.bytes if listing else 0,
        digest=case.digest,
        seen=listing.digest if listing else "",
        blocks=[BlockOut.of(block) for block in verdict.blocks],
        holds=[HoldOut(id=hold.id, reason=hold.reason, by=hold.by) for hold in case.holds],
        remedy=[step.sentence for step in remedy.steps] if remedy else [],
        signed_by=[signature.by for signature in case.signatures],
        missing_signatures=verdict.missing_signatures,
        cleared_at=case.clearance.at if case.clearance else None,
        cleared_by=list(case.clearance.signed_by) if case.clearance else [],
        handed_back_at=facts.clearance.handed_back_at if facts.clearance else None,
        returned=case.returned,
        needed_copies=case.rule.copies,
        waived=[WaiverOut.of(waiver) for waiver in facts.waivers[:_MOST_NAMES]],
        waived_in_all=len(facts.waivers),
        left_behind=list(case.left.paths[:_MOST_NAMES]),
        left_in_all=case.left.count,
        gone=[file.path for file in case.gone[:_MOST_NAMES]],
        gone_in_all=len(case.gone),
        lashed=is_lashed(facts, verdict),
        planks=planks,
    )
