"""How long a run will take, judged by runs that were."""

import statistics

from ruggedraft.core.scheduling import seconds_for
from ruggedraft.productions.models import Camera

from .models import Offload

_LATELY = 5
_LEAST_BYTES = 1_000_000


def estimated_seconds(camera: Camera, count_bytes: int, files: int) -> float | None:
    """Seconds for so many bytes and files, by the last runs with this camera's plan; None without one."""
    rates = measured_rates(camera)
    return seconds_for(count_bytes, files, statistics.median(rates)) if rates else None


def measured_rates(camera: Camera) -> list[float]:
    """Bytes a second of the last runs of this camera's plan, newest first."""
    runs = Offload.objects.filter(roll__camera__plan=camera.plan, read_bytes__gte=_LEAST_BYTES)
    timed = runs.exclude(finished_at=None).exclude(started_at=None).order_by("-id")
    found = [(run.read_bytes, (run.finished_at - run.started_at).total_seconds()) for run in timed[:_LATELY]]
    return [count / seconds for count, seconds in found if seconds > 0]
