"""What offloads use, and what earlier ones have shown of it."""

from collections.abc import Iterable, Mapping, Sequence

from ruggedraft.core.scheduling import Served, learned, plugs_above
from ruggedraft.intake.models import Reader
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.models import Store

from .models import Offload
from .rates import measured_runs

_LATELY = 40
"""Offloads that are looked at: what was learned long ago is tried anew."""
_LARGE = 1_000_000
"""Bytes of a card's files on average: small ones keep a processor busier than any device, and say nothing of it."""


class Devices:
    """Keys of what is behind readers and stores, read once for however many questions."""

    def __init__(self) -> None:
        self._readers = dict(Reader.objects.values_list("pk", "port"))
        self._stores = {store.pk: store.device_keys for store in Store.objects.only("pk", "identities")}

    def behind(self, reader: int | None, stores: Iterable[int]) -> frozenset[str]:
        """reader, stores: ids."""
        plugs = plugs_above(self._readers.get(reader, "")) if reader else frozenset[str]()
        return plugs.union(*(self._stores.get(store, ()) for store in stores))


def used_by(offloads: Sequence[int]) -> dict[int, frozenset[str]]:
    """By the ids of offloads."""
    devices, used = Devices(), {}
    to: dict[int, list[int]] = {}
    for roll, store in Copy.objects.filter(roll__runs__in=offloads).values_list("roll", "store"):
        to.setdefault(roll, []).append(store)
    rows = Offload.objects.filter(pk__in=offloads).values_list("pk", "roll", "reader", "targets")
    for pk, roll, reader, targets in rows:
        used[pk] = devices.behind(reader, targets or to.get(roll, ()))
    return used


def shown_by_offloads(most: int) -> Mapping[str, int]:
    """How many at once each device has shown to be worth it, of late."""
    devices = Devices()
    large = [run for run in measured_runs(Offload.objects.all(), _LATELY) if run.bytes >= _LARGE * run.files]
    return learned(
        [
            Served(devices.behind(run.reader, run.stores), run.began.timestamp(), run.at.timestamp(), run.rate)
            for run in large
        ],
        most,
    )
