"""How long a run will take, by what this reader and these stores have shown."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import F, OuterRef, QuerySet

from ruggedraft.core.scheduling import seconds_for
from ruggedraft.intake.models import Reader
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.models import Store

from .models import Offload

_LATELY = 5
_LEAST_BYTES = 1_000_000
_LOOKED_AT = 200
"""Of all runs so many, the newest; what a part did longer ago than that says little."""


@dataclass(frozen=True)
class MeasuredRun:
    """An offload that moved enough to say something. reader, stores: ids. began, at: when it began and ended

    rate: bytes a second, from end to end
    """

    reader: int | None
    stores: Sequence[int]
    began: datetime
    at: datetime
    bytes: int
    files: int
    rate: float


def measured_runs(among: QuerySet[Offload], most: int = _LOOKED_AT) -> list[MeasuredRun]:
    """The newest first."""
    stores = Copy.objects.filter(roll=OuterRef("roll")).values("store")
    whole = among.filter(read_bytes__gte=_LEAST_BYTES, finished_at__gt=F("started_at"))
    rows = whole.order_by("-id").annotate(to=ArraySubquery(stores))[:most]
    columns = ("reader", "targets", "to", "started_at", "finished_at", "read_bytes", "read_files")
    return [
        MeasuredRun(reader, targets or to, start, end, count, files, count / (end - start).total_seconds())
        for reader, targets, to, start, end, count, files in rows.values_list(*columns)
    ]


class Rates:
    """Bytes a second that readers and stores reached of late, read once for however many questions.

    A run goes as fast as its slowest part, so the best of a part's last runs says most about that part.
    """

    def __init__(self) -> None:
        self._of_reader: dict[int, list[float]] = {}
        self._of_store: dict[int, list[float]] = {}
        for run in measured_runs(Offload.objects.all()):
            if run.reader is not None:
                self._of_reader.setdefault(run.reader, []).append(run.rate)
            for store in run.stores:
                self._of_store.setdefault(store, []).append(run.rate)

    def expected(self, reader: Reader | None, stores: Iterable[Store]) -> float | None:
        """Of reader and stores the best that their last runs reached, and of those the slowest; None if unknown."""
        parts = [_best(self._of_reader, reader.pk)] if reader else []
        parts += [_best(self._of_store, store.pk) for store in stores]
        return min((rate for rate in parts if rate), default=None)

    def seconds(self, reader: Reader | None, stores: Iterable[Store], count_bytes: int, files: int) -> float | None:
        """For so many bytes and files from this reader to these stores; None before anything was measured."""
        rate = self.expected(reader, stores)
        return seconds_for(count_bytes, files, rate) if rate else None


def _best(rates: dict[int, list[float]], part: int) -> float | None:
    return max(rates.get(part, [])[:_LATELY], default=None)
