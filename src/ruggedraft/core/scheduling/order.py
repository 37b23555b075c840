"""Cards as jobs on a station that runs a few at a time.

Order: Smith's rule (W. E. Smith, 'Various optimizers for single-stage production', 1956): by seconds over weight, the
least first, is optimal for the sum of weighted waiting on one lane; on several it is near it, and exchanges of jobs
find what is left.
"""

import heapq
from collections.abc import Sequence
from dataclasses import dataclass

_SECONDS_A_FILE = 0.004
"""What each file costs beyond its bytes: names, syncing. From memory of runs on a virtual disk."""


@dataclass(frozen=True)
class TimedRun:
    """A card that waits, or runs already.

    seconds: it will take from its start, or still takes. weight: how urgent, 1 usually; more where a camera waits
    running: it is under way and will not be put back
    """

    name: str
    seconds: float
    weight: float = 1.0
    running: bool = False


def seconds_for(count_bytes: int, files: int, rate_bytes_per_s: float) -> float:
    """How long so many bytes in so many files take at a rate."""
    return count_bytes / rate_bytes_per_s + files * _SECONDS_A_FILE


def free_at(jobs: Sequence[TimedRun], lanes: int) -> dict[str, float]:
    """In how many seconds each card will be free, if they go in this order on so many lanes."""
    ends: list[float] = []
    free: dict[str, float] = {}
    for job in [*(job for job in jobs if job.running), *(job for job in jobs if not job.running)]:
        start = heapq.heappop(ends) if len(ends) >= lanes else 0.0
        free[job.name] = start + job.seconds
        heapq.heappush(ends, free[job.name])
    return free


def cost(jobs: Sequence[TimedRun], lanes: int) -> float:
    """The sum of weighted seconds until each card is free."""
    free = free_at(jobs, lanes)
    return sum(job.weight * free[job.name] for job in jobs)


def best_order(jobs: Sequence[TimedRun], lanes: int) -> list[TimedRun]:
    """The order in which the waiting cameras get their cards back soonest. What runs stays where it is."""
    running = [job for job in jobs if job.running]
    waiting = sorted((job for job in jobs if not job.running), key=lambda job: job.seconds / job.weight)
    order = running + waiting
    return _exchanged(order, len(running), lanes) if lanes > 1 else order


def _exchanged(order: list[TimedRun], first: int, lanes: int) -> list[TimedRun]:
    """Better by exchanging two jobs, as long as that helps. Weighted waiting falls with each, so it ends."""
    best, found = cost(order, lanes), True
    while found:
        found = False
        for i in range(first, len(order)):
            for j in range(i + 1, len(order)):
                tried = [*order]
                tried[i], tried[j] = tried[j], tried[i]
                tried_cost = cost(tried, lanes)
                if tried_cost < best - 1e-9:
                    order, best, found = tried, tried_cost, True
    return order
