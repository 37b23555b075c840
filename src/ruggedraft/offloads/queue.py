"""A station's queue: which card is free when, and which order would be best."""

from collections.abc import Sequence
from dataclasses import dataclass

from ruggedraft.core.scheduling import TimedRun, best_order, free_at, seconds_for
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.runs.queue import CARDS_SIDE_BY_SIDE

from .models import Offload
from .rates import Rates

_USUAL_RATE = 60_000_000.0
"""Bytes a second, before anything was measured here. From memory: a middling card reader with two drives behind it."""


@dataclass(frozen=True)
class Queued:
    """A run that is under way or waits. free_in_s: seconds until its card can be taken out, None while it is paused."""

    offload: Offload
    seconds: float
    free_in_s: float | None

    @property
    def running(self) -> bool:
        return self.offload.started_at is not None and not self.offload.held_back


@dataclass(frozen=True)
class StationQueue:
    """In the order in which they go. best: ids of the waiting runs in the order that frees cards soonest, if better."""

    station: Station
    queued: tuple[Queued, ...]
    best: tuple[int, ...]


def station_queue(station: Station) -> StationQueue:
    runs = list(
        Offload.objects.filter(station=station, finished_at=None)
        .select_related("roll__camera__plan", "card__camera", "reader")
        .order_by("rank", "pk")
    )
    rates = Rates()
    seconds = {run.pk: _seconds_left(run, rates) for run in runs}
    going = [run for run in runs if not run.held_back]
    jobs = [TimedRun(str(run.pk), seconds[run.pk], running=run.started_at is not None) for run in going]
    free = free_at(jobs, CARDS_SIDE_BY_SIDE)
    queued = tuple(Queued(run, seconds[run.pk], free.get(str(run.pk))) for run in runs)
    return StationQueue(station, queued, _better(jobs))


def _better(jobs: Sequence[TimedRun]) -> tuple[int, ...]:
    waiting = [job for job in jobs if not job.running]
    best = [job for job in best_order(jobs, CARDS_SIDE_BY_SIDE) if not job.running]
    if _in_all([*_running(jobs), *best]) >= _in_all(jobs) - 1:
        return ()
    return tuple(int(job.name) for job in best) if best != waiting else ()


def _in_all(jobs: Sequence[TimedRun]) -> float:
    """Seconds that the cards wait, added up."""
    return sum(free_at(jobs, CARDS_SIDE_BY_SIDE).values())


def _running(jobs: Sequence[TimedRun]) -> list[TimedRun]:
    return [job for job in jobs if job.running]


def _seconds_left(run: Offload, rates: Rates) -> float:
    whole = run.estimated_s or _guess(run, rates)
    if run.started_at is None or run.held_back:
        return whole
    return max(1.0, whole - (now() - run.started_at).total_seconds())


def _guess(run: Offload, rates: Rates) -> float:
    listing = run.card.listings.order_by("-id").first()
    rate = rates.expected(run.reader, [copy.store for copy in run.roll.copies.select_related("store")]) or _USUAL_RATE
    return seconds_for(listing.bytes, listing.files, rate) if listing else 0.0
