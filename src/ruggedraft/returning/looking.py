"""Looking into a folder that somebody works in, on the machine that it is on. Nothing is changed."""

from collections import Counter
from collections.abc import Mapping, Sequence

from django.db import transaction

from ruggedraft.adopting.reading_along import NotWanted, ReadingAlong
from ruggedraft.core.comparing import Comparison, Contents, Difference, Kind, Spool, compare, of_what_is_known
from ruggedraft.core.errors import StoreError
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT, algorithm_named
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.stores import LocalStore
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from .models import FolderLook, FolderRow, RowKind
from .places import lies_on, opened_folder
from .wanted import Unknown, Wanted, wanted_in


def carry_out_look(look: FolderLook) -> None:
    """Compare the folder with what ought to lie there, and note every file of it that is not as it was."""
    along = ReadingAlong(look)
    with Spool[Difference]() as rows:
        try:
            folder, stands_on = opened_folder(look.folder), lies_on(look.folder)
            there = {path: size for path, (size, _) in folder.look("").items()}
            wanted, unknown = wanted_in(look, there)
            found, cached = _compared(look, folder, there, wanted, along, rows)
            if lies_on(look.folder) != stands_on:
                raise NotWanted("another drive is there now: look again")
        except StoreError as error:
            _end(look, trouble=error.sentence[:300])
        except NotWanted as stopped:
            _end(look, trouble=stopped.sentence)
        else:
            _note(look, found, wanted, unknown, cached=cached, stands_on=stands_on)
    changed(Topic.COMPARING)


def _compared(
    look: FolderLook, folder: LocalStore, there: Mapping[str, int], wanted: Mapping[str, Wanted], along: ReadingAlong,
    rows: Spool[Difference],
) -> tuple[Comparison, int]:  # fmt: skip
    """Also, how many files may have come from the machine's memory. Raises StoreError, NotWanted."""
    sizes = [(path, one.size) for path, one in wanted.items()]
    if not look.by_content:
        return compare(sizes, there.items(), rows=rows), 0
    known = {path: (algorithm_named(one.algorithm), one.checksum) for path, one in wanted.items()}
    count = Counter(algorithm for algorithm, _ in known.values()).most_common(1)
    read = Contents(folder, along.on_data)
    reader = of_what_is_known(known, read, count[0][0] if count else ALGORITHMS[DEFAULT])
    return compare(sizes, there.items(), reader, rows), read.cached


_TOLD = {Kind(kind.value) for kind in RowKind if kind is not RowKind.UNKNOWN}


@transaction.atomic
def _note(
    look: FolderLook, found: Comparison, wanted: Mapping[str, Wanted], unknown: Sequence[Unknown], *, cached: int,
    stands_on: list[str],
) -> None:  # fmt: skip
    """Once, and whole: a look that was noted half says nothing."""
    if not FolderLook.objects.select_for_update(no_key=True).filter(pk=look.pk, finished_at=None).exists():
        return
    rows = [
        FolderRow(
            look=look, kind=row.kind.value, path=to_ledger(row.path), file_id=wanted[row.path].file,
            size=wanted[row.path].size, elsewhere=to_ledger(row.elsewhere), reason=row.reason,
        )
        for row in found.rows
        if row.kind in _TOLD
    ]  # fmt: skip
    rows += [FolderRow(look=look, kind=RowKind.UNKNOWN, path=one.path, reason=one.reason) for one in unknown]
    for n, row in enumerate(rows):
        row.n = n
    FolderRow.objects.bulk_create(rows, batch_size=1000)
    kinds = {kind.value: [tally.files, tally.bytes] for kind, tally in found.kinds.items()}
    _end(
        look, files=found.right.files, bytes=found.right.bytes, kinds=kinds, cached=cached, stands_on=stands_on
    )  # fmt: skip


def _end(look: FolderLook, **found: object) -> None:
    FolderLook.objects.filter(pk=look.pk).update(finished_at=now(), **found)
