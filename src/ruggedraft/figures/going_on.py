"""What a run costs that goes on with one that was cut short, against one that begins anew."""

from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import Memory, Progress, Target, transfer

from .engine import KINDS, Kind, clear, make_card
from .grounds import in_a_folder
from .measuring import ROUNDS, say, table

_AT = 0.9
_CARDS = (Kind("20 files of 100 MiB", lambda: [100 << 20] * 20, 20, large=True), KINDS[1])
_KEY = b"of a ledger"


def going_on(disk: Path, *, rounds: int = ROUNDS) -> str:
    """The table. disk: a folder on a disk that may be filled."""
    rows = []
    for kind in _CARDS:
        with in_a_folder(disk, 2) as ground:
            card = make_card(ground.card, kind)
            taken = [_round(card, ground.stores) for _ in range(rounds)]
        whole, rest = (tuple(median(column) for column in zip(*each, strict=True)) for each in zip(*taken, strict=True))
        rows.append((kind.name, f"{whole[0]:.2f} s", f"{rest[0]:.2f} s", f"{rest[0] / whole[0]:.2f}",
                     f"{rest[1] / whole[1]:.2f}"))  # fmt: skip
        say(" | ".join(rows[-1]))
    head = ("card, 2 stores on disk", "anew", "going on", "of its time", "of the bytes that the kernel fetched for it")
    return "### A run that goes on with one that was cut short at nine tenths\n\n" + table(head, rows)


def _round(card: Path, places: list[Path]) -> tuple[tuple[float, float], tuple[float, float]]:
    """Seconds and bytes fetched: of a run anew, and of one that goes on."""
    clear(places)
    whole = _run(card, places, Memory(_KEY, "anew"))
    clear(places)
    total = sum(path.stat().st_size for path in card.rglob("*.JPG"))
    seen = [0]

    def note(progress: Progress) -> None:
        seen.append(min(store.verified for store in progress.stores))

    _run(card, places, Memory(_KEY, "first"), note, lambda: seen[-1] >= _AT * total)
    clear([])
    return whole, _run(card, places, Memory(_KEY, "second"), whole=True)


def _run(
    card: Path, places: list[Path], memory: Memory, on_progress: Callable[[Progress], None] = lambda progress: None,
    cancelled: Callable[[], bool] = lambda: False, *, whole: bool = False,
) -> tuple[float, float]:  # fmt: skip
    """whole: it must have verified all of it"""
    source, before, began = FolderSource(card), _fetched(), perf_counter()
    targets = [Target(LocalStore(place.name, place), "A001", memory) for place in places]
    report = transfer(
        source, list_card(source), targets, algorithm_named("xxh128"), on_progress=on_progress, cancelled=cancelled
    )
    if whole and not report.verified:
        raise RuntimeError("the run did not verify its copies: this measures something else")
    return perf_counter() - began, _fetched() - before


def _fetched() -> int:
    """Bytes that the kernel had fetched from storage for this process (proc(5), io)."""
    words = Path("/proc/self/io").read_text(encoding="ascii").split()
    return int(words[words.index("read_bytes:") + 1])
