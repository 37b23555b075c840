from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of

from ..models import Care
from ..pacing import Pacing

_MOST_DAYS = 3650


@transaction.atomic
def set_care(person: Person, store: Store, pacing: Pacing, *, check_days: int | None, mends: bool) -> None:
    """Say what is done by itself for the copies on a store. Raises ActRefused.

    check_days: read again what was not read for so many days; None: nothing is
    """
    require(person, May.KEEP_STORES, *productions_of(store))
    pacing.require_sense()
    if check_days is not None and not 1 <= check_days <= _MOST_DAYS:
        raise ActRefused(f"Copies can be read again every 1 to {_MOST_DAYS:,} days.")
    Care.objects.update_or_create(
        store=store,
        defaults={
            "check_days": check_days, "mends": mends, "begins": pacing.hours.begin, "ends": pacing.hours.end,
            "rate": pacing.rate, "person": person, "at": now(),
        },
    )  # fmt: skip
    write_in_each(
        productions_of(store), "set care", store.name, _sentence(store, pacing, check_days, mends=mends), person=person
    )
    changed(Topic.STORES)


def _sentence(store: Store, pacing: Pacing, check_days: int | None, *, mends: bool) -> str:
    read = f"read again by themselves every {counted(check_days, 'day')}" if check_days else "not read by themselves"
    mend = "and mended by themselves where they are damaged" if mends else "and mended only when somebody asks"
    return f"Copies on '{store.name}' are {read} {mend}{pacing.words}."
