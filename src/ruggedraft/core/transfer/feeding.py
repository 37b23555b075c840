"""Finishing what a slow store lacks, from another store's copy instead of the card."""

from collections.abc import Callable, Mapping, Set
from dataclasses import replace

from ..errors import SourceError
from ..hashing import Algorithm
from ..sources.listing import EntryKind, Listing
from ..sources.port import CardSource
from .asked import Target
from .capped import CappedSource, RateCap
from .engine import transfer
from .progress import Progress
from .report import FileFailure, FileRead, StoreResult


def feed(
    good: Target,
    target: Target,
    files: Mapping[str, FileRead],
    algorithm: Algorithm,
    *,
    kept_as: Mapping[str, str] | None = None,
    placed: Mapping[str, str] | None = None,
    cap: RateCap | None = None,
    on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> StoreResult:
    """Copy files from a good copy to another store and prove them there, against what was read off the card.

    files: what to bring, by path on the card, with the times and checksums the card gave
    kept_as: their paths in the copies. placed: where they go in the target's folder, where that is another path than in
        the good copy; by path on the card. cap: how fast it may be read
    A file that the good copy gives with another checksum is not kept. Never raises for trouble with either store.
    """
    kept_as = kept_as or {}
    on_card = {kept_as.get(path, path): path for path in files}
    try:
        source: CardSource = good.store.as_source(good.folder)
        source = CappedSource(source, cap) if cap else source
        there = _listed(source, on_card.keys())
    except SourceError as error:
        failed = [FileFailure(path, error.sentence) for path in files]
        return StoreResult(target.store.name, target.folder, len(files), failed=failed)
    expected = {kept: files[path].checksum for kept, path in on_card.items()}
    report = transfer(
        source, there, [target], algorithm, expected=expected, kept_as=_elsewhere(on_card, placed or {}),
        on_progress=on_progress, cancelled=cancelled,
        times={kept: files[path].modified_ns for kept, path in on_card.items()},
    )  # fmt: skip
    missing = on_card.keys() - {entry.path for entry in there.files}
    return replace(_as_on_card(report.stores[0], on_card, missing, good.store.name), asked=len(files))


def _elsewhere(on_card: Mapping[str, str], placed: Mapping[str, str]) -> dict[str, str]:
    """Where files of a copy go that do not keep their paths. on_card: by the copy's paths"""
    return {kept: placed[path] for kept, path in on_card.items() if path in placed}


def _listed(source: CardSource, paths: Set[str]) -> Listing:
    """These files of a copy, and the folders above them."""
    above = {path[:n] for path in paths for n, part in enumerate(path) if part == "/"}
    kinds = {EntryKind.FILE: paths, EntryKind.FOLDER: above}
    return Listing(tuple(entry for entry in source.walk() if entry.path in kinds.get(entry.kind, ())))


def _as_on_card(result: StoreResult, on_card: Mapping[str, str], missing: Set[str], good: str) -> StoreResult:
    """The result by paths on the card. on_card: by the copy's paths. missing: what the good copy lacks"""
    failed = [FileFailure(on_card.get(one.path, one.path), one.reason, one.found) for one in result.failed]
    failed += [FileFailure(on_card[path], f"it is missing on '{good}' too") for path in missing]
    agreed = {on_card[path] for path in result.agreed}
    return replace(result, agreed=agreed, behind=set(), failed=failed)
