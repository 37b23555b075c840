"""Looking into a folder that somebody works in, on the machine that it is on. Nothing is changed."""

from collections import Counter
from collections.abc import Mapping, Sequence

from django.db import transaction

from ruggedraft.adopting.reading_along import NotWanted, ReadingAlong
from ruggedraft.core.comparing import Comparison, Contents, Difference, Kind, Spool, compare, of_what_is_known
from ruggedraft.core.errors import StoreError
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT, algorithm_named
from ruggedraft.core.sources import to_ledger
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import RollFile

from .models import FolderLook, FolderRow, RowKind
from .places import lies_on, opened_folder
from .wanted import Unknown, Wanted, files_of_sizes, wanted_in


def carry_out_look(look: FolderLook) -> None:
    """Compare the folder with what ought to lie there, and note every file of it that is not as it was."""
    along = ReadingAlong(look)
    with Spool[Difference]() as rows:
        try:
            folder, stands_on = opened_folder(look.folder), lies_on(look.folder)
            there = {path: size for path, (size, _) in folder.look("").items()}
            wanted, unknown = wanted_in(look, there)
            read = Contents(folder, along.on_data)
            found = _compared(look, read, there, wanted, rows)
            renamed = _renamed(look, read, found) if look.by_content and not look.listed else {}
            if lies_on(look.folder) != stands_on:
                raise NotWanted("another drive is there now: look again")
        except StoreError as error:
            _end(look, trouble=error.sentence[:300])
        except NotWanted as stopped:
            _end(look, trouble=stopped.sentence)
        else:
            told = [*_rows(look, found, wanted), *_of_renamed(look, renamed), *_of_unknown(look, unknown)]
            _note(look, found, told, cached=read.cached, stands_on=stands_on)
    changed(Topic.COMPARING)


def _compared(
    look: FolderLook, read: Contents, there: Mapping[str, int], wanted: Mapping[str, Wanted], rows: Spool[Difference]
) -> Comparison:
    """Raises StoreError, NotWanted."""
    sizes = [(path, one.size) for path, one in wanted.items()]
    if not look.by_content:
        return compare(sizes, there.items(), rows=rows)
    known = {path: (algorithm_named(one.algorithm), one.checksum) for path, one in wanted.items()}
    count = Counter(algorithm for algorithm, _ in known.values()).most_common(1)
    reader = of_what_is_known(known, read, count[0][0] if count else ALGORITHMS[DEFAULT])
    return compare(sizes, there.items(), reader, rows)


def _renamed(look: FolderLook, read: Contents, found: Comparison) -> dict[str, int]:
    """Ids of files of this production that stand where none belongs, by their paths: by content, whatever their names.

    Raises StoreVanished, NotWanted.
    """
    extra = {row.path: row.right for row in found.rows if row.kind is Kind.EXTRA}
    alike = files_of_sizes(look.production, set(extra.values()))
    known: dict[str, int] = {}
    for path, size in extra.items():
        for algorithm, by_checksum in alike.get(size, {}).items():
            checksum = read.sum_if_any(path, algorithm_named(algorithm))
            if checksum in by_checksum:
                known[path] = by_checksum[checksum]
    return known


_TOLD = {Kind(kind.value): kind for kind in RowKind if kind not in (RowKind.RENAMED, RowKind.UNKNOWN)} | {
    Kind.WORKING: RowKind.DIFFERENT  # a sidecar of a roll that somebody edited is not as it was either
}


def _rows(look: FolderLook, found: Comparison, wanted: Mapping[str, Wanted]) -> list[FolderRow]:
    rows = [
        FolderRow(
            look=look, kind=_TOLD[row.kind], path=to_ledger(row.path), file_id=wanted[row.path].file,
            size=wanted[row.path].size, elsewhere=to_ledger(row.elsewhere), reason=row.reason,
        )
        for row in found.rows
        if row.kind in _TOLD and row.path in wanted
    ]  # fmt: skip
    return sorted(rows, key=lambda row: row.path)


def _of_renamed(look: FolderLook, renamed: Mapping[str, int]) -> list[FolderRow]:
    called = RollFile.objects.in_bulk(renamed.values())
    return [
        FolderRow(
            look=look, kind=RowKind.RENAMED, path=to_ledger(path), file_id=file, size=called[file].size,
            reason=called[file].kept_as or called[file].path,
        )
        for path, file in sorted(renamed.items())
    ]  # fmt: skip


def _of_unknown(look: FolderLook, unknown: Sequence[Unknown]) -> list[FolderRow]:
    return [FolderRow(look=look, kind=RowKind.UNKNOWN, path=one.path, reason=one.reason) for one in unknown]


@transaction.atomic
def _note(look: FolderLook, found: Comparison, rows: Sequence[FolderRow], *, cached: int, stands_on: list[str]) -> None:
    """Once, and whole: a look that was noted half says nothing."""
    if not FolderLook.objects.select_for_update(no_key=True).filter(pk=look.pk, finished_at=None).exists():
        return
    for n, row in enumerate(rows):
        row.n = n
    FolderRow.objects.bulk_create(rows, batch_size=1000)
    same = found.kinds[Kind.IDENTICAL].files
    _end(look, expected=found.left.files, same=same, cached=cached, stands_on=stands_on)


def _end(look: FolderLook, **found: object) -> None:
    FolderLook.objects.filter(pk=look.pk).update(finished_at=now(), **found)
