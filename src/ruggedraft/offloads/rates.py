"""How long a run will take, by what this reader and these stores have shown."""

from collections.abc import Iterable

from django.db.models import F, Q

from ruggedraft.core.scheduling import seconds_for
from ruggedraft.intake.models import Reader
from ruggedraft.stores.models import Store

from .models import Offload

_LATELY = 5
_LEAST_BYTES = 1_000_000


def estimated_seconds(reader: Reader | None, stores: Iterable[Store], count_bytes: int, files: int) -> float | None:
    """Seconds for so many bytes and files from this reader to these stores; None before anything was measured."""
    rate = expected_rate(reader, stores)
    return seconds_for(count_bytes, files, rate) if rate else None


def expected_rate(reader: Reader | None, stores: Iterable[Store]) -> float | None:
    """Bytes a second: of the reader and each store the best that its last runs reached, and of those the slowest.

    A run goes as fast as its slowest part, so the best of several runs says most about one part.
    """
    parts = [_best(Q(reader=reader)) if reader else None, *(_best(Q(roll__copies__store=store)) for store in stores)]
    measured = [rate for rate in parts if rate]
    return min(measured) if measured else None


def _best(runs: Q) -> float | None:
    whole = Offload.objects.filter(runs, read_bytes__gte=_LEAST_BYTES, finished_at__gt=F("started_at"))
    lately = whole.order_by("-id").values_list("read_bytes", "started_at", "finished_at")[:_LATELY]
    return max((count / (end - start).total_seconds() for count, start, end in lately), default=None)
