"""How each kind of run is carried out: the apps above say it here, so that what all runs share need not know them."""

from collections.abc import Callable
from dataclasses import dataclass

from ruggedraft.core.runs import RunKind


@dataclass(frozen=True)
class HowToRun:
    """carry_out: do the run with this id to its end, from wherever an earlier worker left it; does nothing if it ended

    break_off: end it after an error that nobody foresaw, claiming nothing
    """

    carry_out: Callable[[int], None]
    break_off: Callable[[int, Exception], None]


_KINDS: dict[RunKind, HowToRun] = {}


def runs_are_carried_out_by(kind: RunKind, carry_out: Callable[[int], None],
                            break_off: Callable[[int, Exception], None]) -> None:  # fmt: skip
    """Say it once for each kind, when the application starts."""
    _KINDS[kind] = HowToRun(carry_out, break_off)


def how_to_run(kind: RunKind) -> HowToRun:
    return _KINDS[kind]
