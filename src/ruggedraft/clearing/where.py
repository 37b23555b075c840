"""Where is it? A card, a roll or a store that somebody asks for by a few words."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from ruggedraft.core.finding import Thing, asked_for
from ruggedraft.core.redundancy import CardStanding, RollState
from ruggedraft.core.wording import first_of
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import carrier_of, is_lost, sighting_of, stores_in

from .card_list import card_lines
from .cases import active_cards, cases
from .roll_cases import roll_cases

_MOST = 8


@dataclass(frozen=True)
class FoundThing:
    """where: in words. since: when that was noted; None where nobody did. standing: of a card or a roll, its verdict"""

    thing: Thing
    name: str
    where: str
    since: datetime | None = None
    standing: CardStanding | RollState | None = None


def where_is(production: Production, question: str) -> list[FoundThing]:
    """The things of a production whose names fit best, at most eight; names that fit as well go by kind and name."""
    asked = asked_for(question)
    ranked = [
        (rank, kind.thing, name) for kind in _KINDS for rank, name in asked.best(kind.thing, kind.names(production))
    ]
    fitting = sorted(ranked)[:_MOST]
    told: dict[tuple[Thing, str], FoundThing] = {}
    for kind in _KINDS:
        names = [name for _, thing, name in fitting if thing is kind.thing]
        told |= {(kind.thing, one.name): one for one in kind.tell(production, names)} if names else {}
    return [told[thing, name] for _, thing, name in fitting if (thing, name) in told]


def _card_names(production: Production) -> Iterable[str]:
    return Card.objects.filter(camera__production=production).values_list("label", flat=True)


def _cards(production: Production, labels: Sequence[str]) -> Iterator[FoundThing]:
    found = active_cards().filter(camera__production=production, label__in=labels)
    for line in card_lines(cases(found, places_of_all())):
        yield FoundThing(Thing.CARD, line.case.card.label, line.whereabouts, line.since, line.case.standing)


def _roll_names(production: Production) -> Iterable[str]:
    return Roll.objects.filter(production=production).values_list("tag", flat=True)


def _rolls(production: Production, tags: Sequence[str]) -> Iterator[FoundThing]:
    ids = Roll.objects.filter(production=production, tag__in=tags).values_list("pk", flat=True)
    for case in roll_cases(production, ids, places_of_all(), now()):
        counting = sorted(copy.store.name for copy in case.verdict.counting)
        words = f"counting copies on {first_of(counting, 6)}" if counting else "no copy of it counts"
        yield FoundThing(Thing.ROLL, case.standing.roll.tag, words, standing=case.state)


def _store_names(production: Production) -> Iterable[str]:
    return [store.name for store in stores_in(production.pk)]


def _stores(production: Production, names: Sequence[str]) -> Iterator[FoundThing]:
    for store in stores_in(production.pk).filter(name__in=names):
        where, since = where_store_is(store)
        yield FoundThing(Thing.STORE, store.name, where, since)


def where_store_is(store: Store) -> tuple[str, datetime | None]:
    """Where a store (from `stores()`) is, and when that was noted."""
    carrier, sighting, place = carrier_of(store), sighting_of(store), store.device.location.name
    if is_lost(store):
        return "reported lost", None
    if carrier:
        return f"{place}, with {carrier.name}", carrier.since
    there = "connected" if sighting and sighting.online else "not connected"
    return f"{place}, {there}", sighting.seen_at if sighting else None


@dataclass(frozen=True)
class _Kind:
    """names: of everything of the kind in a production. tell: what is to be said of some of them"""

    thing: Thing
    names: Callable[[Production], Iterable[str]]
    tell: Callable[[Production, Sequence[str]], Iterable[FoundThing]]


_KINDS = (
    _Kind(Thing.CARD, _card_names, _cards),
    _Kind(Thing.ROLL, _roll_names, _rolls),
    _Kind(Thing.STORE, _store_names, _stores),
)
