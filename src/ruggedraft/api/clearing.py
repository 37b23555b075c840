"""Clearing: which cards may go back, which may not, and why not?"""

from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.clearing.acts.holds import lift_hold, place_hold
from ruggedraft.clearing.acts.sign_clearance import sign_clearance
from ruggedraft.clearing.acts.waive_file import waive_file
from ruggedraft.clearing.acts.waive_left_behind import waive_left_behind
from ruggedraft.clearing.cases import Case, Standing, active_cards, cases
from ruggedraft.clearing.models import Hold
from ruggedraft.clearing.remaining import left_on
from ruggedraft.core.redundancy import judge_roll
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.journal.clock import now
from ruggedraft.rolls.models import Roll

from .shapes import BlockOut, CameraOut, Done, PlankOut, Problem

router = Router(tags=["clearing"])
REFUSED = {403: Problem, 409: Problem}


class HoldOut(Schema):
    id: int
    reason: str
    by: str


class CaseOut(Schema):
    """A card and whether it may go back. `may_go_back` is true for a cleared or empty card only.

    left_behind: the first of the files left on the card on purpose that nobody has waived; left_in_all: how many
    digest: names the listing the verdict rests on; signing repeats it
    """

    card_id: int
    label: str
    camera: CameraOut
    roll_id: int | None
    tag: str | None
    standing: str
    may_go_back: bool
    slot: str | None
    read_at: datetime | None
    files: int
    bytes: int
    digest: str
    blocks: list[BlockOut]
    holds: list[HoldOut]
    remedy: list[str]
    signed_by: list[str]
    missing_signatures: int
    cleared_at: datetime | None
    needed_copies: int
    left_behind: list[str]
    left_in_all: int
    met: bool
    planks: list[PlankOut]


class WaiveLeftIn(Schema):
    """count: how many files the person was shown."""

    reason: str
    count: int


class SignatureIn(Schema):
    tag: str
    digest: str


class SignedOut(Schema):
    cleared: bool


class Reason(Schema):
    reason: str


class WaiveIn(Schema):
    path: str
    reason: str


@router.get("", response=list[CaseOut])
def clearing(request: HttpRequest) -> list[CaseOut]:
    slots = dict(Insertion.objects.filter(removed_at=None).exclude(card=None).values_list("card_id", "reader__name"))
    return [_shape(case, slots.get(case.card.pk)) for case in cases(active_cards())]


@router.post("/cards/{card_id}/sign", response={200: SignedOut, **REFUSED})
def sign(request: HttpRequest, card_id: int, given: SignatureIn) -> SignedOut:
    card = get_object_or_404(Card.objects.select_related("camera"), pk=card_id)
    clearance = sign_clearance(request.user, card, tag=given.tag, digest=given.digest)
    return SignedOut(cleared=clearance is not None)


@router.post("/cards/{card_id}/waive", response={200: Done, **REFUSED})
def waive(request: HttpRequest, card_id: int, given: WaiveIn) -> Done:
    card = get_object_or_404(Card.objects.select_related("camera"), pk=card_id)
    waive_file(request.user, card, given.path, given.reason)
    return Done()


@router.post("/cards/{card_id}/waive-left", response={200: Done, **REFUSED})
def waive_left(request: HttpRequest, card_id: int, given: WaiveLeftIn) -> Done:
    card = get_object_or_404(Card.objects.select_related("camera"), pk=card_id)
    waive_left_behind(request.user, card, given.reason, count=given.count)
    return Done()


@router.post("/rolls/{roll_id}/hold", response={200: Done, **REFUSED})
def hold(request: HttpRequest, roll_id: int, given: Reason) -> Done:
    place_hold(request.user, get_object_or_404(Roll, pk=roll_id), given.reason)
    return Done()


@router.delete("/holds/{hold_id}", response={200: Done, **REFUSED})
def lift(request: HttpRequest, hold_id: int) -> Done:
    lift_hold(request.user, get_object_or_404(Hold.objects.select_related("roll"), pk=hold_id))
    return Done()


def _shape(case: Case, slot: str | None) -> CaseOut:
    roll, listing = case.roll, case.listing
    left = left_on(case.card) if any(block.kind == "uncovered" for block in case.blocks) else []
    verdict = judge_roll(roll.facts, case.rule, now()) if roll else None
    return CaseOut(
        card_id=case.card.pk,
        label=case.card.label,
        camera=CameraOut.of(case.card.camera),
        roll_id=roll.roll.pk if roll else None,
        tag=roll.roll.tag if roll else None,
        standing=case.standing,
        may_go_back=case.standing in (Standing.CLEARED, Standing.EMPTY),
        slot=slot,
        read_at=listing.read_at if listing else None,
        files=listing.files if listing else 0,
        bytes=listing.bytes if listing else 0,
        digest=listing.digest if listing else "",
        blocks=[BlockOut.of(block) for block in case.blocks],
        holds=[HoldOut(id=h.pk, reason=h.reason, by=h.placed_by.shown_name) for h in case.holds],
        remedy=[step.sentence for step in case.remedy.steps] if case.remedy else [],
        signed_by=[signature.person.shown_name for signature in case.signatures],
        missing_signatures=case.missing_signatures,
        cleared_at=case.clearance.at if case.clearance else None,
        needed_copies=case.rule.copies,
        left_behind=[file.path for file in left[:50]],
        left_in_all=len(left),
        met=bool(verdict and verdict.met),
        planks=PlankOut.all_of(roll.copies, verdict, case.rule) if roll and verdict else [],
    )
