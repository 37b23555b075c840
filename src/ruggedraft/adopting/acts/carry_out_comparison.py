from collections import Counter
from collections.abc import Iterable, Iterator

from django.db import connection, transaction
from django.db.models import Q

from ruggedraft.core.comparing import (
    Comparison,
    Contents,
    Difference,
    Kind,
    Reader,
    Spool,
    compare,
    of_two_stores,
    of_what_is_known,
)
from ruggedraft.core.errors import StoreError
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT, Algorithm, algorithm_named
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores.port import beneath
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.queries import need_not_be_there
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_usable

from ..listing import all_but_ours
from ..models import StoreComparison
from ..reading_along import NotWanted, ReadingAlong
from .have_doubts_settled import have_doubts_settled

_ROW = """
COPY adopting_comparisonrow (comparison_id, n, kind, path, "left", "right", elsewhere, reason) FROM STDIN
"""


def carry_out_comparison(asked: StoreComparison) -> None:
    """Compare two stores on the machine that sees both, and note every difference; nothing is changed.

    By names and sizes nothing is read; by content everything of which both have as many bytes.
    """
    with Spool[Difference]() as rows:
        try:
            found, cached = _compared(asked, rows)
        except StoreError as error:
            _end(asked, trouble=error.sentence[:300])
        except NotWanted as stopped:
            _end(asked, trouble=stopped.sentence)
        else:
            _note(asked, found, cached)
    changed(Topic.COMPARING)


def _end(asked: StoreComparison, **found: object) -> None:
    StoreComparison.objects.filter(pk=asked.pk).update(finished_at=now(), **found)


def _compared(asked: StoreComparison, rows: Spool[Difference]) -> tuple[Comparison, int]:
    """Also, how many files may have come from this machine's memory. Raises StoreError, NotWanted."""
    on_right = all_but_ours(asked.right).items()
    if not asked.by_content:
        known = ((path, size) for path, size, _, _ in _known_to_be_on(asked.right))
        return compare(all_but_ours(asked.left).items() if asked.left else known, on_right, rows=rows), 0
    along = ReadingAlong(asked)
    read = [Contents(open_usable(store), along.on_data) for store in (asked.left, asked.right) if store]
    on_left, reader = _both_read(asked.left, *read) if asked.left else _known_beside(asked.right, *read)
    found = compare(on_left, on_right, reader, rows)
    for store in (asked.left, asked.right):
        if store:
            open_usable(store)  # still there, and still itself: what was read was read of it
    return found, sum(side.cached for side in read)


_LEFT = tuple[Iterable[tuple[str, int]], Reader]


def _both_read(left: Store, *read: Contents) -> _LEFT:
    of_left, of_right = read
    return all_but_ours(left).items(), of_two_stores(of_left, of_right, ALGORITHMS[DEFAULT])


def _known_beside(store: Store, read: Contents) -> _LEFT:
    """What is listed is what is looked up: a roll that comes meanwhile is in neither."""
    sizes: dict[str, int] = {}
    known: dict[str, tuple[Algorithm, str]] = {}
    for path, size, algorithm, checksum in _known_to_be_on(store):
        sizes[path], known[path] = size, (algorithm_named(algorithm), checksum)
    count = Counter(algorithm for algorithm, _ in known.values()).most_common(1)
    usual = count[0][0] if count else ALGORITHMS[DEFAULT]
    return sizes.items(), of_what_is_known(known, read, usual)


_KNOWN = """
SELECT c.folder, COALESCE(NULLIF(f.kept_as, ''), f.path), f.size, r.algorithm, f.checksum FROM rolls_copy c
JOIN rolls_roll r ON r.id = c.roll_id JOIN rolls_rollfile f ON f.roll_id = c.roll_id
WHERE c.store_id = %s AND c.left_at IS NULL AND f.checksum <> ''
AND EXISTS (SELECT FROM rolls_reading e WHERE e.copy_id = c.id) AND f.id <> ALL (%s::bigint[])
"""


def _known_to_be_on(store: Store) -> Iterator[tuple[str, int, str, str]]:
    """What the ledger's copies there are made of, whether all of it was found or not, but for what nobody misses there.

    Path, bytes, and which checksum its content came to on the card.
    """
    perhaps = Copy.objects.filter(Q(roll__waivers__isnull=False) | Q(thinned_at__isnull=False), store=store).distinct()
    unmissed = [file for copy in perhaps.select_related("roll") for file in need_not_be_there(copy)]
    with connection.cursor() as cursor:
        cursor.execute(_KNOWN, [store.pk, unmissed])
        while rows := cursor.fetchmany(10_000):
            for folder, path, size, algorithm, checksum in rows:
                yield beneath(from_ledger(folder), from_ledger(path)), size, algorithm, checksum


@transaction.atomic
def _note(asked: StoreComparison, found: Comparison, cached: int) -> None:
    """Once, and whole: a comparison that was noted half says nothing."""
    if not StoreComparison.objects.select_for_update(no_key=True).filter(pk=asked.pk, finished_at=None).exists():
        return  # another one took its place
    no_roll = _of_no_roll(found, asked.left) if asked.left else 0
    with connection.cursor() as cursor, cursor.copy(_ROW) as copy:
        for n, row in enumerate(found.rows):
            sizes = (None if size < 0 else size for size in (row.left, row.right))
            words = (to_ledger(row.elsewhere), row.reason)
            copy.write_row((asked.pk, n, row.kind.value, to_ledger(row.path), *sizes, *words))
    _end(
        asked, cached=cached, doubted=have_doubts_settled(asked, found),
        left_files=found.left.files, left_bytes=found.left.bytes,
        right_files=found.right.files, right_bytes=found.right.bytes, no_roll=no_roll,
        kinds={kind.value: [tally.files, tally.bytes] for kind, tally in found.kinds.items()},
    )  # fmt: skip


def _of_no_roll(found: Comparison, left: Store) -> int:
    """How many of what is missing on the right are no file of a roll on the left. Both come in order of their paths."""
    with Spool[tuple[str]]() as known:
        known.extend((path,) for path, *_ in _known_to_be_on(left))
        of_rolls, count = iter(known), 0
        here = next(of_rolls, None)
        for row in found.rows:
            if row.kind is Kind.MISSING:
                while here and here[0] < row.path:
                    here = next(of_rolls, None)
                count += here is None or here[0] != row.path
        return count
