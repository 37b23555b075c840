"""Cards and whether they may go back; and what is not safe yet."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from enum import StrEnum
from typing import Any

from pydantic import BaseModel

from ruggedraft.clearing.acts.sign_clearance import Signing
from ruggedraft.clearing.cases import Case, remedy_of
from ruggedraft.clearing.page import CardGroup, group_of
from ruggedraft.core.redundancy import (
    AsideKind,
    CardStanding,
    HoldEnd,
    Seen,
    card_sentence,
    changes,
    is_lashed,
    is_recalled,
    rule_for,
    rule_sentence,
)
from ruggedraft.stores.models import Store

from ..rolls.shapes import BlockOut, HoldOut, PlankOut, StepOut, WaiverOut
from ..shapes import CameraOut

_MOST_NAMES = 50


class HoldOn(StrEnum):
    ROLL = "roll"
    CARD = "card"
    CAMERA = "camera"


class HoldIn(BaseModel):
    """name: the roll's tag, the card's label, or the camera's letter. until: of one that ends by date"""

    on: HoldOn
    name: str
    reason: str
    ends: HoldEnd = HoldEnd.LIFTED
    until: datetime | None = None


class VoidOut(BaseModel):
    """A signature that does not stand any more. changes: what is otherwise now, in sentences without a full stop"""

    by: str
    at: datetime
    changes: list[str]


class RefusalIn(BaseModel):
    """digest: of the case as it was shown."""

    reason: str
    digest: str


class WaiveStretchIn(BaseModel):
    """first, last: paths; every file from one to the other. count: how many the person was shown, of which listing"""

    first: str
    last: str
    reason: str
    count: int
    seen: str | None = None


class HandedIn(BaseModel):
    """to: who has it now; may be empty."""

    to: str = ""


class AsideIn(BaseModel):
    kind: AsideKind
    reason: str


class ScanOut(BaseModel):
    """card: its label. roll: its tag. store: its name. All null where nothing in the production is called so."""

    card: str | None
    roll: str | None
    store: str | None


class CaseOut(BaseModel):
    """A card and whether it may go back. `may_go_back` is true for a cleared or empty card only.

    sentence: where it stands and why. read_at: when it was last listed; nothing later is known of it
    looked_at: when the copies that count, on connected stores, were all last looked at
    lashed: every file on it is covered or waived, and the rule is met
    waived, left_behind, gone: the first names; `…_in_all`: how many
    digest: of everything a signature would rest on; signing repeats it. seen: of the listing; waiving repeats it
    returned: it was handed back once, and is here again with what was cleared
    void: signatures since the last clearance that do not stand any more
    recalled: it went out as cleared, and that was revoked since
    revoked_at, revoked_by, revoked_why: of the last clearance, where it was taken back
    out_of_use: why it goes to no camera, in a sentence; else empty. doubts: what speaks against using it again
    asked: what is asked of it, in words
    """

    card_id: int
    label: str
    camera: CameraOut
    roll_id: int | None
    tag: str | None
    standing: CardStanding
    group: CardGroup
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
    remedy: list[StepOut]
    signed_by: list[str]
    void: list[VoidOut]
    missing_signatures: int
    clearance_id: int | None
    handed_to: str
    recalled: bool
    revoked_at: datetime | None
    revoked_by: str
    revoked_why: str
    out_of_use: str
    doubts: list[str]
    asked: str
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
    """A page of cards, by group in the order of CardGroup, then by camera, then by label.

    after: hand this in to get the next page; null on the last. counts: of every group, how many cards it has in all
    """

    cards: list[CaseOut]
    after: str | None
    counts: dict[CardGroup, int]


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


class GivenIn(BaseModel):
    """Whose the card is from now on. production: by its name in addresses. camera: by its letter"""

    production: str
    camera: str


class CardLine(BaseModel):
    """A card as the set-up lists it. capacity: bytes; 0 where no reader told it yet"""

    id: int
    label: str
    kind: str
    capacity: int
    camera: str


class Reason(BaseModel):
    reason: str


class TrustIn(BaseModel):
    """seen: every doubt as it was shown"""

    reason: str
    seen: list[str]


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
    cards_recalled: list[str]
    runs: int


def case_out(case: Case, places: Mapping[int, Store]) -> CaseOut:
    verdict, facts = case.verdict, case.facts
    rule = rule_for(case.roll.facts, case.rule) if case.roll else case.rule
    planks = PlankOut.all_of(case.roll.copies, rule, case.moment) if case.roll else []
    return CaseOut(
        card_id=case.card.pk,
        label=case.card.label,
        camera=CameraOut.of(case.card.owner),
        standing=case.standing,
        group=group_of(case.standing),
        sentence=card_sentence(facts, verdict),
        may_go_back=case.standing.may_go_back,
        looked_at=_looked_at(planks),
        digest=case.digest,
        blocks=[BlockOut.of(block) for block in verdict.blocks],
        holds=[HoldOut.of_open(hold) for hold in case.holds],
        remedy=StepOut.all_of(remedy_of(case, places)),
        signed_by=[signature.by for signature in case.signatures],
        void=_void(case),
        missing_signatures=verdict.missing_signatures,
        recalled=is_recalled(facts),
        out_of_use=facts.out_of_use,
        doubts=list(facts.doubts),
        asked=rule_sentence(rule),
        returned=case.returned,
        needed_copies=rule.copies,
        waived=[WaiverOut.of(waiver) for waiver in facts.waivers[:_MOST_NAMES]],
        waived_in_all=len(facts.waivers),
        left_behind=list(case.left.paths[:_MOST_NAMES]),
        left_in_all=case.left.count,
        gone=[file.path for file in case.gone[:_MOST_NAMES]],
        gone_in_all=len(case.gone),
        lashed=is_lashed(facts, verdict),
        planks=planks,
        **_where(case),
        **_on_it(case),
        **_cleared(case),
    )


def _void(case: Case) -> list[VoidOut]:
    if case.seen is None:
        return []
    return [
        VoidOut(by=one.by, at=one.at, changes=list(changes(Seen.from_data(one.seen), case.seen)) if one.seen else [])
        for one in case.void
    ]


def _looked_at(planks: Sequence[PlankOut]) -> datetime | None:
    """When the copy that counts and was looked at longest ago was; None if one was not."""
    looks = [plank.looked_at for plank in planks if plank.counts and plank.online]
    seen = [at for at in looks if at]
    return min(seen) if seen and len(seen) == len(looks) else None


def _where(case: Case) -> dict[str, Any]:
    """The reader that a card is in, and the roll that is on it."""
    stay, roll = case.stay, case.roll
    return {
        "slot": stay.slot if stay else None, "insertion_id": stay.id if stay else None,
        "roll_id": roll.roll.pk if roll else None, "tag": roll.roll.tag if roll else None,
    }  # fmt: skip


def _on_it(case: Case) -> dict[str, Any]:
    listing = case.listing
    if listing is None:
        return {"read_at": None, "files": 0, "bytes": 0, "seen": ""}
    return {"read_at": listing.began_at, "files": listing.files, "bytes": listing.bytes, "seen": listing.digest}


def _cleared(case: Case) -> dict[str, Any]:
    cleared, fact = case.clearance, case.facts.clearance
    return {
        "cleared_at": cleared.at if cleared else None, "cleared_by": list(cleared.signed_by) if cleared else [],
        "handed_back_at": fact.handed_back_at if fact else None,
        "clearance_id": cleared.id if cleared else None,
        "handed_to": fact.handed_to if fact else "",
        "revoked_at": fact.revoked_at if fact else None,
        "revoked_by": fact.revoked_by if fact else "",
        "revoked_why": fact.revoked_why if fact else "",
    }  # fmt: skip
