"""The run: one pass over the card, every byte handed to all lanes, everything proven before it is claimed."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import replace

from ..hashing import Algorithm
from ..sources.fingerprint import FingerprintKind
from ..sources.listing import EntryKind, Listing
from ..sources.packed import Entries
from ..sources.port import CardSource
from ..stores.port import beneath
from .any_lane import AnyLane
from .asked import Asked, LaneWork, Target
from .card_reading import CardReading
from .patience import SILENT_S, Patience
from .progress import Progress, StoreProgress, ticking
from .report import FileFailure, StoreResult, TransferReport
from .starting import lanes_for

__all__ = ["Target", "transfer"]

_TICK = 0.25  # seconds between progress reports

_ODD = {
    EntryKind.LINK: "it is a link (to {detail}); links are not followed and not copied",
    EntryKind.SPECIAL: "it is neither a file nor a folder; it cannot be copied",
    EntryKind.UNREADABLE: "this folder could not be listed ({detail}); what is in it is not known",
}


def transfer(
    source: CardSource,
    listing: Listing,
    targets: Sequence[Target],
    algorithm: Algorithm,
    *,
    others: Sequence[Algorithm] = (),
    kept_as: Mapping[str, str] | None = None,
    times: Mapping[str, int] | None = None,
    expected: Mapping[str, str] | None = None,
    recorded: Mapping[str, tuple[Algorithm, str]] | None = None,
    twice: bool = False,
    fingerprints: FingerprintKind = FingerprintKind.XXH3,
    on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False,
    patience: Callable[[Sequence[AnyLane]], Patience] = Patience,
    silent_s: float = SILENT_S,
) -> TransferReport:
    """Copy what a listing names from a card to every target, and prove it.

    Never raises for trouble with the card or a store: the report names every file that is not safe, and where.
    A store's `verified` is true only if each file of the listing was read from it past the caches and agrees with
    what the card gave in this very run, or in an earlier part of it that a target has a memory of.

    others: further checksums to take of every file in the same reading
    kept_as: the path inside a target's folder by the path on the card, for files that are not kept under their own
    times: modification times in ns that copies get, by path on the card, where the listing's are not the true ones
    expected: checksums the card's files had when they were read before; other bytes now are a failure
    recorded: checksums from lists that lie on the card; a file they contradict is tried again, copied, and told of
    twice: read the card a second time when it has been read, past the caches, and keep only what was the same
    fingerprints: the kind that is taken of each file
    on_progress: called about four times a second from a thread of its own, and once at the end
    cancelled: asked between pieces
    patience: decides which store is too slow for the card to be kept waiting
    silent_s: seconds a store may do nothing at all before it is given up
    """
    progress = Progress(listing.bytes, len(listing.files), stores=[StoreProgress(t.store.name) for t in targets])
    progress.readings = 2 if twice else 1
    kept_as, sums = kept_as or {}, [algorithm, *others]
    targets = [replace(target, memory=None) for target in targets] if twice else targets  # each is to be read twice
    files = Entries.of(listing.files)
    works = [LaneWork(target, files, sums, kept_as, times or {}) for target in targets]
    lanes, pool, turns = lanes_for(works, progress.stores, listing, silent_s)
    asked = Asked(files, sums, expected or {}, recorded or {}, cancelled, fingerprints)
    reading = CardReading(source, asked, lanes, progress, pool, patience(lanes), turns)
    with ticking(on_progress, progress), _closed_after_errors(lanes):
        _start(lanes)
        try:
            _read(reading, twice=twice)
        finally:
            _finish(lanes, _folders(listing, kept_as), silent_s)
            pool.end()
    return _report(reading, lanes, listing)


def _read(reading: CardReading, *, twice: bool) -> None:
    reading.read_all()
    if twice:
        reading.read_again()


def _start(lanes: Sequence[AnyLane]) -> None:
    for lane in lanes:
        lane.start()


@contextmanager
def _closed_after_errors(lanes: Sequence[AnyLane]) -> Iterator[None]:
    """Nobody looks after the lanes of a run that an error nobody foresaw has ended."""
    try:
        yield
    except BaseException:
        for lane in lanes:
            lane.close()
        raise


def _finish(lanes: Sequence[AnyLane], folders: Mapping[str, int | None], silent_s: float) -> None:
    """Have every store settle what it was given; wait for each, but for none longer than it may be silent."""
    for lane in lanes:
        lane.finish(_settled_order(lane.folder, folders))
    for lane in lanes:
        lane.wait(silent_s)


def _report(reading: CardReading, lanes: Sequence[AnyLane], listing: Listing) -> TransferReport:
    odd = [FileFailure(entry.path, _ODD[entry.kind].format(detail=entry.detail)) for entry in listing.odd]
    for lane in lanes:
        told = {failure.path for failure in lane.result.failed}
        lane.result.failed += [failure for failure in (*odd, *reading.unread) if failure.path not in told]
        if lane.silence:
            _fail_the_rest(lane.result, listing, lane.silence)
        if lane.closes and not lane.result.settled:
            _claim_nothing(lane.result)
        lane.close()
    stores = [lane.result for lane in lanes]
    return TransferReport(
        reading.read, [*odd, *reading.unread], stores, reading.was_cancelled, reading.doubted,
        reading.card_gone, frozenset(reading.errors),
    )  # fmt: skip


def _claim_nothing(result: StoreResult) -> None:
    """What agreed lies in something that was not closed, and is not where anybody would look for it."""
    reason = (
        f"what was written to '{result.name}' was not sealed, and is no copy yet: run again, and it goes on with it"
    )
    result.failed += [FileFailure(path, reason) for path in sorted(result.agreed)]
    result.agreed.clear()


def _fail_the_rest(result: StoreResult, listing: Listing, reason: str) -> None:
    """Whatever of the listing nothing is known of yet is not safe there, nor is the whole."""
    told = {failure.path for failure in result.failed}
    result.failed += [
        FileFailure(entry.path, reason)
        for entry in listing.files
        if entry.path not in told and entry.path not in result.agreed
    ]
    result.failed.append(FileFailure("", reason))


def _folders(listing: Listing, kept_as: Mapping[str, str]) -> dict[str, int | None]:
    """The folders a copy has, with the times they get. Where names lead elsewhere, the card's own mean nothing."""
    times = {entry.path: entry.modified_ns for entry in listing.folders}
    found: dict[str, int | None] = {} if any(path != to for path, to in kept_as.items()) else dict(times)
    for entry in listing.files:
        path = kept_as.get(entry.path, entry.path)
        while "/" in path and (path := path.rpartition("/")[0]) not in found:
            found[path] = times.get(path)
    return found


def _settled_order(base: str, folders: Mapping[str, int | None]) -> list[tuple[str, int | None]]:
    """Deepest folders first, because a folder's time changes when something is made in it."""
    deepest_first = sorted(folders, key=lambda path: (-path.count("/"), path))
    parents = [base.rsplit("/", n)[0] for n in range(base.count("/") + 1)] if base else []
    return [*((beneath(base, path), folders[path]) for path in deepest_first), *((path, None) for path in parents)]
