"""How fast a card is read: against `find`, and against a ledger that knows two million files."""

import resource
import subprocess
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from statistics import median
from time import perf_counter

from ruggedraft.core.cards import Circumstances, describe
from ruggedraft.core.cards.media import read_media
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.standins.card_maker import traps

from .measuring import in_turns, say, table

FILES = 20_000
_HEADERS = 2_000
_START = datetime(2026, 5, 14, 9, tzinfo=UTC)
_GROUND = Circumstances(zone=UTC, now=datetime(2026, 5, 20, tzinfo=UTC), first_day=_START.date())


def reading(ledger: Callable[[Path], dict[str, float]]) -> str:
    """The table. ledger: times a card against the ledger, as `matching.against_the_ledger` does."""
    with tempfile.TemporaryDirectory(prefix="raft-bench-") as folder:
        card = Path(folder)
        say(f"making a card of {FILES} stills")
        traps.add_many_stills(card, count=FILES, start=_START)
        find = ["find", str(card), "-printf", "%p %s %T@\n"]
        times = in_turns(
            {
                "find": lambda: subprocess.run(find, stdout=subprocess.DEVNULL, check=True),
                "list": lambda: list_card(FolderSource(card)),
                "describe": lambda: _describe(card),
            }
        )
        header, peak = _header_seconds(card), _peak_memory(card)
        matched = ledger(card)
    whole = times["describe"] + FILES * header
    allowed = 2.5 * times["find"] + FILES * 0.001
    rows = [
        ("`find -printf` over the card", _s(times["find"]), ""),
        ("list the card", _s(times["list"]), f"{times['list'] / times['find']:.1f} times `find`"),
        (
            "list and describe it, no header read",
            _s(times["describe"]),
            f"{times['describe'] / times['find']:.1f} times",
        ),
        ("one header", f"{header * 1000:.2f} ms", "at most 1 ms"),
        ("describe it with every header", _s(whole), f"at most 2.5 `find` + 1 ms a header: {_s(allowed)}"),
        ("peak memory of that", f"{peak / 1e6:.0f} MB", "under 300 MB"),
        *((name, _s(seconds), _ASKED.get(name, "")) for name, seconds in matched.items()),
    ]
    return f"### Reading a card of {FILES:,} stills\n\n" + table(("what", "median", "against"), rows)


_ASKED = {"match it against the ledger's 2,000,000 files": "under 1.5 s"}


def _describe(card: Path) -> None:
    describe(list_card(FolderSource(card)), _GROUND, {}, {})


def _header_seconds(card: Path) -> float:
    source = FolderSource(card)
    entries = list_card(source).files[:: FILES // _HEADERS]
    taken = []
    for entry in entries:
        started = perf_counter()
        read_media(source, entry)
        taken.append(perf_counter() - started)
    return median(taken)


def _peak_memory(card: Path) -> int:
    """Bytes at most resident, in a process that does this and nothing else."""
    words = [sys.executable, "-m", "ruggedraft.figures.reading", str(card)]
    return int(subprocess.run(words, capture_output=True, text=True, check=True).stdout)


def _s(seconds: float) -> str:
    return f"{seconds:.2f} s"


def _describe_with_headers(card: Path) -> None:
    source = FolderSource(card)
    listing = list_card(source)
    media = {entry.path: facts for entry in listing.files if (facts := read_media(source, entry))}
    describe(listing, _GROUND, media, {})


if __name__ == "__main__":
    _describe_with_headers(Path(sys.argv[1]))
    print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024)
