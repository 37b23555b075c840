"""What the Bench shows: each reader, the card in it, what an offload of it would do, and its run."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from django.db.models import Count, Min, Q

from ruggedraft.core.cards import Answer
from ruggedraft.core.errors import ActRefused
from ruggedraft.intake.identity import who_is_in
from ruggedraft.intake.models import Card, CardListing, Insertion, Reader
from ruggedraft.kit.stations import is_running
from ruggedraft.offloads.models import Feed, Offload, OffloadFinding
from ruggedraft.offloads.proposal import Proposal, propose_all
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
class RunOfStay:
    """A card's run of this stay. feeds: by copy. findings: the first groups; findings_in_all counts single ones.

    worker_lost: nobody is working at it; it goes on when its station does
    """

    offload: Offload
    standing: RollStanding
    feeds: Mapping[int, Feed]
    findings: tuple[Findings, ...]
    findings_in_all: int
    worker_lost: bool

    @property
    def findings_untold(self) -> int:
        return self.findings_in_all - sum(group.rows for group in self.findings)


@dataclass(frozen=True)
class Slot:
    """question: what has to be settled before there can be a proposal. identity, others: of a card that is not known.

    waits_for: why a card in an unattended reader is not offloaded by itself
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


def slots(production: Production) -> list[Slot]:
    """One for every reader that a station sees. Cards of other productions are shown as what they are: in the way."""
    readers = Reader.objects.filter(gone_at=None).select_related("station", "unattended_plan")
    stays = {
        stay.reader_id: stay
        for stay in Insertion.objects.filter(removed_at=None).select_related("card__camera", "reader__station")
    }
    places = places_of_all()
    inserted = active_cards().filter(pk__in=[stay.card_id for stay in stays.values() if stay.card_id])
    by_card = {one.card.pk: one for one in cases(inserted.filter(camera__production=production), places)}
    proposals = propose_all([one.card for one in by_card.values()], at_hand=_at_hand(stays.values(), by_card, places))
    runs = _runs_of(stays.values(), places)
    return [
        _slot(reader, stays.get(reader.pk), by_card, proposals, runs)
        for reader in readers.order_by("station__name", "name")
    ]


def _at_hand(stays: Iterable[Insertion], by_card: Mapping[int, Case], places: Mapping[int, Store]) -> AtHand:
    return AtHand(
        {stay.card_id: stay for stay in stays if stay.card_id},
        {pk: one.gone for pk, one in by_card.items()},
        places,
        {roll.roll.pk: roll for one in by_card.values() for roll in one.rolls},
    )


def _slot(
    reader: Reader,
    stay: Insertion | None,
    by_card: Mapping[int, Case],
    proposals: Mapping[int, Proposal | ActRefused],
    runs: Mapping[int, RunOfStay],
) -> Slot:
    case = by_card.get(stay.card_id) if stay and stay.card_id else None
    made = proposals[case.card.pk] if case else None
    proposal = made if isinstance(made, Proposal) else None
    question = made.sentence if isinstance(made, ActRefused) else None
    unknown = stay if stay and stay.card_id is None else None
    return Slot(
        reader, stay, case, _listing(stay, case), proposal, question, who_is_in(unknown) if unknown else None,
        _known_elsewhere() if unknown else (), runs.get(stay.pk) if stay else None, _waits_for(reader, stay),
    )  # fmt: skip


def _listing(stay: Insertion | None, case: Case | None) -> CardListing | LastListing | None:
    if case:
        return case.listing
    return stay.listings.order_by("-id").first() if stay else None


def _known_elsewhere() -> tuple[str, ...]:
    """Labels of every card that is in no reader: one that was formatted tells nothing of itself."""
    inserted = Insertion.objects.filter(removed_at=None).exclude(card=None).values("card")
    return tuple(Card.objects.exclude(pk__in=inserted).order_by("label").values_list("label", flat=True))


def _waits_for(reader: Reader, stay: Insertion | None) -> tuple[str, ...]:
    if reader.unattended_by_id is None or stay is None:
        return ()
    if stay.card and stay.card.offloads.filter(asked_at__gte=stay.inserted_at).exists():
        return ()
    found = contents_of(stay)
    return () if found is None else tuple(sentence + "." for sentence in doubts(stay, found))


_MOST_FINDINGS = 30
_NAMED = ~Q(path="")


def _runs_of(stays: Iterable[Insertion], places: Mapping[int, Store]) -> dict[int, RunOfStay]:
    """By stay: its card's run that is under way, or the last one that ended while the card was in this reader."""
    by_card = {stay.card_id: stay for stay in stays if stay.card_id}
    last = Offload.objects.filter(card__in=by_card).order_by("card_id", "-id").distinct("card_id")
    runs = [
        run
        for run in last.select_related("roll__production__rule", "person", "station")
        if run.finished_at is None or run.finished_at >= by_card[run.card_id].inserted_at
    ]
    standings = roll_standings((run.roll_id for run in runs), places)
    feeds: dict[int, dict[int, Feed]] = {}
    for feed in Feed.objects.filter(offload__in=runs).order_by("id"):
        feeds.setdefault(feed.offload_id, {})[feed.copy_id] = feed
    findings = _findings(runs)
    working = {station: is_running(station) for station in {run.station for run in runs if run.finished_at is None}}
    return {
        by_card[run.card_id].pk: RunOfStay(
            run, standings[run.roll_id], feeds.get(run.pk, {}), tuple(findings.get(run.pk, [])[:_MOST_FINDINGS]),
            sum(group.rows for group in findings.get(run.pk, [])),
            worker_lost=run.finished_at is None and not run.held_back and not working[run.station],
        )
        for run in runs
    }  # fmt: skip


def _findings(runs: Iterable[Offload]) -> dict[int, list[Findings]]:
    """By run, those of one store and reason together, in the order in which they were found."""
    rows = OffloadFinding.objects.filter(offload__in=list(runs)).values("offload", "store__name", "reason")
    groups = rows.annotate(
        first=Min("pk"), named=Min("path", filter=_NAMED), files=Count("pk", filter=_NAMED), rows=Count("pk")
    )
    found: dict[int, list[Findings]] = {}
    for row in groups.order_by("first"):
        found.setdefault(row["offload"], []).append(
            Findings(row["store__name"], row["named"] or "", row["files"], row["reason"], row["rows"])
        )
    return found
