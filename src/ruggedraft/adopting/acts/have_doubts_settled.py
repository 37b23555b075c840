from collections.abc import Iterable

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.core.comparing import Comparison, Kind
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import from_ledger
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.tasks import ask_look
from ruggedraft.runs.queue import Aside
from ruggedraft.stores.models import Store

from ..models import StoreComparison

_ON_BOTH = (Kind.DIFFERENT, Kind.UNREADABLE)
_OF_THE_LEDGER = (*_ON_BOTH, Kind.MISSING, Kind.MOVED)


def have_doubts_settled(asked: StoreComparison, found: Comparison) -> int:
    """Have copies in which a comparison found something read again, or looked at, by what notes it. Returns how many.

    A comparison notes no evidence; without this a file that was seen to be another would go on to pass for verified.
    """
    kinds = _ON_BOTH if asked.left else _OF_THE_LEDGER
    doubted: list[Copy] = []
    for store in (asked.left, asked.right):
        if store:
            doubted += _copies_with(store, (row.path for row in found.rows if row.kind in kinds))
    for copy in doubted:
        if asked.by_content:
            _read_again(asked, copy)
        else:
            ask_look(copy, asked.station)
    return len(doubted)


def _read_again(asked: StoreComparison, copy: Copy) -> None:
    try:
        ask_check(asked.person, copy, asked.station, Aside(None, "as a comparison found something in it"))
    except ActRefused:  # it is being read already, or whoever asked may not any more: a look is no less true
        ask_look(copy, asked.station)


def _copies_with(store: Store, paths: Iterable[str]) -> list[Copy]:
    """Of the copies on a store those in whose folders these lie."""
    there = Copy.objects.filter(store=store).select_related("roll", "store")
    folders = {from_ledger(copy.folder): copy for copy in there}
    found: dict[int, Copy] = {}
    for path in paths:
        folder = path
        while folder:
            folder = folder.rpartition("/")[0]
            if folder in folders:
                found[folders[folder].pk] = folders[folder]
    return list(found.values())
