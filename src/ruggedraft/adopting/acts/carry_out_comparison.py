from collections.abc import Iterator

from django.db import connection, transaction

from ruggedraft.core.comparing import Comparison, Difference, Kind, Spool, compare
from ruggedraft.core.errors import StoreError
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.models import Store

from ..listing import all_but_ours
from ..models import StoreComparison

_ROW = 'COPY adopting_comparisonrow (comparison_id, n, kind, path, "left", "right", elsewhere) FROM STDIN'


def carry_out_comparison(asked: StoreComparison) -> None:
    """Compare two stores on the machine that sees both, and note every difference; nothing is read or changed."""
    with Spool[Difference]() as rows:
        try:
            left = all_but_ours(asked.left).items() if asked.left else _known_to_be_on(asked.right)
            found = compare(left, all_but_ours(asked.right).items(), rows=rows)
        except StoreError as error:
            StoreComparison.objects.filter(pk=asked.pk).update(finished_at=now(), trouble=error.sentence[:300])
        else:
            _note(asked, found)
    changed(Topic.STORES)


_KNOWN = """
SELECT c.folder, COALESCE(NULLIF(f.kept_as, ''), f.path), f.size FROM rolls_copy c
JOIN rolls_rollfile f ON f.roll_id = c.roll_id WHERE c.store_id = %s AND c.left_at IS NULL AND f.checksum <> ''
AND EXISTS (SELECT FROM rolls_reading r WHERE r.copy_id = c.id)
"""


def _known_to_be_on(store: Store) -> Iterator[tuple[str, int]]:
    """What the ledger's copies there are made of, whether all of it was found or not."""
    with connection.cursor() as cursor:
        cursor.execute(_KNOWN, [store.pk])
        while rows := cursor.fetchmany(10_000):
            for folder, path, size in rows:
                yield f"{from_ledger(folder)}/{from_ledger(path)}", size


@transaction.atomic
def _note(asked: StoreComparison, found: Comparison) -> None:
    """Once, and whole: a comparison that was noted half says nothing."""
    no_roll = _of_no_roll(found, asked.left) if asked.left else 0
    with connection.cursor() as cursor, cursor.copy(_ROW) as copy:
        for n, row in enumerate(found.rows):
            sizes = (None if size < 0 else size for size in (row.left, row.right))
            copy.write_row((asked.pk, n, row.kind.value, to_ledger(row.path), *sizes, to_ledger(row.elsewhere)))
    StoreComparison.objects.filter(pk=asked.pk).update(
        finished_at=now(), left_files=found.left.files, left_bytes=found.left.bytes,
        right_files=found.right.files, right_bytes=found.right.bytes, no_roll=no_roll,
        kinds={kind.value: [tally.files, tally.bytes] for kind, tally in found.kinds.items()},
    )  # fmt: skip


def _of_no_roll(found: Comparison, left: Store) -> int:
    """How many of what is missing on the right are no file of a roll on the left. Both come in order of their paths."""
    with Spool[tuple[str]]() as known:
        known.extend((path,) for path, _ in _known_to_be_on(left))
        of_rolls, count = iter(known), 0
        here = next(of_rolls, None)
        for row in found.rows:
            if row.kind is Kind.MISSING:
                while here and here[0] < row.path:
                    here = next(of_rolls, None)
                count += here is None or here[0] != row.path
        return count
