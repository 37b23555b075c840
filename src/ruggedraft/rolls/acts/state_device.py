from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_all_still
from ruggedraft.stores.models import DeviceStatement, Store
from ruggedraft.stores.queries import productions_of


@transaction.atomic
def state_device(person: Person, store: Store, stands_on: str, reason: str) -> DeviceStatement:
    """Say what a store physically stands on, where the machine cannot tell, or what its server stands on besides.

    stands_on: a name for the physical thing; two stores that are said to stand on one thing are one device
    Raises ActRefused where the machine can tell, or without a reason.
    """
    require(person, May.KEEP_STORES, *productions_of(store))
    hold_all_still()
    store = Store.objects.get(pk=store.pk)
    if store.is_local and store.identities and UNKNOWN not in store.identities:
        raise ActRefused(f"The machine can tell what '{store.name}' stands on; nobody needs to say it.")
    if not stands_on.strip() or not reason.strip():
        raise ActRefused("Say what the store stands on, and how you know.")
    said = DeviceStatement.objects.create(
        store=store, stands_on=stands_on.strip()[:80], person=person, at=now(), reason=reason.strip()[:300]
    )
    write_in_each(
        productions_of(store),
        "state device",
        store.name,
        f"'{store.name}' is said to stand on {said.stands_on}: {said.reason}",
        person=person,
    )
    changed(Topic.STORES, Topic.ROLLS, Topic.CARDS)
    return said
