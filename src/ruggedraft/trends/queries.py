"""How it goes, from the ledger's facts."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime

from django.db.models import QuerySet

from ruggedraft.clearing.cases import active_cards
from ruggedraft.clearing.models import Clearance
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.trends import (
    CardsWaiting,
    CardTime,
    CopiesOfAge,
    Foretold,
    ForetoldRun,
    PartRates,
    RunRate,
    Span,
    StoreTrend,
    Trends,
    by_age,
    free_over_days,
    how_far_off,
    is_slow,
    waiting_over,
)
from ruggedraft.intake.models import CardAside, Insertion, Reader
from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.rates import measured_runs
from ruggedraft.productions.models import Production
from ruggedraft.rolls.held import held_copies
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.room import StoreRoom, room_of_stores
from ruggedraft.rolls.summaries import places_in, places_of_all
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, sighting_of, store_facts

_RUNS, _A_PART, _TIMES = 400, 20, 40


def trends_of(production: Production) -> Trends:
    places, mine, moment = places_of_all(), places_in(production), now()
    held = [one for one in held_copies(places) if one.production == production.pk and not is_lost(places[one.store])]
    rooms = [one for one in room_of_stores(production, places) if one.store.pk in mine]
    ages: tuple[CopiesOfAge, ...] = by_age((one.read_back_at for one in held), moment) if held else ()
    return Trends(
        room=tuple(_room(production, rooms, moment)),
        rates=tuple(_rates(production)), times=tuple(_times(production)), foretold=_foretold(production), ages=ages,
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
    """Readers first. Of runs that did all they were asked for: others say more of what went wrong than of a rate."""
    readers, stores = dict[int, list[RunRate]](), dict[int, list[RunRate]]()
    for run in measured_runs(Offload.objects.filter(roll__production=production, end=RunEnd.WELL), _RUNS):
        rate = RunRate(run.at, run.rate)
        if run.reader is not None:
            readers.setdefault(run.reader, []).append(rate)
        for store in run.stores:
            stores.setdefault(store, []).append(rate)
    for reader in Reader.objects.filter(pk__in=readers).select_related("station").order_by("name", "station__name"):
        yield _part(f"{reader.name}, {reader.station.name}", readers[reader.pk], reader=True)
    for place in Store.objects.filter(pk__in=stores).order_by("position", "name"):
        yield _part(place.name, stores[place.pk], reader=False)


def _part(name: str, newest_first: Sequence[RunRate], *, reader: bool) -> PartRates:
    runs = tuple(reversed(newest_first[:_A_PART]))
    return PartRates(name, reader, runs, is_slow([one.rate for one in runs]))


def _foretold(production: Production) -> Foretold | None:
    """Of runs that did all they were asked for."""
    rows = Offload.objects.filter(roll__production=production, end=RunEnd.WELL, estimated_s__gt=0)
    columns = ("roll__tag", "estimated_s", "started_at", "finished_at")
    found = rows.exclude(started_at=None).order_by("-id").values_list(*columns)[:_TIMES]
    runs = [ForetoldRun(tag, end, told, (end - start).total_seconds()) for tag, told, start, end in found]
    return how_far_off(runs[::-1])


def _times(production: Production) -> list[CardTime]:
    """From the first time that a card came since it was last cleared; what was taken back cleared nothing."""
    stands = Clearance.objects.filter(card__camera__production=production, revocation=None)
    cleared = list(stands.order_by("-at").select_related("card__camera")[:_TIMES])
    cards = {one.card_id for one in cleared}
    came = _by_card(Insertion.objects.filter(card__in=cards).values_list("card", "inserted_at"))
    before = _by_card(stands.filter(card__in=cards).values_list("card", "at"))
    found = (_time(one, came.get(one.card_id, []), before[one.card_id]) for one in reversed(cleared))
    return [one for one in found if one]


def _by_card(rows: Iterable[tuple[int | None, datetime]]) -> dict[int, list[datetime]]:
    """Moments of each card (id), in order."""
    found: dict[int, list[datetime]] = {}
    for card, at in rows:
        if card is not None:
            found.setdefault(card, []).append(at)
    return {card: sorted(moments) for card, moments in found.items()}


def _time(one: Clearance, came: Sequence[datetime], cleared: Sequence[datetime]) -> CardTime | None:
    last = max((at for at in cleared if at < one.at), default=None)
    first = next((at for at in came if at < one.at and (last is None or at > last)), None)
    return CardTime(one.card.label, one.card.owner.letter, first, one.at) if first else None


def _waiting(production: Production, moment: datetime) -> CardsWaiting | None:
    """Over today; where nothing waits or came today, over the last shoot day on which something was offloaded.

    A card that is lost, or out of use otherwise, is none that one could wait for.
    """
    rolls = Roll.objects.filter(production=production)
    last = rolls.order_by("-opened_at").values_list("opened_at", flat=True).first()
    if last is None:
        return None
    aside = CardAside.objects.filter(ended_at=None).values("card")
    cards = active_cards().filter(camera__production=production).exclude(pk__in=aside)
    spans = _spans(rolls.filter(card__in=cards))
    day = production.shoot_day(moment)
    begin = production.span_of(day)[0]
    if all(until is not None and until < begin for mine in spans.values() for _, until in mine):
        day = production.shoot_day(last)
    begin, end = production.span_of(day)
    return CardsWaiting(day, cards.count(), waiting_over(spans, begin, min(end, moment)))


def _spans(rolls: QuerySet[Roll]) -> dict[str, list[Span]]:
    """By card, from when each of its rolls was begun until it was cleared."""
    free: dict[int, datetime] = {}
    stands = Clearance.objects.filter(rolls__in=rolls, revocation=None)
    for roll, at in stands.values_list("rolls", "at"):
        free[roll] = min(at, free.get(roll, at))
    spans: dict[str, list[Span]] = {}
    for roll, card, since in rolls.values_list("pk", "card__label", "opened_at"):
        spans.setdefault(card, []).append((since, free.get(roll)))
    return spans
