"""How it goes, from the ledger's facts."""

from collections.abc import Iterator, Sequence
from datetime import datetime

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import F, OuterRef

from ruggedraft.clearing.cases import active_cards
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.trends import (
    CardsWaiting,
    CardTime,
    CopiesOfAge,
    PartRates,
    RunRate,
    Span,
    StoreTrend,
    Trends,
    by_age,
    free_over_days,
    is_slow,
    waiting_over,
)
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.held import held_copies
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.room import StoreRoom, room_of_stores
from ruggedraft.rolls.summaries import places_in, places_of_all
from ruggedraft.stores.queries import is_lost, sighting_of, store_facts

_RUNS, _A_PART, _TIMES = 400, 20, 40
_LEAST_BYTES = 1_000_000
"""What moves less says nothing of a rate."""


def trends_of(production: Production) -> Trends:
    places, mine, moment = places_of_all(), places_in(production), now()
    held = [one for one in held_copies(places) if one.production == production.pk and not is_lost(places[one.store])]
    rooms = [one for one in room_of_stores(production, places) if one.store.pk in mine]
    ages: tuple[CopiesOfAge, ...] = by_age((one.read_back_at for one in held), moment) if held else ()
    return Trends(
        room=tuple(_room(production, rooms, moment)),
        rates=tuple(_rates(production)), times=tuple(_times(production)), ages=ages,
        waiting=_waiting(production, moment),
    )  # fmt: skip


def _room(production: Production, rooms: Sequence[StoreRoom], moment: datetime) -> Iterator[StoreTrend]:
    """Of stores of which it is known what is free."""
    today = production.shoot_day(moment)
    for one in rooms:
        seen, by_day = sighting_of(one.store), dict.fromkeys((held.day for held in one.held), 0)
        if seen is None or not seen.total or one.foreseen is None:
            continue
        for held in one.held:
            by_day[held.day] += held.bytes
        days = free_over_days(store_facts(one.store).free, by_day, today)
        when = one.foreseen
        yield StoreTrend(one.store.name, seen.total, days, when.earliest, when.expected, when.latest)


def _rates(production: Production) -> Iterator[PartRates]:
    """Readers first."""
    stores = Copy.objects.filter(roll=OuterRef("roll")).values("store__name")
    whole = Offload.objects.filter(
        roll__production=production, read_bytes__gte=_LEAST_BYTES, finished_at__gt=F("started_at")
    )
    rows = whole.order_by("-id").annotate(to=ArraySubquery(stores))[:_RUNS]
    readers, parts = dict[str, list[RunRate]](), dict[str, list[RunRate]]()
    columns = (
        "reader__called",
        "reader__name",
        "reader__station__name",
        "to",
        "read_bytes",
        "started_at",
        "finished_at",
    )
    for called, slot, station, to, count, start, end in rows.values_list(*columns):
        rate = RunRate(end, count / (end - start).total_seconds())
        if slot:
            readers.setdefault(f"{called or slot}, {station}", []).append(rate)
        for store in to:
            parts.setdefault(store, []).append(rate)
    yield from (_part(name, runs, reader=True) for name, runs in sorted(readers.items()))
    yield from (_part(name, runs, reader=False) for name, runs in sorted(parts.items()))


def _part(name: str, newest_first: Sequence[RunRate], *, reader: bool) -> PartRates:
    runs = tuple(reversed(newest_first[:_A_PART]))
    return PartRates(name, reader, runs, is_slow([one.rate for one in runs]))


def _times(production: Production) -> list[CardTime]:
    """From the first time that a card came since it was last cleared."""
    rows = Clearance.objects.filter(card__camera__production=production, revocation=None)
    cleared = list(rows.order_by("-at").select_related("card__camera")[:_TIMES])
    cards = {one.card_id for one in cleared}
    came: dict[int, list[datetime]] = {}
    for card, at in Insertion.objects.filter(card__in=cards).order_by("inserted_at").values_list("card", "inserted_at"):
        if card is not None:
            came.setdefault(card, []).append(at)
    before: dict[int, list[datetime]] = {}
    for card, at in Clearance.objects.filter(card__in=cards).order_by("at").values_list("card", "at"):
        before.setdefault(card, []).append(at)
    found = [_time(one, came.get(one.card_id, []), before[one.card_id]) for one in reversed(cleared)]
    return [one for one in found if one]


def _time(one: Clearance, came: Sequence[datetime], cleared: Sequence[datetime]) -> CardTime | None:
    last = max((at for at in cleared if at < one.at), default=None)
    first = next((at for at in came if at < one.at and (last is None or at > last)), None)
    return CardTime(one.card.label, one.card.owner.letter, first, one.at) if first else None


def _waiting(production: Production, moment: datetime) -> CardsWaiting | None:
    """Over today; where nothing waits or came today, over the last shoot day on which something was offloaded."""
    rolls = Roll.objects.filter(production=production)
    last = rolls.order_by("-opened_at").values_list("opened_at", flat=True).first()
    if last is None:
        return None
    free: dict[int, datetime] = {}
    for roll, at in Clearance.objects.filter(rolls__production=production, revocation=None).values_list("rolls", "at"):
        free[roll] = min(at, free.get(roll, at))
    spans: dict[str, list[Span]] = {}
    for roll, card, since in rolls.values_list("pk", "card__label", "opened_at"):
        spans.setdefault(card, []).append((since, free.get(roll)))
    day = production.shoot_day(moment)
    if all(until is not None and until < production.span_of(day)[0] for mine in spans.values() for _, until in mine):
        day = production.shoot_day(last)
    begin, end = production.span_of(day)
    cards = active_cards().filter(camera__production=production).count()
    return CardsWaiting(day, cards, waiting_over(spans, begin, min(end, moment)))
