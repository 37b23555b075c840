"""Which rolls of the ledger seem to lie among some files."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from django.db import connection
from django.db.models import Count

from ruggedraft.core.recognising import KnownFile, Place, Recognition, recognise
from ruggedraft.core.sources import from_ledger
from ruggedraft.rolls.models import RollFile


def recognised(there: Mapping[str, int], settled: Iterable[Place] = ()) -> Recognition:
    """By names and sizes. there: sizes by path. settled: rolls (ids) and folders where copies are known to be"""
    known = list(_known(there))
    return recognise(there, known, _sizes(known), settled)


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
