"""Finishing what a slow store lacks, from another store's copy instead of the card."""

from collections.abc import Callable, Mapping

from ..errors import SourceError
from ..hashing import Algorithm
from ..sources.listing import EntryKind, Listing
from .engine import transfer
from .lane import Target
from .progress import Progress
from .report import FileFailure, FileRead, StoreResult


def feed(
    good: Target,
    target: Target,
    files: Mapping[str, FileRead],
    algorithm: Algorithm,
    *,
    kept_as: Mapping[str, str] | None = None,
    on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> StoreResult:
    """Copy files from a good copy to another store and prove them there, against what was read off the card.

    files: what to bring, by path on the card, with the checksums the card gave. kept_as: their paths in the copies
    A file that the good copy gives with another checksum is not kept. Never raises for trouble with either store.
    """
    kept_as = kept_as or {}
    on_card = {kept_as.get(path, path): path for path in files}
    try:
        source = good.store.as_source(good.folder)
        above = {path[:n] for path in on_card for n, part in enumerate(path) if part == "/"}
        kinds = {EntryKind.FILE: on_card.keys(), EntryKind.FOLDER: above}
        there = [entry for entry in source.walk() if entry.path in kinds.get(entry.kind, ())]
    except SourceError as error:
        failed = [FileFailure(path, error.sentence) for path in files]
        return StoreResult(target.store.name, target.folder, len(files), failed=failed)
    expected = {kept: files[path].checksum for kept, path in on_card.items()}
    report = transfer(
        source, Listing(tuple(there)), [target], algorithm, expected=expected, on_progress=on_progress,
        cancelled=cancelled,
    )  # fmt: skip
    (result,) = report.stores
    missing = on_card.keys() - {entry.path for entry in there if entry.kind is EntryKind.FILE}
    result.asked = len(files)
    result.agreed = {on_card[path] for path in result.agreed}
    result.behind.clear()
    result.failed = [FileFailure(on_card.get(one.path, one.path), one.reason, one.found) for one in result.failed]
    result.failed += [FileFailure(on_card[path], f"it is missing on '{good.store.name}' too") for path in missing]
    return result
