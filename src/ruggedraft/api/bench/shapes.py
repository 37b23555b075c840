"""What is in each slot, and what is happening to it."""

from datetime import UTC, datetime
from typing import Any

from pydantic import BaseModel

from ruggedraft.clearing.bench import Pulled, ReaderNow, RunOfStay
from ruggedraft.clearing.card_rows import LastListing
from ruggedraft.clearing.cases import Case
from ruggedraft.core.evidence import Level
from ruggedraft.core.redundancy import CardStanding, CopyState, card_sentence, copy_state, rule_for
from ruggedraft.core.runs import RunState
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.journal.clock import now
from ruggedraft.offloads.outcome import run_sentence

from ..offloads.shapes import ProposalOut
from ..shapes import CameraOut


class ListingOut(BaseModel):
    """first_at, last_at: times of the card's first and last file."""

    read_at: datetime
    layout: str
    files: int
    bytes: int
    first_at: datetime | None
    last_at: datetime | None


class FindingOut(BaseModel):
    """What is not safe, and what to do: so many files of a store (or the card) for one reason.

    path: the first of them, empty where it is of no single file
    """

    store: str | None
    path: str
    files: int
    reason: str


class FeedOut(BaseModel):
    """A store that is brought what it lacks from a verified copy. outcome: empty while it goes on."""

    run_id: int
    going: bool
    outcome: str


class StoreRunOut(BaseModel):
    """One store of a run: how the copy that it makes stands now. files, bytes: what it is known to hold of the roll."""

    store: str
    state: CopyState
    files: int
    bytes: int
    missing_files: int
    level: Level
    feed: FeedOut | None


class OffloadOut(BaseModel):
    """sentence: how its roll stands now, on the stores it was written to, which later work may have changed.

    roll_files, roll_bytes: what a whole copy of the roll holds
    worker_lost: nobody is working at this run; it goes on when its station does.
    findings_untold: how many `findings` does not speak of
    """

    id: int
    tag: str
    person: str
    asked_at: datetime
    started_at: datetime | None
    estimated_s: float | None
    finished_at: datetime | None
    state: RunState
    sentence: str
    roll_files: int
    roll_bytes: int
    read_files: int
    read_bytes: int
    stores: list[StoreRunOut]
    findings: list[FindingOut]
    findings_in_all: int
    findings_untold: int
    worker_lost: bool


class IdentityOut(BaseModel):
    """Which card an unknown one may be. `candidates`: labels of cards it could be, likeliest first.

    known: labels of every card that is in no reader: a card that was formatted tells nothing of itself
    """

    question: str
    candidates: list[str]
    known: list[str]


class PulledOut(BaseModel):
    """A card that was taken out of the slot in the middle of its offload, and nobody has said that they know.

    offload_id: of the run. letter: of its camera
    """

    offload_id: int
    label: str
    tag: str
    letter: str


class SlotOut(BaseModel):
    """A reader's slot and its card.

    question: what has to be settled before the card can be offloaded
    identity: what speaks for which card, where that is not settled
    sentence: where the card stands, and why. gone: the first names of files that were on it and are in no copy
    inside: the reader shows a folder inside the card, which can be read whole
    unattended: cards put in here are offloaded by themselves, if a plan is named only those of it
    waits_for: why this one is not
    not_ours_by: who said that this unknown card is none of ours; empty while nobody has
    released: label of a card that was let go of and may be pulled. letting_go: the one in it is to be let go of
    release_trouble: why it could not be, the last time
    elsewhere: the card is another production's, and nothing is told of it but its label
    """

    name: str
    station: str
    insertion_id: int | None
    card_id: int | None
    label: str | None
    kind: str
    capacity: int
    camera: CameraOut | None
    standing: CardStanding | None
    sentence: str
    gone: list[str]
    gone_in_all: int
    trouble: str
    listing: ListingOut | None
    proposal: ProposalOut | None
    question: str | None
    identity: IdentityOut | None
    inside: bool
    offload: OffloadOut | None
    reader_id: int
    unattended: bool
    unattended_plan: str | None
    waits_for: list[str]
    pulled: PulledOut | None
    not_ours_by: str
    released: str
    letting_go: bool
    release_trouble: str
    elsewhere: bool


class BenchOut(BaseModel):
    slots: list[SlotOut]
    production: str
    time_zone: str


_MOST_GONE = 20


def slot_out(slot: ReaderNow) -> SlotOut:
    reader = slot.reader
    return SlotOut(
        name=reader.name,
        station=reader.station.name,
        listing=_listing(slot.listing) if slot.listing else None,
        proposal=ProposalOut.of(slot.proposal) if slot.proposal else None,
        question=slot.question,
        identity=_identity(slot),
        offload=_offload(slot.run) if slot.run else None,
        reader_id=reader.pk,
        unattended=reader.unattended_by_id is not None,
        unattended_plan=reader.unattended_plan.name if reader.unattended_plan else None,
        waits_for=list(slot.waits_for),
        pulled=_pulled(slot.pulled) if slot.pulled else None,
        not_ours_by=slot.not_ours_by,
        released=slot.released,
        letting_go=slot.stay is not None and slot.stay.release_asked_at is not None,
        release_trouble=slot.stay.release_trouble if slot.stay else "",
        **_case(slot.case),
        **_stay(slot.stay),
        **_card(slot.stay, elsewhere=slot.elsewhere),
    )


def _case(case: Case | None) -> dict[str, Any]:
    """Where the card stands, of one that is known here."""
    if case is None:
        return {"standing": None, "sentence": "", "gone": [], "gone_in_all": 0}
    return {
        "standing": case.standing, "sentence": card_sentence(case.facts, case.verdict),
        "gone": [file.path for file in case.gone[:_MOST_GONE]], "gone_in_all": len(case.gone),
    }  # fmt: skip


def _pulled(pulled: Pulled) -> PulledOut:
    return PulledOut(offload_id=pulled.offload, label=pulled.label, tag=pulled.tag, letter=pulled.letter)


def _stay(stay: Insertion | None) -> dict[str, Any]:
    """What the reader tells of the card that is in it."""
    if stay is None:
        return {"insertion_id": None, "kind": "", "capacity": 0, "trouble": "", "inside": False}
    return {
        "insertion_id": stay.pk, "kind": stay.kind, "capacity": stay.capacity, "trouble": stay.trouble,
        "inside": stay.levels_up < stay.inside,
    }  # fmt: skip


def _card(stay: Insertion | None, *, elsewhere: bool) -> dict[str, Any]:
    card = stay and stay.card
    if not card:
        return {"card_id": None, "label": None, "camera": None, "elsewhere": False}
    if elsewhere:  # the label is on the card, for everybody to read
        return {"card_id": None, "label": card.label, "camera": None, "elsewhere": True}
    return {
        "elsewhere": False,
        "card_id": card.pk,
        "label": card.label,
        "camera": CameraOut.of(card.camera) if card.camera else None,
    }


def _listing(listing: CardListing | LastListing) -> ListingOut:
    return ListingOut(
        read_at=listing.began_at,
        layout=listing.layout,
        files=listing.files,
        bytes=listing.bytes,
        first_at=_moment(listing.first_ns),
        last_at=_moment(listing.last_ns),
    )


def _moment(nanoseconds: int | None) -> datetime | None:
    return None if nanoseconds is None else datetime.fromtimestamp(nanoseconds // 10**9, UTC)


def _identity(slot: ReaderNow) -> IdentityOut | None:
    answer = slot.identity
    if answer is None:
        return None
    return IdentityOut(question=answer.question + ".", candidates=list(answer.candidates), known=list(slot.others))


def _offload(run: RunOfStay) -> OffloadOut:
    offload, standing = run.offload, run.standing
    rule, moment = rule_for(standing.facts, offload.roll.production.rule.as_rule()), now()
    return OffloadOut(
        id=offload.pk,
        tag=offload.roll.tag,
        person=offload.person.shown_name,
        asked_at=offload.asked_at,
        started_at=offload.started_at,
        estimated_s=offload.estimated_s,
        finished_at=offload.finished_at,
        state=offload.state,
        sentence=run_sentence(offload, standing, rule, moment),
        roll_files=standing.facts.files,
        roll_bytes=standing.facts.bytes,
        read_files=offload.read_files,
        read_bytes=offload.read_bytes,
        stores=[
            StoreRunOut(
                store=copy.facts.store.name,
                state=copy_state(copy.facts, rule, moment),
                files=copy.facts.files,
                bytes=copy.facts.bytes,
                missing_files=copy.facts.missing_files,
                level=Level.of(copy.facts.level),
                feed=_feed(run, copy.id),
            )
            for copy in standing.copies
        ],
        findings=[
            FindingOut(store=one.store, path=one.path, files=one.files, reason=one.reason) for one in run.findings
        ],
        findings_untold=run.findings_untold,
        findings_in_all=run.findings_in_all,
        worker_lost=run.worker_lost,
    )


def _feed(run: RunOfStay, copy: int) -> FeedOut | None:
    feed = run.feeds.get(copy)
    return FeedOut(run_id=feed.run_id, going=feed.going, outcome=feed.outcome) if feed else None
