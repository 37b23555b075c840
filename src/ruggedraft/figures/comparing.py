"""Two trees of a million files side by side, by names and sizes: how long, and how much memory."""

import os
import re
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

from .measuring import ROUNDS, say

FILES = 1_000_000
_A_FOLDER = 1000


def comparing() -> str:
    """In memory, so that a disk's speed is not what is measured. The memory is the most that the process held."""
    with tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_BENCH_MEMORY", "/dev/shm")) as base:  # noqa: S108
        left, right = Path(base) / "left", Path(base) / "right"
        say(f"making two trees of {FILES:,} files")
        for side in (left, right):
            _fill(side)
        rounds = []
        for n in range(ROUNDS):
            say(f"round {n + 1} of {ROUNDS}: comparing")
            rounds.append(_once(left, right))
    seconds, kilobytes = (statistics.median(column) for column in zip(*rounds, strict=True))
    return (
        f"## Comparing\n\n| two folders of {FILES:,} files | seconds | memory |\n| --- | --- | --- |\n"
        f"| `./raft compare`, by names and sizes | {seconds:.1f} | {kilobytes / 1000:.0f} MB |\n"
    )


def _fill(side: Path) -> None:
    for folder in range(FILES // _A_FOLDER):
        there = side / f"day{folder % 30:02}" / f"A{folder:03}" / "DCIM"
        there.mkdir(parents=True)
        descriptor = os.open(there, os.O_RDONLY)
        for n in range(_A_FOLDER):
            os.close(os.open(f"AAAA{n:04}.JPG", os.O_CREAT | os.O_WRONLY, dir_fd=descriptor))
        os.close(descriptor)


def _once(left: Path, right: Path) -> tuple[float, float]:
    command = [sys.executable, "-m", "ruggedraft.commands", "compare", str(left), str(right)]
    script = (
        "import resource, subprocess, sys, time; begin = time.monotonic();"
        "done = subprocess.run(sys.argv[1:], stderr=subprocess.DEVNULL);"
        "print(done.returncode, time.monotonic() - begin, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss)"
    )
    told = subprocess.run([sys.executable, "-c", script, *command], capture_output=True, text=True, check=True).stdout
    found = re.fullmatch(r"0 (\S+) (\S+)\s*", told)
    if found is None:
        raise SystemExit(f"raft bench: the comparison did not end well: {told}")
    return float(found[1]), float(found[2]) * 1.024
