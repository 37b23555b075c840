from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Copy
from ruggedraft.runs.queries import refuse_while_room_is_made
from ruggedraft.runs.queue import Aside, add_to_queue, is_open
from ruggedraft.stores.queries import is_lost, station_that_sees, stores

from ..models import CheckRun


@transaction.atomic
def ask_check(
    person: Person, copy: Copy, station: Station | None = None, aside: Aside | None = None, *, first: bool = False
) -> CheckRun:
    """Have a station that sees the store read a copy again, whole.

    station: which does, where that is known better than the ledger knows it. aside: nobody waits for it
    first: nothing is known of it yet, as of one that was found
    """
    require(person, May.CHECK, copy.roll.production_id)
    hold_still(copy.roll.production_id)
    refuse_while_room_is_made(copy.roll)
    subject = CheckRun.subject_of(copy.pk)
    if is_open(subject):
        raise ActRefused(f"{copy.roll.tag} on '{copy.store.name}' is being checked already.")
    store = stores().get(pk=copy.store_id)
    if is_lost(store):
        raise ActRefused(f"'{copy.store.name}' was reported lost: say that it was found first, then check it.")
    if not first and not copy.readings.exists():
        raise ActRefused(f"{copy.roll.tag} has never been written to '{copy.store.name}': there is nothing to check.")
    station = station or station_that_sees(store)
    if station is None:
        raise ActRefused(f"'{store.name}' is not connected to any station: connect it, then check it.")
    check_run = CheckRun(subject=subject, roll=copy.roll, copy=copy, station=station, person=person)
    add_to_queue(check_run, aside)
    write(
        "ask check",
        copy.roll.tag,
        f"{copy.roll.tag} on '{copy.store.name}' is to be read again{f', {aside.because}' if aside else ''}.",
        person=person,
        production=copy.roll.production_id,
    )
    changed(Topic.ROLLS, rolls=[copy.roll.tag], production=copy.roll.production_id)
    return check_run
