from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Store
from ..queries import productions_of


@transaction.atomic
def share_store(person: Person, store: Store, production: int, name: str) -> None:
    """Have another production (id) use a store too: its people see it, and whoever changes it needs leave in both.

    name: of that production, for the log. Raises ActRefused where it does already.
    """
    mine = productions_of(store)
    require(person, May.KEEP_STORES, *mine, production)
    if production in mine:
        raise ActRefused(f"'{store.name}' is used in {name} already.")
    store.productions.add(production)
    words = f"'{store.name}' is used in {name} too from now on."
    for one in (*mine, production):
        write("share store", store.name, words, person=person, production=one)
    changed(Topic.STORES, Topic.SETUP)
