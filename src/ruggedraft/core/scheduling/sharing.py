"""How many cards may be read at once, by what is behind their readers and stores.

Two cards that go to one slow disk both wait for it, and side by side neither is done sooner; two slow readers leave
most of a fast one idle. What a device can bear is seen from runs that it has served: another run at the same time is
worth it as long as more comes out of the device in all.
"""

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

USUAL = 2
"""So many at once of a device that too little is known of."""
_WORTH = 1.2
"""So much more must come out of a device for one run more. A quarter of that is noise between two like runs."""
_OVERLAP = 0.5


@dataclass(frozen=True)
class Served:
    """A run that was measured. devices: keys of what it used. began, ended: seconds. rate: bytes a second"""

    devices: frozenset[str]
    began: float
    ended: float
    rate: float


@dataclass(frozen=True)
class Sharing:
    """most: runs at once in all. at_once: runs at once by device, for those of which it is known"""

    most: int
    at_once: Mapping[str, int] = field(default_factory=dict)

    def full(self, going: Iterable[frozenset[str]]) -> frozenset[str]:
        """Devices that bear no further run."""
        counts: dict[str, int] = {}
        for device in (device for devices in going for device in devices):
            counts[device] = counts.get(device, 0) + 1
        return frozenset(device for device, count in counts.items() if count >= self.at_once.get(device, USUAL))

    def may_begin(self, waiting: Sequence[frozenset[str]], going: Sequence[frozenset[str]]) -> list[int]:
        """Which of the runs that wait, in their order, may begin beside those that go: their places.

        A run that has to wait keeps its place: no later one gets what it waits for.
        """
        return [place for place, (begins, _) in enumerate(self._each(waiting, going)) if begins]

    def held_by(self, waiting: Sequence[frozenset[str]], going: Sequence[frozenset[str]]) -> list[frozenset[str]]:
        """For each that waits the devices it waits for; none where it may begin, or waits for any run to end."""
        return [lacking for _, lacking in self._each(waiting, going)]

    def _each(
        self, waiting: Sequence[frozenset[str]], going: Sequence[frozenset[str]]
    ) -> Iterator[tuple[bool, frozenset[str]]]:
        under_way, kept = list(going), frozenset[str]()
        for devices in waiting:
            lacking = devices & (self.full(under_way) | kept)
            begins = not lacking and len(under_way) < self.most
            if begins:
                under_way.append(devices)
            else:
                kept |= devices
            yield begins, lacking


def learned(served: Sequence[Served], most: int) -> dict[str, int]:
    """How many runs at once each device has shown to be worth it.

    Where it is not known whether one more would be, that is tried; two at first.
    """
    return {
        device: _worth(_best_totals([run for run in served if device in run.devices]), most)
        for device in frozenset[str]().union(*(run.devices for run in served))
    }


def _best_totals(served: Sequence[Served]) -> dict[int, float]:
    """The most that came out of a device, in bytes a second, by the number of runs that it served at once."""
    best: dict[int, float] = {}
    for run in served:
        beside = [other for other in served if other is not run and _overlap(run, other) > _OVERLAP]
        total = run.rate + sum(other.rate for other in beside)
        best[1 + len(beside)] = max(best.get(1 + len(beside), 0.0), total)
    return best


def _overlap(run: Served, other: Served) -> float:
    """The share of a run during which another one went too."""
    together = min(run.ended, other.ended) - max(run.began, other.began)
    return together / (run.ended - run.began) if run.ended > run.began else 0.0


def _worth(best: Mapping[int, float], most: int) -> int:
    for count in range(1, most):
        before, after = best.get(count), best.get(count + 1)
        if before is None or after is None:
            return count + 1
        if after < _WORTH * before:
            return count
    return most


_USB = re.compile(r"(?P<bus>.*-usb(?:v\d)?-\d+:)(?P<ports>\d+(?:\.\d+)*)")
"""A USB port as udev(7) names it in ID_PATH: ports from the controller down, with a point between hubs."""
_IN_SYSFS = re.compile(r"(?:^|/)(?P<bus>\d+-)(?P<ports>\d+(?:\.\d+)*)(?=[/: ]|$)")
"""The same in sysfs (Linux, Documentation/ABI/stable/sysfs-bus-usb)."""


def plugs_above(port: str) -> frozenset[str]:
    """What a reader hangs on, hub by hub: two that share any of it share its cable.

    port: as the reader's is kept

    >>> sorted(plugs_above("pci-0000:00:14.0-usb-0:1.2:1.0-scsi-0:0:0:1"))
    ['pci-0000:00:14.0-usb-0:1', 'pci-0000:00:14.0-usb-0:1.2']
    >>> plugs_above("pci-0000:00:1d.0-platform-mmc")
    frozenset()
    """
    found = _USB.match(port) or max(_IN_SYSFS.finditer(port), key=lambda one: one.end(), default=None)
    if found is None:
        return frozenset()
    ports = found["ports"].split(".")
    return frozenset(found["bus"] + ".".join(ports[: count + 1]) for count in range(len(ports)))
