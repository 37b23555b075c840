"""Cards and whether they may go back; and what is not safe yet."""

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

from pydantic import BaseModel

from ruggedraft.clearing.acts.sign_clearance import Signing
from ruggedraft.clearing.cases import Case, remedy_of
from ruggedraft.clearing.page import CardGroup, group_of
from ruggedraft.core.redundancy import CardStanding, card_sentence, is_lashed
from ruggedraft.stores.models import Store

from ..rolls.shapes import BlockOut, PlankOut, StepOut, WaiverOut
from ..shapes import CameraOut

_MOST_NAMES = 50


class HoldOut(BaseModel):
    id: int
    reason: str
    by: str


class ScanOut(BaseModel):
    """card: its label. roll: its tag. Both null where nothing in the production has the name."""

    card: str | None
    roll: str | None


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
    verdict, facts = case.verdict, case.facts
    planks = PlankOut.all_of(case.roll.copies, case.rule, case.moment) if case.roll else []
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
        holds=[HoldOut(id=hold.id, reason=hold.reason, by=hold.by) for hold in case.holds],
        remedy=StepOut.all_of(remedy_of(case, places)),
        signed_by=[signature.by for signature in case.signatures],
        missing_signatures=verdict.missing_signatures,
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
        **_where(case),
        **_on_it(case),
        **_cleared(case),
    )


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
    }  # fmt: skip
