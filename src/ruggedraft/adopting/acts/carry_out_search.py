from collections.abc import Mapping

from ruggedraft.core.errors import StoreError
from ruggedraft.core.recognising import Recognition
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy

from ..listing import all_but_ours
from ..models import StoreSearch
from ..recognised import recognised

_MOST_STRANGERS = 100
_MOST_ROLLS = 2000


def carry_out_search(search: StoreSearch) -> None:
    """Look through a store, on the machine that sees it, and note which rolls seem to lie there."""
    try:
        there = all_but_ours(search.store)
    except StoreError as error:
        _finish(search, trouble=error.sentence[:300])
        return
    copies = Copy.objects.filter(store=search.store).values_list("roll", "folder")
    _note(search, there, recognised(there, [(roll, from_ledger(folder)) for roll, folder in copies]))


def _note(search: StoreSearch, there: Mapping[str, int], found: Recognition) -> None:
    strangers = [[to_ledger(one.folder), one.files, one.bytes] for one in found.strangers]
    _finish(
        search, files=len(there), bytes=sum(there.values()),
        rolls=[[one.roll, to_ledger(one.folder), one.files, one.bytes] for one in found.rolls[:_MOST_ROLLS]],
        strangers=strangers[:_MOST_STRANGERS], strangers_left=max(0, len(strangers) - _MOST_STRANGERS),
    )  # fmt: skip


def _finish(search: StoreSearch, **found: object) -> None:
    StoreSearch.objects.filter(pk=search.pk).update(finished_at=now(), **found)
    changed(Topic.STORES)
