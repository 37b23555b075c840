from collections.abc import Mapping

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import FILE_SYSTEMS, name_problems
from ruggedraft.core.preflight import Demand, gigabytes
from ruggedraft.core.proposing import printable
from ruggedraft.core.redundancy import CopyFacts, StoreFacts
from ruggedraft.core.sources import from_ledger
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import all_stations, is_running
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.recording import want_copy
from ruggedraft.rolls.summaries import places_in, places_of_all, roll_standings
from ruggedraft.runs.queries import refuse_while_room_is_made
from ruggedraft.runs.queue import Aside, add_to_queue, is_open
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts

from ..models import Feed, Offload


@transaction.atomic
def ask_feed(person: Person, roll: Roll, store_name: str, aside: Aside | None = None) -> Feed:
    """Have a roll brought to a store from a verified copy: all of it, or what its copy there lacks or has damaged.

    The card is not needed. Raises ActRefused with what speaks against it.
    aside: nobody waits for it
    """
    require(person, May.OFFLOAD, roll.production_id)
    hold_still(roll.production_id)
    refuse_while_room_is_made(roll)
    store, last, station = _judged(roll, store_name)
    copy = want_copy(roll, store, _folder(roll))
    subject = Feed.subject_of(copy.pk)
    if is_open(subject):
        raise ActRefused(f"{roll.tag} is being brought to '{store.name}' already.")
    feed = Feed(subject=subject, roll=roll, station=station, person=person, offload=last, copy=copy)
    add_to_queue(feed, aside)
    sentence = (
        f"{roll.tag} is to be brought to '{store.name}' from a verified copy{f', {aside.because}' if aside else ''}."
    )
    write("ask feed", roll.tag, sentence, person=person, origin=station.name, production=roll.production_id)
    changed(Topic.ROLLS, Topic.CARDS, rolls=[roll.tag], production=roll.production_id)
    return feed


def what_speaks_against(roll: Roll, store_name: str) -> str:
    """Why a roll would not be brought to a store now, as a sentence; empty where nothing speaks against it."""
    try:
        _judged(roll, store_name)
    except ActRefused as error:
        return error.sentence
    return ""


def _judged(roll: Roll, store_name: str) -> tuple[Store, Offload, Station]:
    """The store, the roll's last offload, and the station that would bring it. Raises ActRefused."""
    places = places_of_all()
    store = next((one for one in places_in(roll.production, places).values() if one.name == store_name), None)
    if store is None:
        raise ActRefused(f"There is no store '{store_name}'.")
    (standing,) = roll_standings([roll.pk], places, in_full=True).values()
    last = _last_offload(standing)
    _refuse_what_it_cannot_take(standing, store)
    return store, last, _station(standing, store, places)


def _last_offload(standing: RollStanding) -> Offload:
    tag = standing.roll.tag
    last = Offload.objects.filter(roll=standing.roll).order_by("-pk").first()
    if last is None or standing.facts.unread:
        raise ActRefused(f"Not all of {tag} was read off its card: offload the card first.")
    if last.finished_at is None:
        raise ActRefused(f"{tag} is being offloaded: wait for that, it may bring what is missing.")
    return last


def _folder(roll: Roll) -> str:
    """Copies of a roll lie in the same folder on every store, but for those that somebody moved, or that were found."""
    folders = list(roll.copies.order_by("pk").values_list("folder", flat=True))
    return max(folders, key=folders.count)


def _refuse_what_it_cannot_take(standing: RollStanding, store: Store) -> None:
    """The store is not there, has it all, has no room, or cannot hold the names."""
    facts, tag = store_facts(store), standing.roll.tag
    if store.retired_at:
        raise ActRefused(f"'{store.name}' is out of service: use another store, or take it into service again.")
    if facts.lost:
        raise ActRefused(f"'{store.name}' was reported lost: say that it was found first.")
    if not facts.online:
        raise ActRefused(f"'{store.name}' is not connected to any station: connect it.")
    there = next((one.facts for one in standing.copies if one.store.pk == store.pk and one.readings), None)
    if there and there.whole_and_read_back:
        raise ActRefused(f"'{store.name}' is known to hold all of {tag}: check it, where that was long ago.")
    _refuse_without_room(_demand(standing, there, facts))
    _refuse_names(standing.roll, store)


def _refuse_without_room(demand: Demand) -> None:
    if demand.needed > demand.store.free:
        has, asks = gigabytes(demand.store.free), gigabytes(demand.needed)
        name = demand.store.name
        raise ActRefused(f"'{name}' has {has} free, and {asks} are needed: make room, or use another store.")


def _refuse_names(roll: Roll, store: Store) -> None:
    files = roll.files.values_list("path", "kept_as", "size")
    names = [(from_ledger(kept or path), size) for path, kept, size in files]
    for unfit in name_problems(names, FILE_SYSTEMS[store.file_system])[:1]:
        raise ActRefused(f"'{store.name}' cannot hold '{printable(unfit.path)}': {unfit.reason}. Use another store.")


def _demand(standing: RollStanding, there: CopyFacts | None, store: StoreFacts) -> Demand:
    if there:
        return Demand(store, there.missing_bytes, there.missing_files)
    return Demand(store, standing.facts.bytes, standing.facts.files)


def _station(standing: RollStanding, store: Store, places: Mapping[int, Store]) -> Station:
    """One that sees the store and a verified copy; better one whose worker is there."""
    good = standing.to_bring_from(store)
    if not good:
        raise ActRefused(f"No other copy of {standing.roll.tag} is whole and read back: offload the card again.")
    able = [
        station
        for station in all_stations()
        if store_facts(store, station).online and any(store_facts(places[one.store.pk], station).online for one in good)
    ]
    if not able:
        names = ", ".join(f"'{one.store.name}'" for one in good)
        raise ActRefused(f"No station sees both '{store.name}' and a verified copy: connect one of {names} beside it.")
    return max(able, key=is_running)
