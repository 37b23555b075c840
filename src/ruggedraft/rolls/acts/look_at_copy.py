import time
from collections.abc import Mapping
from datetime import timedelta
from uuid import UUID

from django.db import transaction

from ruggedraft.core.errors import StoreError
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.wording import counted
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.stores.opening import open_store
from ruggedraft.stores.queries import is_lost, stores

from ..models import Copy
from ..queries import files_held
from ..recording import Began, begin, record_look


def look_at_copy(copy: Copy) -> int | None:
    """Compare a copy's names, sizes and times with the roll's; nothing is read.

    Returns how many files are newly at fault, None where the store is not there, which says nothing.
    """
    began = begin()
    try:
        there = open_store(copy.store).look(copy.folder)
        open_store(copy.store)  # still there, and still itself: what was seen was seen of it
    except StoreError:
        return None
    return _note(copy, began, {to_ledger(path): facts for path, facts in there.items()})


@transaction.atomic
def _note(copy: Copy, began: Began, there: Mapping[str, tuple[int, int | None]]) -> int | None:
    hold_still(copy.roll.production_id)
    if is_lost(stores().get(pk=copy.store_id)):
        return None
    faults = record_look(copy, began, there, files_held(copy))
    if faults:
        words = counted(faults, "file is", "files are")
        sentence = f"{copy.roll.tag} on '{copy.store.name}': {words} not as they were left."
        write("look", copy.roll.tag, sentence, person=None, production=copy.roll.production_id)
        changed(Topic.ROLLS, Topic.CARDS, rolls=[copy.roll.tag], production=copy.roll.production_id)
    else:
        changed(Topic.LOOKS, rolls=[copy.roll.tag], production=copy.roll.production_id)
    return faults


_LOOK_AGAIN = timedelta(minutes=30)
_TRY_AGAIN_S = 600.0
_in_vain: dict[tuple[UUID, int], float] = {}
"""When copies were last looked at in vain, by store and copy: those behind them are to have their turn."""


def look_at_the_oldest(station: Station) -> bool:
    """Of the copies on stores that this station sees, look at the one that was not looked at for longest.

    False if none is due. Called now and then, so that what somebody deletes by mistake is noticed the same hour.
    """
    due = Copy.objects.filter(store__sightings__online=True, store__sightings__station=station, readings__isnull=False)
    due = due.exclude(look__began_at__gt=now() - _LOOK_AGAIN).select_related("roll", "store__device")
    in_vain = _in_vain_lately()
    for copy in due.order_by("look__began_at", "pk").distinct()[: len(in_vain) + 1]:
        if (copy.store.uuid, copy.pk) not in in_vain:
            if look_at_copy(copy) is None:
                _in_vain[copy.store.uuid, copy.pk] = time.monotonic()
            return True
    return False


def _in_vain_lately() -> set[tuple[UUID, int]]:
    return {one for one, at in _in_vain.items() if time.monotonic() - at < _TRY_AGAIN_S}
