"""`./raft compare`: two folders side by side, one way; and what is missing on the right brought there."""

import argparse
import csv
import json
import signal
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from dataclasses import asdict
from pathlib import Path

from ruggedraft.core.comparing import Comparison, Difference, Kind, Reader, Spool, compare, may_be_compared
from ruggedraft.core.errors import RaftError, StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT
from ruggedraft.core.sources import Entry, EntryKind, FolderSource, Listing, to_ledger
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import StoreResult, Target, transfer
from ruggedraft.core.wording import counted

from .speaking import Meter, printable

IDENTICAL, DIFFERENT, NOTHING_DONE = 0, 1, 2
_SHOWN = 20
"""Rows of a kind that are printed; all of them go to a file that is asked for."""
_ALGORITHM = ALGORITHMS[DEFAULT]


def main(words: list[str]) -> int:
    parser = argparse.ArgumentParser(
        prog="raft compare",
        description="Compare the folder RIGHT with the folder LEFT, one way. Nothing is changed, unless --fill is "
        "said: then what is missing on the right is copied there and read back. Nothing is deleted or overwritten.",
    )
    parser.add_argument("left", type=Path, metavar="LEFT")
    parser.add_argument("right", type=Path, metavar="RIGHT")
    parser.add_argument(
        "--content", action="store_true",
        help="read every file on both sides, past the caches; else names and sizes are compared",
    )  # fmt: skip
    parser.add_argument("--fill", action="store_true", help="copy to RIGHT what is missing there")
    parser.add_argument(
        "--rows", type=Path, metavar="FILE", help="write every difference to a CSV file that is not there yet"
    )
    parser.add_argument("--json", action="store_true", help="print one object on standard output")
    options = parser.parse_args(words)
    try:
        with ExitStack() as closing:
            return _run(options, closing)
    except (RaftError, OSError) as error:
        print(f"raft compare: {printable(str(error))} Nothing more was done.", file=sys.stderr)
        return NOTHING_DONE


def _run(options: argparse.Namespace, closing: ExitStack) -> int:
    left, right = options.left.resolve(), options.right.resolve()
    against = _against(left, right, options)
    if against:
        print(f"raft compare: {printable(against)} Nothing was done.", file=sys.stderr)
        return NOTHING_DONE
    found = _compared(left, right, closing, content=options.content)
    odd = _odd(left)
    filled: StoreResult | None = None
    if options.fill and found.kinds[Kind.MISSING].files:
        filled = _fill(left, right, found)
        found = _compared(left, right, closing, content=options.content)
    if options.rows:
        _write_rows(found, options.rows)
    _tell(found, filled, odd, content=options.content)
    if options.json:
        print(json.dumps(_as_object(found, filled, odd)))
    return IDENTICAL if found.identical and not odd and (filled is None or filled.verified) else DIFFERENT


def _against(left: Path, right: Path, options: argparse.Namespace) -> str:
    for folder in (left, right):
        if not folder.is_dir():
            return f"{folder} is no folder."
    if left == right or left.is_relative_to(right) or right.is_relative_to(left):
        return "One of the folders is the other, or lies in it."
    return f"{options.rows} is there already." if options.rows and options.rows.exists() else ""


def _compared(left: Path, right: Path, closing: ExitStack, *, content: bool) -> Comparison:
    rows = closing.enter_context(Spool[Difference]())
    cached: list[str] = []
    reader = _reader(left, right, cached.append) if content else None
    found = compare(_files(left), _files(right), reader, rows)
    if cached:
        print(f"raft compare: {counted(len(cached), 'file')} could not be read past this machine's caches.",
              file=sys.stderr)  # fmt: skip
    return found


def _files(folder: Path) -> Iterator[tuple[str, int]]:
    return ((entry.path, entry.size) for entry in FolderSource(folder).walk() if entry.kind is EntryKind.FILE)


def _odd(left: Path) -> list[Entry]:
    """What on the left can be neither compared nor copied: links, special files, folders that do not open."""
    entries = FolderSource(left).walk()
    return [one for one in entries if one.needs_cover and one.kind is not EntryKind.FILE and may_be_compared(one.path)]


def _reader(left: Path, right: Path, was_cached: Callable[[str], object]) -> Reader:
    stores = LocalStore(str(left), left), LocalStore(str(right), right)

    def sum_of(store: LocalStore, path: str) -> str:
        hasher = _ALGORITHM.start()
        if store.read_back(path, hasher.update) < Evidence.READ_BACK:
            was_cached(path)
        return hasher.hexdigest()

    def same(path: str) -> bool | str:
        try:
            return sum_of(stores[0], path) == sum_of(stores[1], path)
        except StoreError as error:
            return error.sentence

    def on(store: LocalStore, path: str) -> str | None:
        try:
            return sum_of(store, path)
        except StoreError:
            return None

    return Reader(same, lambda path: on(stores[0], path), lambda path: on(stores[1], path))


def _fill(left: Path, right: Path, found: Comparison) -> StoreResult:
    """Each file is copied whole or not at all, and read back from the right."""
    wanted = {row.path for row in found.rows if row.kind is Kind.MISSING}
    source = FolderSource(left)
    entries = (one for one in source.walk() if one.kind is EntryKind.FILE and one.path in wanted)
    listing = Listing(tuple(sorted(entries, key=lambda one: one.path)))
    stop, meter = threading.Event(), Meter()
    before = signal.signal(signal.SIGINT, lambda *_: stop.set())
    try:
        target = Target(LocalStore(str(right), right), "")
        report = transfer(source, listing, [target], _ALGORITHM, on_progress=meter.show, cancelled=stop.is_set)
    finally:
        meter.end()
        signal.signal(signal.SIGINT, before)
    return report.stores[0]


def _write_rows(found: Comparison, file: Path) -> None:
    """UTF-8 with a header; a path that is no text, or that a spreadsheet would take for a formula, is escaped."""
    with file.open("x", newline="", encoding="utf-8") as opened:
        rows = csv.writer(opened)
        rows.writerow(["kind", "path", "left bytes", "right bytes", "elsewhere", "reason"])
        for row in found.rows:
            sizes = ["" if size < 0 else size for size in (row.left, row.right)]
            rows.writerow([row.kind, _plain(row.path), *sizes, _plain(row.elsewhere), row.reason])


def _plain(path: str) -> str:
    text = to_ledger(path)
    return f"./{text}" if text[:1] in "=+-@\t\r" and text else text


def _tell(found: Comparison, filled: StoreResult | None, odd: list[Entry], *, content: bool) -> None:
    shown: dict[Kind, int] = {}
    for row in found.rows:
        shown[row.kind] = shown.get(row.kind, 0) + 1
        if shown[row.kind] <= _SHOWN:
            more = f" -> {printable(row.elsewhere)}" if row.elsewhere else ""
            print(f"{row.kind.upper()}: {printable(row.path)}{more}{_because(row)}", file=sys.stderr)
    for entry in odd[:_SHOWN]:
        print(f"NEITHER FILE NOR FOLDER: {printable(entry.path)}", file=sys.stderr)
    for kind, tally in found.kinds.items():
        if tally.files:
            print(f"{counted(tally.files, 'file')} {kind}, {tally.bytes:,} bytes", file=sys.stderr)
    if filled:
        print(f"{counted(len(filled.agreed), 'file')} copied and read back", file=sys.stderr)
        for failure in filled.failed[:_SHOWN]:
            print(f"NOT COPIED: {printable(failure.path)}: {failure.reason}", file=sys.stderr)
    how = "by content" if content else "by names and sizes"
    for side, tally in (("left", found.left), ("right", found.right)):
        print(f"{side}: {counted(tally.files, 'file')}, {tally.bytes:,} bytes", file=sys.stderr)
    whole = found.identical and not odd
    print(f"Both sides are {'identical' if whole else 'not identical'}, {how}.", file=sys.stderr)


def _because(row: Difference) -> str:
    return f": {row.reason}" if row.reason else ""


def _as_object(found: Comparison, filled: StoreResult | None, odd: list[Entry]) -> dict[str, object]:
    return {
        "identical": found.identical and not odd,
        "left": asdict(found.left),
        "right": asdict(found.right),
        "kinds": {kind.value: asdict(tally) for kind, tally in found.kinds.items()},
        "odd": [to_ledger(one.path) for one in odd],
        "filled": None if filled is None else {
            "copied": len(filled.agreed), "verified": filled.verified,
            "failed": [{"path": to_ledger(one.path), "reason": one.reason} for one in filled.failed],
        },
    }  # fmt: skip
