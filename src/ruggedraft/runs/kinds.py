"""How each kind of run is carried out: the apps above say it here, so that what all runs share need not know them."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from ruggedraft.core.runs import RunKind


@dataclass(frozen=True)
class HowToRun:
    """carry_out: do the run with this id to its end, from wherever an earlier worker left it; does nothing if it ended

    break_off: end it after an error that nobody foresaw, claiming nothing
    uses: keys of the devices that runs with these ids use
    """

    carry_out: Callable[[int], None]
    break_off: Callable[[int, Exception], None]
    uses: Callable[[Sequence[int]], Mapping[int, frozenset[str]]]


_KINDS: dict[RunKind, HowToRun] = {}


def _other_work(runs: Sequence[int]) -> dict[int, frozenset[str]]:
    """What it uses is not known: no more of it at once than of any device of which too little is known."""
    return dict.fromkeys(runs, frozenset({"other work"}))


def runs_are_carried_out_by(
    kind: RunKind,
    carry_out: Callable[[int], None],
    break_off: Callable[[int, Exception], None],
    uses: Callable[[Sequence[int]], Mapping[int, frozenset[str]]] = _other_work,
) -> None:
    """Say it once for each kind, when the application starts."""
    _KINDS[kind] = HowToRun(carry_out, break_off, uses)


def how_to_run(kind: RunKind) -> HowToRun:
    return _KINDS[kind]
