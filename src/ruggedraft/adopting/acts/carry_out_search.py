from collections.abc import Iterator, Mapping, Sequence

from django.db import connection
from django.db.models import Count

from ruggedraft.core.errors import StoreError
from ruggedraft.core.recognising import KnownFile, Recognition, recognise
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy, RollFile

from ..listing import all_but_ours
from ..models import StoreSearch

_MOST_STRANGERS = 100
_MOST_ROLLS = 2000


def carry_out_search(search: StoreSearch) -> None:
    """Look through a store, on the machine that sees it, and note which rolls seem to lie there."""
    try:
        there = all_but_ours(search.store)
    except StoreError as error:
        _finish(search, trouble=error.sentence[:300])
        return
    known = list(_known(there))
    copies = Copy.objects.filter(store=search.store).values_list("roll", "folder")
    settled = [(roll, from_ledger(folder)) for roll, folder in copies]
    _note(search, there, recognise(there, known, _sizes(known), settled))


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


_KNOWN = """
SELECT roll_id, COALESCE(NULLIF(kept_as, ''), path), size FROM rolls_rollfile
WHERE checksum <> '' AND size = ANY(%s)
"""


def _known(there: Mapping[str, int]) -> Iterator[KnownFile]:
    """Files of rolls that have a size that some file on the store has."""
    with connection.cursor() as cursor:
        cursor.execute(_KNOWN, [sorted(set(there.values()))])
        for roll, path, size in cursor.fetchall():
            yield KnownFile(roll, from_ledger(path), size)


def _sizes(known: Sequence[KnownFile]) -> dict[int, int]:
    """How many files each of their rolls has."""
    rolls = {one.roll for one in known}
    rows = RollFile.objects.filter(roll__in=rolls).values_list("roll").annotate(files=Count("pk"))
    return dict(rows.values_list("roll", "files"))
