"""Where cards and stores lie while they are measured: a disk, memory, devices in memory, or both at once."""

import contextlib
import subprocess
import tempfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

_SPARE, _A_FILE = 128 << 20, 8 << 10
"""Bytes of a file system beyond those of its files, and for each of them: blocks that are not filled, names."""


@dataclass(frozen=True)
class Ground:
    """card: a folder for the card. stores: a folder for each store. All are empty, and may be filled."""

    card: Path
    stores: list[Path]


class NotHere(Exception):
    """This machine does not allow it; the reason is its text."""


@contextlib.contextmanager
def in_a_folder(folder: Path, stores: int) -> Iterator[Ground]:
    """Everything on one file system."""
    with tempfile.TemporaryDirectory(prefix="raft-bench-", dir=folder) as made:
        base = Path(made)
        ground = Ground(base / "card", [base / f"store{n}" for n in range(stores)])
        for place in (ground.card, *ground.stores):
            place.mkdir()
        yield ground


@contextlib.contextmanager
def on_fast_devices(memory: Path, stores: int, sizes: Sequence[int]) -> Iterator[Ground]:
    """An ext4 for the card and for each store, on loop devices over memory that is read and written directly.

    sizes: of the files that are to find room. Raises NotHere.
    """
    with contextlib.ExitStack() as mounted:
        base = Path(mounted.enter_context(tempfile.TemporaryDirectory(prefix="raft-bench-", dir=memory)))
        size = int(sum(sizes) * 1.2) + _A_FILE * len(sizes) + _SPARE
        names = int(len(sizes) * 1.2) + 1000
        places = [mounted.enter_context(_mounted(base / f"device{n}", size, names)) for n in range(stores + 1)]
        yield Ground(places[0], places[1:])


@contextlib.contextmanager
def with_one_slow(memory: Path, disk: Path, stores: int, sizes: Sequence[int]) -> Iterator[Ground]:
    """As on fast devices, with the last store on a disk. Raises NotHere."""
    with on_fast_devices(memory, stores - 1, sizes) as fast, in_a_folder(disk, 1) as slow:
        yield Ground(fast.card, [*fast.stores, *slow.stores])


@contextlib.contextmanager
def _mounted(image: Path, size: int, names: int) -> Iterator[Path]:
    place, device = image.with_suffix(".mounted"), ""
    place.mkdir()
    try:
        with image.open("wb") as file:
            file.truncate(size)
        _run("mkfs.ext4", "-q", "-E", "lazy_itable_init=0,lazy_journal_init=0", "-N", str(names), str(image))
        device = _run("losetup", "--direct-io=on", "--find", "--show", str(image)).strip()
        _run("mount", device, str(place))
    except (OSError, subprocess.CalledProcessError) as error:
        said = getattr(error, "stderr", "") or str(error)
        if device:
            subprocess.run(["losetup", "-d", device], check=False)
        raise NotHere(f"no fast device can be made here: {said.strip()}") from error
    try:
        inside = place / "inside"
        inside.mkdir()
        yield inside
    finally:
        subprocess.run(["umount", str(place)], check=False)
        subprocess.run(["losetup", "-d", device], check=False)


def _run(*words: str) -> str:
    return subprocess.run(words, capture_output=True, text=True, check=True).stdout
