"""How fast a card gets to its stores, verified, against what a careful person would type."""

import mmap
import os
import random
import shlex
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterable, Mapping
from contextlib import AbstractContextManager
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from statistics import median

from .grounds import Ground, NotHere, in_a_folder, on_fast_devices, with_one_slow
from .measuring import ROUNDS, say, table

_MIB = 1 << 20
_DROP = "sync; echo 3 > /proc/sys/vm/drop_caches"
_OURS = "raft copy"


@dataclass(frozen=True)
class Kind:
    """A kind of card. sizes: of its files in bytes; folders: how many files share one."""

    name: str
    sizes: Callable[[], Iterable[int]]
    to_a_folder: int
    large: bool = False


KINDS = (
    Kind("4 large files, 2 GiB", lambda: [512 * _MIB] * 4, 4, large=True),
    Kind("5,000 stills of 100 to 400 kB", lambda: _between(5_000, 100_000, 400_000), 500),
    Kind("20,000 tiny files", lambda: _between(20_000, 100, 4_000), 500),
    Kind("20,000 files of 4 KiB", lambda: [4 << 10] * 20_000, 500),
    Kind("10,000 files of 64 KiB", lambda: [64 << 10] * 10_000, 500),
    Kind("4,000 files of 300 KiB", lambda: [300 << 10] * 4_000, 500),
    Kind("600 files of 2 MiB", lambda: [2 * _MIB] * 600, 500),
)
GROUNDS = ("disk", "tmpfs", "fast devices", "one slow store among fast")


def _between(count: int, least: int, most: int) -> Iterable[int]:
    chance = random.Random(1)  # noqa: S311 - the same card every time
    return (chance.randint(least, most) for _ in range(count))


@dataclass(frozen=True)
class Taken:
    """Of one run: seconds, processor seconds (its own and the system's for it), bytes resident at most."""

    seconds: float
    processor: float
    memory: int


def engine(disk: Path, memory: Path, *, rounds: int = ROUNDS, only: str = "") -> str:
    """The table. disk, memory: folders on a disk and on tmpfs that may be filled. Needs root, to drop caches.

    only: what a line must be of, such as "disk, 2 stores, tiny"
    """
    rows = []
    for where in GROUNDS:
        for kind in KINDS:
            for stores in (2, 4):
                if not all(part.strip() in f"{where}, {stores} stores, {kind.name}" for part in only.split(",")):
                    continue
                try:
                    with _ground(where, kind, stores, disk, memory) as ground:
                        rows.append(_line(where, kind, ground, rounds))
                    say(" | ".join(rows[-1]))
                except NotHere as reason:
                    say(f"{where} is left out: {reason}")
    head = ("where", "card", "stores", *_acts(Path(), []), "ratio to the best", "processor, to (a)",
            "memory of its largest process", "of the physical limit")  # fmt: skip
    return "### A card to its stores, verified\n\n" + table(head, rows)


def _ground(where: str, kind: Kind, stores: int, disk: Path, memory: Path) -> AbstractContextManager[Ground]:
    sizes = list(kind.sizes())
    if where == "fast devices":
        return on_fast_devices(memory, stores, sizes)
    if where == "one slow store among fast":
        return with_one_slow(memory, disk, stores, sizes)
    return in_a_folder(disk if where == "disk" else memory, stores)


def flatness(memory: Path, *, only: str = "") -> str:
    """The table of ever more tiny files, one run each. memory: a folder on tmpfs."""
    rows = []
    for count in (1_000, 20_000, 200_000, 1_000_000) if not only or only in "flatness" else ():
        kind = Kind(f"{count:,} tiny files", partial(_between, count, 100, 4_000), 500)
        with in_a_folder(memory, 1) as ground:
            card = make_card(ground.card, kind)
            taken = _timed(_acts(card, ground.stores)[_OURS])
            _require_whole(kind.name, card, ground.stores)
        each = f"{taken.seconds / count * 1e6:.0f} µs"
        rows.append((kind.name, f"{taken.seconds:.2f} s", each, f"{taken.memory / 1e6:.0f} MB"))
        say(" | ".join(rows[-1]))
    return "### Ever more files, one store, tmpfs\n\n" + table(("card", "seconds", "a file", "memory"), rows)


def make_card(folder: Path, kind: Kind) -> Path:
    """The card, and the checksum list that the others compare with (given to them for nothing)."""
    say(f"making a card: {kind.name}")
    card = folder / "card"
    for n, size in enumerate(kind.sizes()):
        path = card / f"DCIM/{100 + n // kind.to_a_folder}AAAAA/AAAA{n:05d}.JPG"
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("wb") as file:
            for start in range(0, size, 16 * _MIB):
                noise = random.Random(n * 1000 + start)  # noqa: S311
                file.write(noise.randbytes(min(16 * _MIB, size - start)))
    _shell(f"cd {shlex.quote(str(folder))} && find card -type f -print0 | xargs -0 xxhsum -H2 > list.xxh128")
    return card


def _acts(card: Path, stores: list[Path]) -> dict[str, str]:
    """Shell lines by name. Each leaves the card on every store, and has read every copy from its medium."""
    source, quoted = shlex.quote(str(card)), [shlex.quote(str(store)) for store in stores]
    check = f"xxhsum --quiet -c {shlex.quote(str(card.parent / 'list.xxh128'))} > /dev/null"
    ours = " ".join(f"--to {store}" for store in quoted) + " --same-device"
    copies = [f"cp -a {source} {store}" for store in quoted]
    checks = [f"(cd {store} && {check})" for store in quoted]
    syncs = [f"rsync -a {source} {store}" for store in quoted]
    compares = [f"rsync -ac {source} {store}" for store in quoted]
    return {
        "(a) `cp -a`, `xxhsum -c`": "; ".join([*copies, _DROP, *checks]),
        "(b) the same side by side": "; ".join(
            [" & ".join(copies) + " & wait", _DROP, " & ".join(checks) + " & wait"]
        ),
        "(c) `rsync -a`, `rsync -c`": "; ".join([*syncs, _DROP, *compares]),
        _OURS: f"{shlex.quote(sys.executable)} -m ruggedraft.commands copy {source} {ours} 2> /dev/null || true",
    }  # fmt: skip


def _line(where: str, kind: Kind, ground: Ground, rounds: int) -> list[str]:
    card, places = make_card(ground.card, kind), ground.stores
    acts, limits = _acts(card, places), []
    taken: dict[str, list[Taken]] = {name: [] for name in acts}
    for n in range(rounds):
        for name, line in acts.items():
            say(f"{where}, {kind.name}, {len(places)} stores, round {n + 1} of {rounds}: {name}")
            clear(places)
            taken[name].append(_timed(line))
            _require_whole(name, card, places)
        clear(places)
        if where == "disk" and kind.large:
            limits.append(_physical_seconds(ground.card, sum(kind.sizes()), len(places)))
    clear(places)
    return [where, kind.name, str(len(places)), *_columns(taken, limits)]


def _columns(taken: dict[str, list[Taken]], limits: list[float]) -> list[str]:
    """Medians, and ours beside the best and the first of the others. limits: seconds that the disk alone needs"""
    seconds = {name: median(one.seconds for one in every) for name, every in taken.items()}
    processor = {name: median(one.processor for one in every) for name, every in taken.items()}
    best = min(value for name, value in seconds.items() if name != _OURS)
    return [
        *(f"{value:.2f} s" for value in seconds.values()),
        f"{best / seconds[_OURS]:.2f} times as fast", f"{processor[_OURS] / processor[next(iter(taken))]:.2f}",
        f"{max(one.memory for one in taken[_OURS]) / 1e6:.0f} MB",
        f"{median(limits) / seconds[_OURS]:.2f}" if limits else "",
    ]  # fmt: skip


def clear(places: Iterable[Path]) -> None:
    """Empty these folders, and drop what the kernel keeps of any file."""
    for place in places:
        shutil.rmtree(place, ignore_errors=True)
        place.mkdir()
    _shell(_DROP)


_TIMER = """
import os, subprocess, sys, time
started = time.perf_counter()
line = subprocess.Popen(["bash", "-c", sys.argv[1]], stdout=subprocess.DEVNULL)
_, _, used = os.wait4(line.pid, 0)
print(time.perf_counter() - started, used.ru_utime + used.ru_stime, used.ru_maxrss * 1024)
"""
"""In a small process of its own: the system counts what a process held before it became another program, too."""


def _timed(line: str) -> Taken:
    timer = [sys.executable, "-I", "-S", "-c", _TIMER, line]
    said = subprocess.run(timer, stdout=subprocess.PIPE, check=True, text=True).stdout
    seconds, processor, memory = said.split()
    return Taken(float(seconds), float(processor), int(memory))


def _require_whole(name: str, card: Path, places: Iterable[Path]) -> None:
    wanted = {path.relative_to(card): path.stat().st_size for path in card.rglob("*.JPG")}
    for place in places:
        copy = place / "card"
        if {path.relative_to(copy): path.stat().st_size for path in copy.rglob("*.JPG")} != wanted:
            raise RuntimeError(f"{name} did not copy the card: this measures something else")


def _physical_seconds(folder: Path, card_bytes: int, stores: int) -> float:
    """What must cross the device, at the rates of direct I/O now: the card once in, each copy out and in again."""
    count = 512 * _MIB
    with mmap.mmap(-1, 4 * _MIB) as block:
        block.write(os.urandom(4 * _MIB))
        path = folder / "rate"
        write_s = _direct(path, os.O_WRONLY | os.O_CREAT, lambda file, at: os.pwrite(file, block, at), count)
        read_s = _direct(path, os.O_RDONLY, lambda file, at: os.preadv(file, [block], at), count)
        path.unlink()
    return (read_s * (1 + stores) + write_s * stores) * card_bytes / count


def _direct(path: Path, flags: int, act: Callable[[int, int], object], count: int) -> float:
    file = os.open(path, flags | os.O_DIRECT)
    started = time.perf_counter()
    for at in range(0, count, 4 * _MIB):
        act(file, at)
    os.fsync(file)
    os.close(file)
    return time.perf_counter() - started


def _shell(line: str, env: Mapping[str, str] | None = None) -> None:
    subprocess.run(["bash", "-c", line], check=True, env=env)
