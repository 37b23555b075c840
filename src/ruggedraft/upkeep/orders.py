"""What standing orders have still to bring, and why they have not yet."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.onward import Onward, Wanted, onward
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.upkeep import LastTry, again_at
from ruggedraft.crew.permissions import May, may
from ruggedraft.journal.clock import now
from ruggedraft.offloads.acts.ask_feed import what_speaks_against
from ruggedraft.offloads.models import Feed, Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import roll_standings, whole_somewhere
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sightings_of, store_facts

from .models import StandingOrder
from .tries import tries_by

Places = Mapping[int, Store]


@dataclass(frozen=True)
class OrderStanding:
    """rolls, bytes: what the order has still to bring, as far as it was counted. more: there is more than that

    under_way: how many of them are being brought

    why: why nothing more of it is begun now, as a sentence; empty where nothing is behind, or the next one is begun
    next: what it would bring now, in its order
    """

    order: StandingOrder
    rolls: int
    bytes: int
    more: bool
    under_way: int
    why: str
    next: Onward


def open_orders(production: Production | None = None) -> list[StandingOrder]:
    """Those that stand, oldest first; of every production that is open, or of this one."""
    orders = StandingOrder.objects.filter(withdrawn_at=None).order_by("pk")
    orders = orders.filter(production=production) if production else orders.filter(production__closed_at=None)
    return list(
        orders.select_related("production", "from_store", "from_place", "to_store", "person").defer("person__password")
    )


def order_standings(orders: Iterable[StandingOrder], places: Places) -> list[OrderStanding]:
    """How each stands now. places: from `rolls.summaries.places_of_all`"""
    return [_Looked(order, places).standing() for order in orders]


class _Looked:
    def __init__(self, order: StandingOrder, places: Places) -> None:
        self.order, self.places, self.moment = order, places, now()
        self.to = places[order.to_store_id]
        self.behind, self.more = _behind(order, self.to, places)
        ids = [one.roll.pk for one in self.behind]
        self.offloading = _offloading(ids)
        self.feeding, self.tries = _feeds(ids, self.to)

    def standing(self) -> OrderStanding:
        found = onward(map(self._wanted, self.behind), store_facts(self.to))
        under_way = sum(one.roll.pk in self.feeding for one in self.behind)
        held = sum(_lacking(one, self.to) for one in self.behind)
        return OrderStanding(
            self.order, len(self.behind), held, self.more, under_way, self._why(found, under_way), found
        )  # fmt: skip

    def _wanted(self, standing: RollStanding) -> Wanted:
        good = [one.store.name for one in standing.to_bring_from(self.to) if one.facts.store.online]
        return Wanted(standing.roll.tag, standing.facts, tuple(good), self._held_by(standing.roll.pk))

    def _held_by(self, roll: int) -> str:
        """What keeps one roll from being begun now, as a clause."""
        if roll in self.offloading:
            return "its card is being offloaded"
        if roll in self.feeding:
            return "it is being brought already"
        tries = self.tries.get(roll, [])
        again = again_at(tries)
        if again is None or again <= self.moment:
            return ""
        what = _ENDED.get(tries[0].end, "its last run met trouble")
        return f"{what}; it is tried again from {self.order.production.local(again):%H:%M} on"

    def _why(self, found: Onward, under_way: int) -> str:
        if not self.behind or under_way:
            return ""
        facts = store_facts(self.to)
        reasons = (
            (self.to.retired_at is not None, f"'{self.to.name}' is out of service"),
            (facts.lost, f"'{self.to.name}' was reported lost"),
            (not facts.online, f"'{self.to.name}' is not connected"),
            (not may(self.order.person, May.OFFLOAD, self.order.production_id),
             f"{self.order.person.shown_name}, who gave the order, may not have copies made any more"),
            (not self.order.may_begin(self.order.production, self.moment), f"it waits until {self.order.hours.opens}"),
            (self._only_busy_stations(), "a card is being offloaded"),
        )  # fmt: skip
        said = next((sentence for applies, sentence in reasons if applies), "")
        return said or (self._against_all(found) if found.going else _first_of(found))

    def _against_all(self, found: Onward) -> str:
        """What keeps even the first few from being begun; empty where one of them may be."""
        rolls = {one.roll.tag: one.roll for one in self.behind}
        against = ""
        for going in found.going[:_ASKED]:
            sentence = what_speaks_against(rolls[going.tag], self.to.name)
            if not sentence:
                return ""
            against = against or f"{going.tag}: {sentence.rstrip('.')}"
        return against

    def _only_busy_stations(self) -> bool:
        """Cards are offloaded at every station that sees the store: they go first."""
        seeing = {one.station for one in sightings_of(self.to) if one.online}
        busy = set(Offload.objects.filter(station__in=seeing, finished_at=None).values_list("station_id", flat=True))
        return bool(seeing) and seeing <= busy


_ASKED = 3
"""So many rolls are looked at in full, to tell why none is begun."""


def _first_of(found: Onward) -> str:
    return "; ".join(f"{one.tag}: {one.reason}" for one in found.staying[:2])


_ENDED = {RunEnd.CANCELLED: "somebody stopped its last run", RunEnd.WELL: "its last run ended just now"}


_COUNTED = 300
"""So many rolls that are behind are looked at; that there are more is told."""


def _behind(order: StandingOrder, to: Store, places: Places) -> tuple[list[RollStanding], bool]:
    """Rolls that the order means and that the store lacks, oldest first; and whether there may be more."""
    lacking, found = _perhaps_lacking(order, to), list[RollStanding]()
    for begin in range(0, len(lacking), _COUNTED):
        some = lacking[begin : begin + _COUNTED]
        standings = roll_standings(some, places).values()
        found += [one for one in standings if _is_meant(order, to, one) and not _has_all(one, to)]
        if len(found) >= _COUNTED:
            return found, begin + len(some) < len(lacking)
    return found, False


def _perhaps_lacking(order: StandingOrder, to: Store) -> list[int]:
    """Rolls, by id, of which the store is not remembered to hold all: few, once an order has caught up.

    What was taken off there to make room is not brought back by itself.
    """
    room_made = Copy.every.filter(store=to).exclude(thinned_at=None).values("roll")
    rolls = Roll.objects.filter(production=order.production_id).exclude(pk__in=room_made)
    ids = list(rolls.order_by("pk").values_list("pk", flat=True))
    there = whole_somewhere(ids, {to.pk: to})
    return [pk for pk in ids if pk not in there]


def _is_meant(order: StandingOrder, to: Store, standing: RollStanding) -> bool:
    """Whether the roll is whole and read back where the order says."""
    good = standing.to_bring_from(to)
    if order.from_store_id:
        return any(one.store.pk == order.from_store_id for one in good)
    if order.from_place_id:
        return any(one.store.device.location_id == order.from_place_id for one in good)
    return bool(good)


def still_needs(order: StandingOrder, source: Store, standing: RollStanding, places: Places) -> bool:
    """Whether an order has still to bring a roll that is on this store, and means what is there."""
    to = places[order.to_store_id]
    of_it = order.from_store_id == source.pk or order.from_place_id == source.device.location_id
    anywhere = order.from_store_id is None and order.from_place_id is None
    return to.pk != source.pk and (of_it or anywhere) and not _has_all(standing, to)


def _has_all(standing: RollStanding, to: Store) -> bool:
    """Whether the store is known to hold all of it, by what it proves itself or better."""
    least = Evidence.ATTESTED if to.attests else Evidence.WRITTEN
    return any(one.store.pk == to.pk and one.facts.whole and one.facts.level >= least for one in standing.copies)


def _lacking(standing: RollStanding, to: Store) -> int:
    there = next((one.facts for one in standing.copies if one.store.pk == to.pk and one.readings), None)
    return there.missing_bytes if there else standing.facts.bytes


def _offloading(rolls: Sequence[int]) -> set[int]:
    return set(Offload.objects.filter(roll__in=rolls, finished_at=None).values_list("roll_id", flat=True))


def _feeds(rolls: Sequence[int], to: Store) -> tuple[set[int], dict[int, list[LastTry]]]:
    """Rolls that are being brought to a store, and how it went before, newest first, by the roll's id."""
    feeds = Feed.objects.filter(roll__in=rolls, copy__store=to)
    return set(feeds.filter(finished_at=None).values_list("roll_id", flat=True)), tries_by("roll_id", feeds)
