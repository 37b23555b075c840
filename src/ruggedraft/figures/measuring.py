"""Measuring on a machine that others use too: everything in turns, medians, and ratios within one run."""

import gc
import statistics
import sys
import time
from collections.abc import Callable, Iterable, Mapping, Sequence

ROUNDS = 5


def in_turns(
    acts: Mapping[str, Callable[[], object]], *, rounds: int = ROUNDS, before: Callable[[], object] = gc.collect
) -> dict[str, float]:
    """The median time of each act in seconds. They take turns, so that what disturbs one disturbs all.

    before: what is done ahead of each act and not counted
    """
    times: dict[str, list[float]] = {name: [] for name in acts}
    for n in range(rounds):
        for name, act in acts.items():
            say(f"round {n + 1} of {rounds}: {name}")
            before()
            started = time.perf_counter()
            act()
            times[name].append(time.perf_counter() - started)
    return {name: statistics.median(taken) for name, taken in times.items()}


def table(head: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """Rows as a Markdown table."""
    lines = [head, ["---"] * len(head), *rows]
    return "\n".join(f"| {' | '.join(map(str, line))} |" for line in lines)


def say(words: str) -> None:
    print(f"bench: {words}", file=sys.stderr)
