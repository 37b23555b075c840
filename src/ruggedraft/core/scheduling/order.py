"""Cards as jobs on a station that runs a few at a time.

Order: Smith's rule (W. E. Smith, 'Various optimizers for single-stage production', 1956): by seconds over weight, the
least first, is optimal for the sum of weighted waiting on one lane; on several it is near it, and exchanges of jobs
find what is left.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from .sharing import Sharing

_SECONDS_A_FILE = 0.004
"""What each file costs beyond its bytes: names, syncing. From memory of runs on a virtual disk."""


@dataclass(frozen=True)
class TimedRun:
    """A card that waits, or runs already.

    seconds: it will take from its start, or still takes. weight: how urgent, 1 usually; more where a camera waits
    running: it is under way and will not be put back. devices: keys of what it uses
    """

    name: str
    seconds: float
    weight: float = 1.0
    running: bool = False
    devices: frozenset[str] = frozenset()


def seconds_for(count_bytes: int, files: int, rate_bytes_per_s: float) -> float:
    """How long so many bytes in so many files take at a rate."""
    return count_bytes / rate_bytes_per_s + files * _SECONDS_A_FILE


def free_at(jobs: Sequence[TimedRun], sharing: Sharing) -> dict[str, float]:
    """In how many seconds each card will be free, if they go in this order and share devices so."""
    going = {job.name: job for job in jobs if job.running}
    free = {name: job.seconds for name, job in going.items()}
    waiting = [job for job in jobs if not job.running]
    now = 0.0
    while waiting:
        for job in _beginning(waiting, going.values(), sharing):
            free[job.name] = now + job.seconds
            going[job.name] = job
            waiting.remove(job)
        if waiting:
            first = min(going, key=free.__getitem__)
            now = free[first]
            del going[first]
    return free


def _beginning(waiting: Sequence[TimedRun], going: Iterable[TimedRun], sharing: Sharing) -> list[TimedRun]:
    places = sharing.may_begin([job.devices for job in waiting], [job.devices for job in going])
    return [waiting[place] for place in places]


def cost(jobs: Sequence[TimedRun], sharing: Sharing) -> float:
    """The sum of weighted seconds until each card is free."""
    free = free_at(jobs, sharing)
    return sum(job.weight * free[job.name] for job in jobs)


def best_order(jobs: Sequence[TimedRun], sharing: Sharing) -> list[TimedRun]:
    """The order in which the waiting cameras get their cards back soonest. What runs stays where it is."""
    running = [job for job in jobs if job.running]
    waiting = sorted((job for job in jobs if not job.running), key=lambda job: job.seconds / job.weight)
    order = running + waiting
    return _exchanged(order, len(running), sharing) if sharing.most > 1 else order


def _exchanged(order: list[TimedRun], first: int, sharing: Sharing) -> list[TimedRun]:
    """Better by exchanging two jobs, as long as that helps. Weighted waiting falls with each, so it ends."""
    best, found = cost(order, sharing), True
    while found:
        found = False
        for i in range(first, len(order)):
            for j in range(i + 1, len(order)):
                tried = [*order]
                tried[i], tried[j] = tried[j], tried[i]
                tried_cost = cost(tried, sharing)
                if tried_cost < best - 1e-9:
                    order, best, found = tried, tried_cost, True
    return order
