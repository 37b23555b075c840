from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require_everywhere
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Store
from ..queries import productions_of


@transaction.atomic
def choose_backups(person: Person, store: Store, *, on: bool) -> None:
    """Have the ledger backed up to a store too, once a day, or no more. Raises ActRefused.

    A backup on the computer that the ledger is on would go with it.
    """
    require_everywhere(person, May.SET_UP)
    if on and store.system_disk_reason:
        raise ActRefused(f"'{store.name}' is on this computer's own disk: a backup there goes when the computer goes.")
    if on and not store.is_local:
        raise ActRefused(f"'{store.name}' is on a server: the ledger is backed up to drives and mounted shares alone.")
    if Store.objects.filter(pk=store.pk).exclude(keeps_backups=on).update(keeps_backups=on):
        words = "is backed up to" if on else "is no more backed up to"
        write_in_each(
            productions_of(store),
            "choose backups",
            store.name,
            f"The ledger {words} '{store.name}', says {person.shown_name}.",
            person=person,
        )
        changed(Topic.STORES)
