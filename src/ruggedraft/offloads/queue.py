"""A station's queue: which card is free when, and which order would be best."""

from collections.abc import Sequence
from dataclasses import dataclass

from ruggedraft.core.scheduling import Sharing, TimedRun, best_order, free_at, seconds_for
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.runs.sharing import devices_of, sharing
from ruggedraft.stores.models import Store

from .models import Offload
from .rates import Rates

_USUAL_RATE = 60_000_000.0
"""Bytes a second, before anything was measured here. From memory: a middling card reader with two drives behind it."""


@dataclass(frozen=True)
class Queued:
    """A run that is under way or waits. free_in_s: seconds until its card can be taken out, None while it is paused.

    waits_for: names of stores that bear no further run, where it waits for one
    """

    offload: Offload
    seconds: float
    free_in_s: float | None
    waits_for: tuple[str, ...] = ()

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
    if not runs:
        return StationQueue(station, (), ())
    rates = Rates()
    seconds = {run.pk: _seconds_left(run, rates) for run in runs}
    going = [run for run in runs if not run.held_back]
    shared = sharing()
    jobs = [
        TimedRun(str(run.pk), seconds[run.pk], running=run.started_at is not None, devices=devices)
        for run, devices in zip(going, devices_of(going), strict=True)
    ]
    free = free_at(jobs, shared)
    waits_for = _waits_for(jobs, shared)
    queued = tuple(Queued(run, seconds[run.pk], free.get(str(run.pk)), waits_for.get(str(run.pk), ())) for run in runs)
    return StationQueue(station, queued, _better(jobs, shared))


def _waits_for(jobs: Sequence[TimedRun], shared: Sharing) -> dict[str, tuple[str, ...]]:
    """Names of the stores that each waiting run waits for, by the run's."""
    waiting = [job for job in jobs if not job.running]
    held = shared.held_by([job.devices for job in waiting], [job.devices for job in _running(jobs)])
    if not any(held):
        return {}
    stores = list(Store.objects.only("pk", "name", "identities"))
    return {
        job.name: tuple(store.name for store in stores if store.device_keys & devices)
        for job, devices in zip(waiting, held, strict=True)
    }


def _better(jobs: Sequence[TimedRun], shared: Sharing) -> tuple[int, ...]:
    waiting = [job for job in jobs if not job.running]
    best = [job for job in best_order(jobs, shared) if not job.running]
    if _in_all([*_running(jobs), *best], shared) >= _in_all(jobs, shared) - 1:
        return ()
    return tuple(int(job.name) for job in best) if best != waiting else ()


def _in_all(jobs: Sequence[TimedRun], shared: Sharing) -> float:
    """Seconds that the cards wait, added up."""
    return sum(free_at(jobs, shared).values())


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
