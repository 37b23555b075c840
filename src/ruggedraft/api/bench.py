"""Bench: what is in my readers, what is happening to it, what do I do next?"""

from datetime import UTC, datetime

from django.db.models import Count, Min, Q
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.clearing.card_rows import LastListing
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.contents import contents_of
from ruggedraft.clearing.unattended import doubts
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Level
from ruggedraft.core.redundancy import CardStanding, CopyState, card_sentence, copy_state
from ruggedraft.core.taking import EVERYTHING
from ruggedraft.core.transfer import RunState
from ruggedraft.intake.acts.ask_reading import ask_reading
from ruggedraft.intake.acts.introduce_card import introduce_card
from ruggedraft.intake.identity import who_is_in
from ruggedraft.intake.models import Card, CardListing, Insertion, Reader
from ruggedraft.journal.clock import now
from ruggedraft.kit.stations import is_running
from ruggedraft.offloads.acts.ask_join import ask_join
from ruggedraft.offloads.acts.cancel_offload import cancel_offload
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.choosing import choose
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.outcome import run_sentence
from ruggedraft.offloads.proposal import propose
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.summaries import roll_standings

from .current import production
from .proposals import ChoiceOut, NamesOut, ProposalOut, TakeIn
from .shapes import CameraOut, Done, Problem

router = Router(tags=["bench"])
REFUSED = {403: Problem, 409: Problem}


class ListingOut(Schema):
    """first_at, last_at: times of the card's first and last file."""

    read_at: datetime
    layout: str
    files: int
    bytes: int
    first_at: datetime | None
    last_at: datetime | None


class FindingOut(Schema):
    """What is not safe, and what to do: so many files of a store (or the card) for one reason.

    path: the first of them, empty where it is of no single file
    """

    store: str | None
    path: str
    files: int
    reason: str


class FeedOut(Schema):
    """A store that is brought what it was too slow for, from a verified copy. outcome: empty while it goes on."""

    going: bool
    outcome: str


class StoreRunOut(Schema):
    """One store of a run: how the copy that it makes stands now. files, bytes: what it is known to hold of the roll."""

    store: str
    state: CopyState
    files: int
    bytes: int
    missing_files: int
    level: Level
    feed: FeedOut | None


class OffloadOut(Schema):
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


class IdentityOut(Schema):
    """Which card an unknown one may be. `candidates`: labels of cards it could be, likeliest first.

    known: labels of every card that is in no reader: a card that was formatted tells nothing of itself
    """

    question: str
    candidates: list[str]
    known: list[str]


class SlotOut(Schema):
    """A reader's slot and its card.

    question: what has to be settled before the card can be offloaded
    identity: what speaks for which card, where that is not settled
    sentence: where the card stands, and why. gone: the first names of files that were on it and are in no copy
    inside: the reader shows a folder inside the card, which can be read whole
    unattended: cards put in here are offloaded by themselves, if a plan is named only those of it
    waits_for: why this one is not
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


class BenchOut(Schema):
    slots: list[SlotOut]
    cameras: list[CameraOut]
    plans: list[str]
    production: str
    time_zone: str


class StartIn(Schema):
    """take: what is wanted of the card, null for everything. uneven: it may go though it does not fit its rig.

    twice: the card is read a second time
    """

    tag: str
    take: TakeIn | None = None
    uneven: bool = False
    notes: str = ""
    twice: bool = False


class JoinIn(Schema):
    """path: of the recording's first file on the card."""

    path: str


class IntroduceIn(Schema):
    """is_another: it passed for a card of the ledger, and is not that one."""

    label: str
    camera: str
    is_another: bool = False


@router.get("", response=BenchOut)
def bench(request: HttpRequest) -> BenchOut:
    current = production()
    readers = (
        Reader.objects.filter(gone_at=None)
        .select_related("station", "unattended_plan")
        .order_by("station__name", "name")
    )
    stays = {i.reader_id: i for i in Insertion.objects.filter(removed_at=None).select_related("card__camera")}
    inserted = active_cards().filter(pk__in=[i.card_id for i in stays.values() if i.card_id])
    by_card = {case.card.pk: case for case in cases(inserted)}
    return BenchOut(
        slots=[_slot(reader, stays.get(reader.pk), by_card) for reader in readers],
        cameras=[CameraOut.of(camera) for camera in current.cameras.all()],
        plans=list(current.plans.order_by("name").values_list("name", flat=True)),
        production=current.name,
        time_zone=current.time_zone,
    )


@router.post("/cards/{card_id}/offload", response={200: Done, **REFUSED})
def offload(request: HttpRequest, card_id: int, given: StartIn) -> Done:
    card = get_object_or_404(Card.objects.select_related("camera__production__rule", "camera__plan"), pk=card_id)
    wanted = given.take.as_take() if given.take else EVERYTHING
    start_offload(request.user, card, given.tag, wanted, uneven=given.uneven, notes=given.notes, twice=given.twice)
    return Done()


@router.post("/cards/{card_id}/choice", response={200: ChoiceOut, **REFUSED})
def choice(request: HttpRequest, card_id: int, given: TakeIn) -> ChoiceOut:
    """What an offload of this much of a card would do, and the names its files would get."""
    card = get_object_or_404(Card.objects.select_related("camera__production__rule", "camera__plan"), pk=card_id)
    made = propose(card, given.as_take())
    chosen = made.choice or choose(made.listing, made.wanted, made.naming, made.roll, made.stores)
    return ChoiceOut(proposal=ProposalOut.of(made), names=NamesOut.of(chosen, mended=made.naming.mend))


@router.post("/cards/{card_id}/join", response={200: Done, **REFUSED})
def join(request: HttpRequest, card_id: int, given: JoinIn) -> Done:
    ask_join(request.user, get_object_or_404(Card, pk=card_id), given.path)
    return Done()


@router.post("/offloads/{offload_id}/cancel", response={200: Done, **REFUSED})
def cancel(request: HttpRequest, offload_id: int) -> Done:
    cancel_offload(request.user, get_object_or_404(Offload, pk=offload_id))
    return Done()


@router.post("/cards/{card_id}/read", response={200: Done, **REFUSED})
def read(request: HttpRequest, card_id: int) -> Done:
    ask_reading(request.user, get_object_or_404(Card, pk=card_id))
    return Done()


@router.post("/insertions/{insertion_id}/introduce", response={200: Done, **REFUSED})
def introduce(request: HttpRequest, insertion_id: int, given: IntroduceIn) -> Done:
    insertion = get_object_or_404(Insertion, pk=insertion_id)
    camera = Camera.objects.filter(production=production(), letter=given.camera).first()
    if camera is None:
        raise ActRefused(f"There is no camera {given.camera} in this production.")
    introduce_card(request.user, insertion, label=given.label, camera=camera, is_another=given.is_another)
    return Done()


def _slot(reader: Reader, stay: Insertion | None, by_card: dict) -> SlotOut:
    card = stay.card if stay else None
    case = by_card.get(card.pk) if card else None
    proposal, question = _proposal(case.card) if case else (None, None)
    listing = case.listing if case else stay.listings.order_by("-id").first() if stay else None
    return SlotOut(
        name=reader.name,
        station=reader.station.name,
        insertion_id=stay.pk if stay else None,
        card_id=card.pk if card else None,
        label=card.label if card else None,
        kind=stay.kind if stay else "",
        capacity=stay.capacity if stay else 0,
        camera=CameraOut.of(card.camera) if card and card.camera else None,
        standing=case.standing if case else None,
        sentence=card_sentence(case.facts, case.verdict) if case else "",
        gone=[file.path for file in case.gone[:20]] if case else [],
        gone_in_all=len(case.gone) if case else 0,
        trouble=stay.trouble if stay else "",
        listing=_listing(listing) if listing else None,
        proposal=proposal,
        question=question,
        identity=_identity(stay) if stay and not card else None,
        inside=stay is not None and stay.levels_up < stay.inside,
        offload=_last_offload(stay, card) if card else None,
        reader_id=reader.pk,
        unattended=reader.unattended_by_id is not None,
        unattended_plan=reader.unattended_plan.name if reader.unattended_plan else None,
        waits_for=_waits_for(reader, stay),
    )


def _waits_for(reader: Reader, stay: Insertion | None) -> list[str]:
    if reader.unattended_by_id is None or stay is None:
        return []
    if stay.card and stay.card.offloads.filter(asked_at__gte=stay.inserted_at).exists():
        return []
    found = contents_of(stay)
    return [] if found is None else [sentence + "." for sentence in doubts(stay, found)]


def _identity(stay: Insertion) -> IdentityOut:
    answer = who_is_in(stay)
    elsewhere = Insertion.objects.filter(removed_at=None).exclude(card=None).values("card")
    known = Card.objects.exclude(pk__in=elsewhere).order_by("label").values_list("label", flat=True)
    return IdentityOut(question=answer.question + ".", candidates=list(answer.candidates), known=list(known))


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


def _proposal(card: Card) -> tuple[ProposalOut | None, str | None]:
    try:
        made = propose(card)
    except ActRefused as error:
        return None, error.sentence
    return ProposalOut.of(made), None


_MOST_FINDINGS = 30
_NAMED = ~Q(path="")


def _worker_is_lost(offload: Offload) -> bool:
    return offload.finished_at is None and not offload.held_back and not is_running(offload.station)


def _last_offload(stay: Insertion, card: Card) -> OffloadOut | None:
    """The card's run of this stay: under way, or the last one that ended while it was in this reader."""
    last = card.offloads.select_related("roll__production__rule", "person", "station").order_by("-id").first()
    if last is None or (last.finished_at and last.finished_at < stay.inserted_at):
        return None
    (standing,) = roll_standings([last.roll])
    rule, moment = last.roll.production.rule.as_rule(), now()
    feeds = {
        feed.copy_id: FeedOut(going=feed.finished_at is None, outcome=feed.outcome)
        for feed in last.feeds.order_by("id")
    }
    findings = last.findings.values("store__name", "reason").annotate(
        first=Min("pk"), named=Min("path", filter=_NAMED), files=Count("pk", filter=_NAMED), rows=Count("pk")
    )
    shown = list(findings.order_by("first")[:_MOST_FINDINGS])
    return OffloadOut(
        id=last.pk,
        tag=last.roll.tag,
        person=last.person.shown_name,
        asked_at=last.asked_at,
        started_at=last.started_at,
        estimated_s=last.estimated_s,
        finished_at=last.finished_at,
        state=last.state,
        sentence=run_sentence(last, standing, rule, moment),
        roll_files=standing.facts.files,
        roll_bytes=standing.facts.bytes,
        read_files=last.read_files,
        read_bytes=last.read_bytes,
        stores=[
            StoreRunOut(
                store=c.facts.store.name,
                state=copy_state(c.facts, rule, moment),
                files=c.facts.files,
                bytes=c.facts.bytes,
                missing_files=c.facts.missing_files,
                level=Level.of(c.facts.level),
                feed=feeds.get(c.id),
            )
            for c in standing.copies
        ],
        findings=[
            FindingOut(store=row["store__name"], path=row["named"] or "", files=row["files"], reason=row["reason"])
            for row in shown
        ],
        findings_untold=last.findings.count() - sum(row["rows"] for row in shown),
        findings_in_all=last.findings.count(),
        worker_lost=_worker_is_lost(last),
    )
