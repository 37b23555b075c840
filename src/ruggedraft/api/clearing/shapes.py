"""Cards and whether they may go back; and what is not safe yet."""

from collections.abc import Mapping
from datetime import datetime

from pydantic import BaseModel

from ruggedraft.clearing.acts.sign_clearance import Signing
from ruggedraft.clearing.cases import Case, remedy_of
from ruggedraft.core.redundancy import CardStanding, card_sentence, is_lashed
from ruggedraft.stores.models import Store

from ..rolls.shapes import BlockOut, PlankOut, WaiverOut
from ..shapes import CameraOut

_MOST_NAMES = 50


class HoldOut(BaseModel):
    id: int
    reason: str
    by: str


class CaseOut(BaseModel):
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


class ClearingOut(BaseModel):
    """A page of cards: those that keep somebody waiting first, the ones in readers ahead; then those that may go back;
    then those that were handed back or never read.

    after: hand this in to get the next page; null on the last. in_all: how many cards there are
    """

    cards: list[CaseOut]
    after: str | None
    in_all: int


class WaiveLeftIn(BaseModel):
    """count: how many files the person was shown. seen: of which listing."""

    reason: str
    count: int
    seen: str | None = None


class GoneIn(BaseModel):
    """count: how many files the person was shown."""

    reason: str
    count: int


class SignatureIn(BaseModel):
    """digest: of the case as it was shown."""

    tag: str
    digest: str


class SignedOut(BaseModel):
    """state: `looking` while card and copies are being looked at: ask again. waiting_for: what that is."""

    state: Signing
    cleared: bool
    waiting_for: list[str]


class Reason(BaseModel):
    reason: str


class WaiveIn(BaseModel):
    path: str
    reason: str
    seen: str | None = None


class WaterlineOut(BaseModel):
    production: str
    time_zone: str
    day: int
    cards_waiting: list[str]
    bytes_short: int
    rolls_short: list[str]
    rolls_below: list[str]
    runs: int


def case_out(case: Case, places: Mapping[int, Store]) -> CaseOut:
    remedy = remedy_of(case, places)
    roll, listing, verdict, facts = case.roll, case.listing, case.verdict, case.facts
    planks = PlankOut.all_of(roll.copies, case.rule, case.moment) if roll else []
    looks = [plank.looked_at for plank in planks if plank.counts and plank.online]
    return CaseOut(
        card_id=case.card.pk,
        label=case.card.label,
        camera=CameraOut.of(case.card.owner),
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
