"""Where is it? A card, a roll or a store that somebody asks for by a few words."""

from collections.abc import Iterable
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
    used = {store.name: store for store in stores_in(production.pk)}
    names = {
        Thing.CARD: Card.objects.filter(camera__production=production).values_list("label", flat=True),
        Thing.ROLL: Roll.objects.filter(production=production).values_list("tag", flat=True),
        Thing.STORE: used,
    }
    kinds = list(names)
    ranked = sorted(
        (rank, kinds.index(thing), name) for thing, known in names.items() for rank, name in asked.best(thing, known)
    )[:_MOST]
    told = {
        Thing.CARD: _cards(production, [name for _, n, name in ranked if kinds[n] is Thing.CARD]),
        Thing.ROLL: _rolls(production, [name for _, n, name in ranked if kinds[n] is Thing.ROLL]),
        Thing.STORE: {name: _store(used[name]) for _, n, name in ranked if kinds[n] is Thing.STORE},
    }
    return [told[kinds[n]][name] for _, n, name in ranked if name in told[kinds[n]]]


def _cards(production: Production, labels: list[str]) -> dict[str, FoundThing]:
    if not labels:
        return {}
    found = active_cards().filter(camera__production=production, label__in=labels)
    return {
        line.case.card.label: FoundThing(
            Thing.CARD, line.case.card.label, line.whereabouts, line.since, line.case.standing
        )
        for line in card_lines(cases(found, places_of_all()))
    }


def _rolls(production: Production, tags: list[str]) -> dict[str, FoundThing]:
    if not tags:
        return {}
    ids = Roll.objects.filter(production=production, tag__in=tags).values_list("pk", flat=True)
    return {
        case.standing.roll.tag: FoundThing(
            Thing.ROLL, case.standing.roll.tag,
            _on(copy.store.name for copy in case.verdict.counting),
            None, case.state,
        )
        for case in roll_cases(production, ids, places_of_all(), now())
    }  # fmt: skip


def _on(names: Iterable[str]) -> str:
    known = sorted(names)
    return f"on {first_of(known, 6)}, of the copies that count" if known else "no copy of it counts"


def _store(store: Store) -> FoundThing:
    carrier, sighting = carrier_of(store), sighting_of(store)
    if is_lost(store):
        return FoundThing(Thing.STORE, store.name, "reported lost")
    place = store.device.location.name
    if carrier:
        return FoundThing(Thing.STORE, store.name, f"{place}, with {carrier.name}", carrier.since)
    there = sighting is not None and sighting.online
    where = f"{place}, connected" if there else f"{place}, not connected"
    return FoundThing(Thing.STORE, store.name, where, sighting.seen_at if sighting else None)
