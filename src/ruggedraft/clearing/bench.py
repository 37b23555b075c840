"""What the Bench shows: each reader, the card in it, what an offload of it would do, and its run."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Case as Case_
from django.db.models import Count, Min, OuterRef, Q, QuerySet, Subquery, Value, When
from django.db.models.functions import JSONArray, JSONObject, Now

from ruggedraft.core.cards import Answer
from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import shown_name
from ruggedraft.intake.identity import who_is_in
from ruggedraft.intake.models import Card, CardListing, Insertion, NotOurs, Reader
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import running_stations
from ruggedraft.offloads.models import Feed, Offload, OffloadFinding
from ruggedraft.offloads.proposal import Proposal, propose_all
from ruggedraft.offloads.queries import pulled_from_reader
from ruggedraft.offloads.situations import AtHand
from ruggedraft.productions.models import Production
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store

from .card_rows import LastListing
from .cases import Case, active_cards, cases
from .contents import contents_of
from .unattended import doubts


@dataclass(frozen=True)
class Findings:
    """So many findings of a run about one store (None: the card) for one reason. path: of the first that names one."""

    store: str | None
    path: str
    files: int
    reason: str
    rows: int


@dataclass(frozen=True)
class FeedNow:
    """How bringing a copy what it lacks goes. outcome: empty while it goes on."""

    run_id: int
    going: bool
    outcome: str


@dataclass(frozen=True)
class RunOfStay:
    """A card's run of this stay. feeds: by copy. findings: the first groups; findings_in_all counts single ones.

    worker_lost: nobody is working at it; it goes on when its station does
    """

    offload: Offload
    standing: RollStanding
    feeds: Mapping[int, FeedNow]
    findings: tuple[Findings, ...]
    findings_in_all: int
    worker_lost: bool

    @property
    def findings_untold(self) -> int:
        return self.findings_in_all - sum(group.rows for group in self.findings)


@dataclass(frozen=True)
class Pulled:
    """A card that was taken out of a reader in the middle of its offload, and nobody has said that they know.

    offload: id. label: of the card. letter: of its camera
    """

    offload: int
    label: str
    tag: str
    letter: str


@dataclass(frozen=True)
class ReaderNow:
    """question: what has to be settled before there can be a proposal. identity, others: of a card that is not known.

    waits_for: why a card in an unattended reader is not offloaded by itself
    not_ours_by: who said that an unknown card is none of ours; empty while nobody has
    released: label of the card that was let go of last, where nothing came into the reader since: it may be pulled
    elsewhere: the card in it is another production's
    """

    reader: Reader
    stay: Insertion | None
    case: Case | None
    listing: CardListing | LastListing | None
    proposal: Proposal | None
    question: str | None
    identity: Answer | None
    others: tuple[str, ...]
    run: RunOfStay | None
    waits_for: tuple[str, ...]
    pulled: Pulled | None
    not_ours_by: str
    released: str = ""
    elsewhere: bool = False


def slots(production: Production) -> list[ReaderNow]:
    """One for every reader that a station sees, and for one that went with a card in the middle of its offload.

    Of cards of other productions nothing is told but that they are in the way.
    """
    here, elsewhere = _stays(production)
    tell = _telling(production, here)
    return [
        _slot_of_another(reader, elsewhere[reader.pk]) if reader.pk in elsewhere else tell(reader)
        for reader in _shown(production)
    ]


def _shown(production: Production) -> QuerySet[Reader]:
    seen = Q(gone_at=None) | Q(pulled__isnull=False) | Q(last_stay__released=True)
    readers = Reader.objects.select_related("station", "unattended_plan")
    told = readers.annotate(pulled=pulled_from_reader(production), last_stay=_LAST_STAY)
    return told.filter(seen).order_by("station__name", "name")


def _telling(production: Production, here: Sequence[Insertion]) -> Callable[[Reader], ReaderNow]:
    """What tells of a reader what is in it, once everything that this takes was read. here: stays of cards of ours"""
    stays, places = {stay.reader_id: stay for stay in here}, places_of_all()
    inserted = active_cards().filter(pk__in=[stay.card_id for stay in here if stay.card_id])
    by_card = {one.card.pk: one for one in cases(inserted.filter(camera__production=production), places)}
    last = _last_offloads(here)
    at_hand = _at_hand(here, by_card, places, last)
    proposals = propose_all([one.card for one in by_card.values()], at_hand=at_hand)
    runs = _runs_of(here, places, at_hand.standings, last)
    others = _known_elsewhere(production) if any(stay.card_id is None for stay in here) else ()
    return lambda reader: _slot(reader, stays.get(reader.pk), by_card, proposals, runs, others)


def _stays(production: Production) -> tuple[list[Insertion], dict[int, Insertion]]:
    """Of this production's cards and of unknown ones; and, by reader, of other productions' cards."""
    here, elsewhere = list[Insertion](), dict[int, Insertion]()
    for stay in _present().select_related("card__camera", "reader__station"):
        if stay.card and stay.card.production_id not in (None, production.pk):
            elsewhere[stay.reader_id] = stay
        else:
            here.append(stay)
    return here, elsewhere


def _slot_of_another(reader: Reader, stay: Insertion) -> ReaderNow:
    """That one of ours was taken out of this reader in the middle stays an alarm, whatever lies in it now."""
    return ReaderNow(
        reader, stay, None, None, None, None, None, (), None, (), _pulled(reader), "", elsewhere=True
    )  # fmt: skip


def _pulled(reader: Reader) -> Pulled | None:
    out = getattr(reader, "pulled", None)
    return Pulled(**out) if out else None


_MAY_BE_PULLED_FOR = timedelta(hours=1)
"""For so long a slot says so of a card that was let go of; somebody has it in hand by then."""
_LAST_STAY = Subquery(
    Insertion.objects.filter(reader=OuterRef("pk"))
    .order_by("-pk")
    .values(
        facts=JSONObject(
            label="card__label",
            released=Case_(
                When(released_at__gte=Now() - _MAY_BE_PULLED_FOR, removed_at__isnull=False, then=Value(True)),
                default=Value(False),
            ),
        )
    )[:1]
)


def _present() -> QuerySet[Insertion]:
    said = NotOurs.objects.filter(insertion=OuterRef("pk"), withdrawn_at=None)
    by = said.values(by=JSONArray("person__username", "person__first_name", "person__last_name"))
    return Insertion.objects.filter(removed_at=None).annotate(not_ours=Subquery(by[:1]))


def _at_hand(
    stays: Iterable[Insertion], by_card: Mapping[int, Case], places: Mapping[int, Store], last: Iterable[Offload]
) -> AtHand:
    return AtHand(
        {stay.card_id: stay for stay in stays if stay.card_id},
        {pk: one.gone for pk, one in by_card.items()},
        places,
        {roll.roll.pk: roll for one in by_card.values() for roll in one.rolls},
        {one.card_id: one for one in last},
    )


def _slot(
    reader: Reader,
    stay: Insertion | None,
    by_card: Mapping[int, Case],
    proposals: Mapping[int, Proposal | ActRefused],
    runs: Mapping[int, RunOfStay],
    others: Sequence[str],
) -> ReaderNow:
    pulled = _pulled(reader)
    if stay is None:
        last = getattr(reader, "last_stay", None) or {"released": False}
        released = last["label"] if last["released"] else ""
        return ReaderNow(reader, None, None, None, None, None, None, (), None, (), pulled, "", released)
    if stay.card_id is None:
        listing = _listing(stay, None)
        return ReaderNow(reader, stay, None, listing, None, None, who_is_in(stay), tuple(others), None,
                    _waits_for(reader, stay), pulled, _said_not_ours(stay))  # fmt: skip
    case = by_card.get(stay.card_id)
    made = proposals[stay.card_id] if case else None
    proposal = made if isinstance(made, Proposal) else None
    question = made.sentence if isinstance(made, ActRefused) else None
    return ReaderNow(
        reader, stay, case, _listing(stay, case), proposal, question, None, (), runs.get(stay.pk),
        _waits_for(reader, stay), pulled, "",
    )  # fmt: skip


def _said_not_ours(stay: Insertion) -> str:
    name = getattr(stay, "not_ours", None)
    return shown_name(*name) if name else ""


def _listing(stay: Insertion, case: Case | None) -> CardListing | LastListing | None:
    return case.listing if case else stay.listings.order_by("-id").first()


def _known_elsewhere(production: Production) -> tuple[str, ...]:
    """Labels of every card here that is in no reader: one that was formatted tells nothing of itself."""
    inserted = Insertion.objects.filter(removed_at=None).exclude(card=None).values("card")
    mine = Card.objects.filter(Q(camera=None) | Q(camera__production=production))
    return tuple(mine.exclude(pk__in=inserted).order_by("label").values_list("label", flat=True))


def _waits_for(reader: Reader, stay: Insertion) -> tuple[str, ...]:
    if reader.unattended_by_id is None:
        return ()
    if stay.card and stay.card.offloads.filter(asked_at__gte=stay.inserted_at).exists():
        return ()
    found = contents_of(stay)
    return () if found is None else tuple(sentence + "." for sentence in doubts(stay, found))


_MOST_FINDINGS = 30
_NAMED = ~Q(path="")


def _working(runs: Iterable[Offload]) -> dict[Station, bool]:
    """Whether each station that has one of these runs under way is there."""
    going = {run.station for run in runs if run.finished_at is None}
    running = running_stations() if going else frozenset()
    return {station: station.pk in running for station in going}


def _last_offloads(stays: Iterable[Insertion]) -> list[Offload]:
    """The last of each card in a reader, with its feeds and findings."""
    cards = [stay.card_id for stay in stays if stay.card_id]
    last = Offload.objects.filter(card__in=cards).order_by("card_id", "-id").distinct("card_id")
    told = last.annotate(fed=_FEEDS, found=_FINDINGS)
    return list(told.select_related("roll__production__rule", "person", "station"))


def _runs_of(
    stays: Iterable[Insertion], places: Mapping[int, Store], known: Mapping[int, RollStanding], last: Iterable[Offload]
) -> dict[int, RunOfStay]:
    """By stay: its card's run that is under way, or the last one that ended while the card was in this reader."""
    by_card = {stay.card_id: stay for stay in stays if stay.card_id}
    rows = [run for run in last if _is_of(run, by_card[run.card_id])]
    missing = {run.roll_id for run in rows} - known.keys()
    standings = {**known, **(roll_standings(missing, places) if missing else {})}
    working = _working(rows)
    return {by_card[run.card_id].pk: _run_of(run, standings[run.roll_id], working) for run in rows}


_FEEDS = ArraySubquery(
    Feed.objects.filter(offload=OuterRef("pk")).order_by("id").values(
        facts=JSONObject(run="run_id", copy="copy_id", finished_at="finished_at", outcome="outcome")
    )
)  # fmt: skip
_FINDINGS = ArraySubquery(
    OffloadFinding.objects.filter(offload=OuterRef("pk"))
    .values("store__name", "reason")
    .annotate(first=Min("pk"), named=Min("path", filter=_NAMED), files=Count("pk", filter=_NAMED), rows=Count("pk"))
    .order_by("first")
    .values(facts=JSONObject(store="store__name", path="named", files="files", reason="reason", rows="rows"))
)
"""Those of one store and reason together, in the order in which they were found."""


def _is_of(run: Offload, stay: Insertion) -> bool:
    return run.finished_at is None or run.finished_at >= stay.inserted_at


def _run_of(run: Offload, standing: RollStanding, working: Mapping[Station, bool]) -> RunOfStay:
    fed, found = getattr(run, "fed", ()), getattr(run, "found", ())
    lost = run.finished_at is None and not run.held_back and not working[run.station]
    return RunOfStay(
        run, standing, {one["copy"]: FeedNow(one["run"], one["finished_at"] is None, one["outcome"]) for one in fed},
        tuple(Findings(**one | {"path": one["path"] or ""}) for one in found[:_MOST_FINDINGS]),
        sum(one["rows"] for one in found), worker_lost=lost,
    )  # fmt: skip
