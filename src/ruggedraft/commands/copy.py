"""`./raft copy`: a tree to several folders, verified, with the checksum list left beside each copy."""

import argparse
import json
import os
import signal
import sys
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations
from pathlib import Path

from ruggedraft.core.cards import card_above
from ruggedraft.core.errors import RaftError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.files.confinement import parts_of
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT, Algorithm
from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree
from ruggedraft.core.manifests import keep_list, recorded_checksums
from ruggedraft.core.sources import FolderSource, Listing, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.local import PARTS
from ruggedraft.core.transfer import FileFailure, FileRead, StoreResult, Sums, Target, TransferReport, feed, transfer
from ruggedraft.core.wording import counted

from .speaking import Meter, printable

VERIFIED, SOME_FAILED, NOTHING_DONE = 0, 1, 2


class Refused(Exception):
    """The call cannot be carried out; nothing was written."""


@dataclass(frozen=True)
class _Asked:
    source: Path
    name: str
    folders: list[Path]
    algorithm: Algorithm
    others: list[Algorithm]
    twice: bool


def main(words: list[str]) -> int:
    parser = argparse.ArgumentParser(
        prog="raft copy",
        description="Copy the tree SOURCE to DIR/NAME in every DIR, read every copy back, and write DIR/NAME.HASH. "
        "Run again, it completes what is missing; a file that differs is never overwritten.",
    )
    parser.add_argument("source", type=Path, metavar="SOURCE")
    parser.add_argument("--to", type=Path, action="append", required=True, metavar="DIR", help="may be given again")
    parser.add_argument("--name", help="the copy's folder name; default: SOURCE's own")
    parser.add_argument("--hash", choices=list(ALGORITHMS), default=DEFAULT, help=f"default {DEFAULT}")
    parser.add_argument(
        "--also",
        choices=list(ALGORITHMS),
        action="append",
        default=[],
        metavar="HASH",
        help="a further checksum, taken in the same reading, with a list of its own; may be given again",
    )
    parser.add_argument("--twice", action="store_true",
                        help="read SOURCE a second time, and keep only what was the same")  # fmt: skip
    parser.add_argument("--same-device", action="store_true",
                        help="go on although two of the folders are on one device")  # fmt: skip
    parser.add_argument("--json", action="store_true", help="print one object about the run on standard output")
    options = parser.parse_args(words)
    started = time.monotonic()
    try:
        job = _asked(options)
        source = FolderSource(job.source)
        listing = list_card(source)
        if not listing.entries:
            raise Refused(f"There is nothing in {job.source}.")
        stores = [LocalStore(str(folder), folder) for folder in job.folders]
        recorded = recorded_checksums(source, listing)
    except (Refused, RaftError) as error:
        print(f"raft copy: {printable(str(error))} Nothing was written.", file=sys.stderr)
        return NOTHING_DONE
    _warn_of_the_inside(job.source)
    meter = Meter()
    targets = [Target(store, job.name) for store in stores]
    asked_to_stop = threading.Event()
    signal.signal(signal.SIGINT, lambda *_: asked_to_stop.set())
    report = transfer(
        source, listing, targets, job.algorithm, others=job.others, recorded=recorded, twice=job.twice,
        on_progress=meter.show, cancelled=asked_to_stop.is_set,
    )  # fmt: skip
    _feed_the_slow(targets, report, job, meter, asked_to_stop)
    meter.end()
    for target, result in zip(targets, report.stores, strict=True):
        complete = result.verified and not report.cancelled
        for n, algorithm in enumerate([job.algorithm, *job.others]):
            _leave_list(target, result, Sums(report.read, n), listing, algorithm, complete=complete)
    _tell(report, listing, job, time.monotonic() - started, as_json=options.json)
    return VERIFIED if report.verified else SOME_FAILED


def _warn_of_the_inside(source: Path) -> None:
    card = card_above(source)
    if card:
        print(
            f"raft copy: {printable(str(source))} is a folder inside the card {printable(str(card))}. "
            "Only that folder is copied; what ties its clips together may stay behind.",
            file=sys.stderr,
        )


def _asked(options: argparse.Namespace) -> _Asked:
    source = options.source.resolve()
    if not source.is_dir():
        raise Refused(f"{options.source} is not a folder.")
    name = source.name if options.name is None else options.name
    _require_folder_name(name)
    folders = [_target(given, source, name) for given in options.to]
    identities = {(facts.st_dev, facts.st_ino) for facts in map(os.stat, folders)}
    if len(identities) < len(folders):
        raise Refused("The same folder was given twice: that would be one copy, not two.")
    refuse_one_device(folders, allowed=options.same_device)
    others = [ALGORITHMS[word] for word in dict.fromkeys(options.also) if word != options.hash]
    return _Asked(source, name, folders, ALGORITHMS[options.hash], others, options.twice)


def refuse_one_device(folders: list[Path], *, allowed: bool) -> None:
    """Raises Refused where two of the folders are on one disk, unless that is allowed; warns of this computer's own."""
    tree = DeviceTree()
    under = {folder: tree.under(folder) - {UNKNOWN} for folder in folders}
    own = tree.under(Path("/"))
    for folder, devices in under.items():
        if devices & own:
            _warn(f"{folder} is on this computer's own disk: a copy there goes when the computer goes.")
    together = [(one, other) for one, other in combinations(folders, 2) if under[one] & under[other]]
    for one, other in together:
        words = f"{one} and {other} are on one disk: copies on both are lost together, and count as one."
        if not allowed:
            raise Refused(f"{words} Use another disk, or say --same-device.")
        _warn(words)


def _warn(words: str) -> None:
    print(f"raft copy: {printable(words)}", file=sys.stderr)


def _require_folder_name(name: str) -> None:
    """Raises Refused, or UnsafePath."""
    if not name or "/" in name or name in (".", "..", PARTS) or "\0" in name:
        raise Refused(f"'{name}' cannot be the name of the copy: it must be one folder name.")
    parts_of(name)


def _target(given: Path, source: Path, name: str) -> Path:
    """A folder to copy to, in full. Raises Refused where copying there would copy a copy."""
    folder = given.resolve()
    if not folder.is_dir():
        raise Refused(f"{given} is not a folder.")
    if folder == source or source in folder.parents:
        raise Refused(f"{given} lies inside the source.")
    if folder / name == source or folder / name in source.parents:
        raise Refused(f"The copy in {given} would contain the source itself.")
    return folder


def _feed_the_slow(
    targets: list[Target], report: TransferReport, job: _Asked, meter: Meter, asked_to_stop: threading.Event
) -> None:
    """What a store was too slow for is brought to it from a copy that is whole; the card is not needed for that."""
    for n, slow in enumerate(report.stores):
        wanted: dict[str, FileRead] = {path: report.read[path] for path in slow.behind & report.read.keys()}
        able = (t for t, one in zip(targets, report.stores, strict=True) if one.can_feed(wanted.keys()))
        good = next(able, None)
        if not wanted or not good or report.cancelled:
            continue
        meter.end()
        print(f"raft copy: the card is not needed any more; the rest goes from {good.store.name}", file=sys.stderr)
        fed = feed(good, targets[n], wanted, job.algorithm, on_progress=meter.show, cancelled=asked_to_stop.is_set)
        report.stores[n] = report.stores[n].with_fed(fed)


def _leave_list(
    target: Target,
    result: StoreResult,
    checksums: Mapping[str, str],
    listing: Listing,
    algorithm: Algorithm,
    *,
    complete: bool,
) -> None:
    newest = max((entry.modified_ns for entry in listing.entries), default=0)
    try:
        target.store.open()
        keep_list(
            target.store, target.folder, checksums, algorithm, modified_ns=newest, complete=complete
        )  # fmt: skip
    except RaftError as error:
        result.failed.append(FileFailure(f"../{target.folder}.{algorithm.name}", error.sentence))
    finally:
        target.store.close()


def _tell(report: TransferReport, listing: Listing, job: _Asked, seconds: float, *, as_json: bool) -> None:
    for failure in report.doubted:
        print(f"IN DOUBT on the card: {printable(failure.path)}: {failure.reason}", file=sys.stderr)
    for folder, result in zip(job.folders, report.stores, strict=True):
        for failure in result.failed:
            print(
                f"NOT SAFE in {printable(str(folder))}: {printable(failure.path)}: {failure.reason}",
                file=sys.stderr,
            )
        if result.level < Evidence.READ_BACK:
            print(f"NOT VERIFIED in {printable(str(folder))}: {_CACHED}", file=sys.stderr)
        state = "every file verified" if result.verified else f"{len(result.failed)} not safe"
        counts = f"{len(result.agreed)} of {counted(len(listing.files), 'file')} agree, {result.already} there before"
        print(f"{printable(str(folder / job.name))}: {state}; {counts}", file=sys.stderr)
    if as_json:
        print(json.dumps(_as_data(report, listing, job, seconds)))


_CACHED = (
    "its files were written but could not be read past this machine's memory (so it is with folders in memory and "
    "some network and user-space file systems): nobody knows yet what its medium holds"
)


def _as_data(report: TransferReport, listing: Listing, job: _Asked, seconds: float) -> dict[str, object]:
    stores = []
    for folder, result in zip(job.folders, report.stores, strict=True):
        failed = [{"path": failure.path, "reason": failure.reason} for failure in result.failed]
        if result.level < Evidence.READ_BACK:
            failed.append({"path": "", "reason": _CACHED})
        stores.append(
            {
                "path": str(folder / job.name),
                "state": "verified" if result.verified else "failed",
                "verified": len(result.agreed),
                "already": result.already,
                "failed": failed,
            }
        )
    return {
        "files": len(listing.files),
        "bytes": listing.bytes,
        "hash": job.algorithm.name,
        "seconds": round(seconds, 3),
        "stores": stores,
    }
