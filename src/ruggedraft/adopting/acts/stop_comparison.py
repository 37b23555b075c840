from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of

from ..models import StoreComparison


@transaction.atomic
def stop_comparison(person: Person, left: Store | None, right: Store) -> None:
    """Have a comparison that is under way end without having found anything. Raises ActRefused."""
    require(person, May.CHECK, *productions_of(left, right))
    going = (
        StoreComparison.objects.select_for_update(no_key=True).filter(left=left, right=right, finished_at=None).first()
    )
    if going is None:
        raise ActRefused("They are not being compared now.")
    if going.stopped_by_id is None:
        going.stopped_by = person
        going.save(update_fields=["stopped_by"])
        words = f"'{left.name}'" if left else "what the ledger knows of it"
        write_in_each(
            productions_of(left, right),
            "stop comparison",
            right.name,
            f"Comparing '{right.name}' with {words} is to stop.",
            person=person,
        )
        changed(Topic.COMPARING)
