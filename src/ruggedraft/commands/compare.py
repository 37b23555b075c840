"""`./raft compare`: two folders side by side, one way; and what is missing on the right brought there."""

import argparse
import csv
import json
import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import ExitStack
from dataclasses import asdict, dataclass, replace
from itertools import groupby, islice
from pathlib import Path

from ruggedraft.core.comparing import (
    Comparison,
    Contents,
    Difference,
    Kind,
    Spool,
    compare,
    may_be_compared,
    of_two_stores,
)
from ruggedraft.core.errors import RaftError
from ruggedraft.core.hashing import ALGORITHMS, DEFAULT
from ruggedraft.core.sources import EntryKind, FolderSource, Listing, to_ledger
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
    parser.add_argument(
        "--cached", action="store_true",
        help="be content with what this machine has in memory, where a medium cannot be read past it",
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
    outcome = _compared(left, right, closing, content=options.content)
    if options.fill and outcome.found.kinds[Kind.MISSING].files:
        filled = _fill(left, right, outcome.found)
        outcome = replace(_compared(left, right, closing, content=options.content), filled=filled)
    if options.rows:
        _write_rows(outcome.found, options.rows)
    _tell(outcome, content=options.content)
    if options.json:
        print(json.dumps(_as_object(outcome)))
    return IDENTICAL if outcome.is_good(cached=options.cached) else DIFFERENT


def _against(left: Path, right: Path, options: argparse.Namespace) -> str:
    for folder in (left, right):
        if not folder.is_dir():
            return f"{folder} is no folder."
    if left == right or left.is_relative_to(right) or right.is_relative_to(left):
        return "One of the folders is the other, or lies in it."
    return f"{options.rows} is there already." if options.rows and options.rows.exists() else ""


@dataclass(frozen=True)
class _Outcome:
    """odd: what on either side can be neither compared nor copied: links, special files, folders that do not open

    cached: how many files could not be read past this machine's caches. filled: what came of filling
    """

    found: Comparison
    odd: list[str]
    cached: int
    filled: StoreResult | None = None

    @property
    def identical(self) -> bool:
        return self.found.identical and not self.odd

    def is_good(self, *, cached: bool) -> bool:
        """cached: be content with what this machine has in memory"""
        proven = self.filled is None or self.filled.verified or (cached and not self.filled.failed)
        return self.identical and proven and (cached or not self.cached)


def _compared(left: Path, right: Path, closing: ExitStack, *, content: bool) -> _Outcome:
    rows = closing.enter_context(Spool[Difference]())
    odd, on = list[str](), [Contents(LocalStore(str(folder), folder)) for folder in (left, right)]
    reader = of_two_stores(on[0], on[1], _ALGORITHM) if content else None
    found = compare(_files(left, odd), _files(right, odd), reader, rows)
    return _Outcome(found, odd, sum(side.cached for side in on))


def _files(folder: Path, odd: list[str]) -> Iterator[tuple[str, int]]:
    """odd: takes the whole paths of what is neither file nor folder"""
    for entry in FolderSource(folder).walk():
        if entry.kind is EntryKind.FILE:
            yield entry.path, entry.size
        elif entry.needs_cover and may_be_compared(entry.path):
            odd.append(str(folder / entry.path))


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


def _tell(outcome: _Outcome, *, content: bool) -> None:
    lines = [
        *_rows_told(outcome.found),
        *(f"NEITHER FILE NOR FOLDER: {printable(path)}" for path in outcome.odd[:_SHOWN]),
    ]
    lines += [
        f"{counted(tally.files, 'file')} {kind}, {tally.bytes:,} bytes"
        for kind, tally in outcome.found.kinds.items()
        if tally.files
    ]
    lines += _filled_told(outcome.filled) if outcome.filled else []
    for side, tally in (("left", outcome.found.left), ("right", outcome.found.right)):
        lines.append(f"{side}: {counted(tally.files, 'file')}, {tally.bytes:,} bytes")
    if outcome.cached:
        lines.append(_CACHED.format(counted(outcome.cached, "file was", "files were")))
    how = "by content" if content else "by names and sizes"
    lines.append(f"Both sides are {'identical' if outcome.identical else 'not identical'}, {how}.")
    print("\n".join(lines), file=sys.stderr)


_CACHED = "{} read from this machine's memory: what the medium holds is not known; --cached is content with that"


def _rows_told(found: Comparison) -> Iterator[str]:
    """The first of each kind."""
    for _, rows in groupby(found.rows, key=lambda row: row.kind):
        for row in islice(rows, _SHOWN):
            more = f" -> {printable(row.elsewhere)}" if row.elsewhere else ""
            yield f"{row.kind.upper()}: {printable(row.path)}{more}{f': {row.reason}' if row.reason else ''}"


def _filled_told(filled: StoreResult) -> list[str]:
    copied = f"{counted(len(filled.agreed), 'file')} copied, {filled.evidence.words}"
    return [copied, *(f"NOT COPIED: {printable(one.path)}: {one.reason}" for one in filled.failed[:_SHOWN])]


def _as_object(outcome: _Outcome) -> dict[str, object]:
    found, filled = outcome.found, outcome.filled
    return {
        "identical": outcome.identical,
        "left": asdict(found.left),
        "right": asdict(found.right),
        "kinds": {kind.value: asdict(tally) for kind, tally in found.kinds.items()},
        "odd": [to_ledger(path) for path in outcome.odd],
        "cached": outcome.cached,
        "filled": None if filled is None else {
            "copied": len(filled.agreed), "verified": filled.verified,
            "failed": [{"path": to_ledger(one.path), "reason": one.reason} for one in filled.failed],
        },
    }  # fmt: skip
