"""What a station begins by itself: one thing of a kind at a time, and nothing while a card is being offloaded there."""

import contextlib
from collections.abc import Sequence

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.offloads.models import Feed, Offload
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.runs.models import Run, RunQueue
from ruggedraft.runs.queue import Aside
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts

from .acts.leave_landing import leave_landing, take_away
from .landing import copies_on_landing, not_taken_away
from .mending import copies_to_mend
from .models import Care, StandingOrder
from .orders import Places, open_orders, order_standings
from .rereading import copies_due


def keep_up(station: Station) -> list[Run]:
    """Begin what is due of standing orders, mending and reading again, as far as this station can do it now."""
    orders, cares = open_orders(), _cares()
    landing = Store.objects.filter(landing=True).exists()
    if not orders and not cares and not landing:
        return []
    if Offload.objects.filter(station=station, finished_at=None).exists():
        return []
    places = places_of_all()
    if landing:
        _empty_landing_areas(station, places)
    begun: list[Run] = [run for order in orders if (run := _bring(order, station, places))]
    if not Run.objects.filter(station=station, queue=RunQueue.FEEDS, finished_at=None).exists():
        begun += _mend(station, cares, places) or _read_again(station, cares, places)
    return begun


def _empty_landing_areas(station: Station, places: Places) -> None:
    """One roll at a time: the next look at what is due comes soon."""
    for copy in not_taken_away(station, places):
        take_away(copy)
    for copy in copies_on_landing(station, places):
        if leave_landing(copy):
            return


def _cares() -> list[Care]:
    return list(Care.objects.select_related("person").defer("person__password").order_by("store__position", "pk"))


def _bring(order: StandingOrder, station: Station, places: Places) -> Feed | None:
    """The next roll of an order, if it is its hour, it can be reached from here, and nothing of it is under way."""
    if not order.may_begin(order.production, now()) or not store_facts(places[order.to_store_id], station).online:
        return None
    (standing,) = order_standings([order], places)
    if standing.under_way:
        return None
    for going in standing.next.going:
        roll = Roll.objects.get(production=order.production_id, tag=going.tag)
        aside = Aside(order.rate, f"by the standing order to '{order.to_store.name}'")
        with contextlib.suppress(ActRefused):  # what speaks against it is told where the order stands
            return ask_feed(order.person, roll, order.to_store.name, aside)
    return None


def _mend(station: Station, cares: Sequence[Care], places: Places) -> list[Run]:
    for copy, care in copies_to_mend(station, cares, places):
        with contextlib.suppress(ActRefused):  # there may be no other copy to mend it from
            aside = Aside(care.rate, f"as damage on '{copy.store.name}' is to be mended")
            return [ask_feed(care.person, copy.roll, copy.store.name, aside)]
    return []


def _read_again(station: Station, cares: Sequence[Care], places: Places) -> list[Run]:
    for copy, care in copies_due(station, cares, places):
        with contextlib.suppress(ActRefused):
            aside = Aside(care.rate, f"as copies on '{copy.store.name}' are to be")
            return [ask_check(care.person, copy, station, aside)]
    return []
