"""What runs use and share: which of them may go at once. The apps above say what their kinds of run use."""

from collections.abc import Callable, Mapping, Sequence
from itertools import groupby

from ruggedraft.core.runs import RunKind
from ruggedraft.core.scheduling import Sharing

from .kinds import how_to_run
from .models import Run

MOST_AT_ONCE = 4
"""So many runs of a station's cards at a time, whatever they share: each is a reader and some writers."""

learned_from: list[Callable[[int], Mapping[str, int]]] = []
"""What earlier runs have shown of devices, given how many may go at once; see `core.scheduling.learned`."""


def sharing() -> Sharing:
    """As it is known now."""
    return Sharing(MOST_AT_ONCE, {name: count for learn in learned_from for name, count in learn(MOST_AT_ONCE).items()})


def devices_of(runs: Sequence[Run]) -> list[frozenset[str]]:
    """Keys of what each of these runs uses."""
    used: dict[int, frozenset[str]] = {}
    for kind, group in groupby(sorted(runs, key=lambda run: run.kind), lambda run: run.kind):
        used |= how_to_run(RunKind(kind)).uses([run.pk for run in group])
    return [used[run.pk] for run in runs]
