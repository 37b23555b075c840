"""What of an account became true after it was frozen. A frozen account is never changed: later facts are marked."""

from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import replace
from typing import TypeVar

from ..wording import counted
from .day import DayAccount, DayClearance, DayNote, DayRoll, DayRun, DayTrouble

_Marked = TypeVar("_Marked", DayRun, DayTrouble, DayNote, DayClearance)


def marked_later(now: DayAccount, frozen: DayAccount) -> DayAccount:
    """An account with what is not in the frozen one marked. Both are of the same day."""
    return replace(
        now,
        rolls=_rolls(now.rolls, frozen.rolls),
        runs=_new(now.runs, frozen.runs, lambda one: one.id),
        troubles=_new(now.troubles, frozen.troubles, lambda one: (one.at, one.subject, one.sentence)),
        notes=_new(now.notes, frozen.notes, lambda one: one.id),
        clearances=tuple(_taken_back(_new(now.clearances, frozen.clearances, lambda one: one.id), frozen.clearances)),
    )


def _new(now: Sequence[_Marked], then: Sequence[_Marked], key: Callable[[_Marked], Hashable]) -> tuple[_Marked, ...]:
    known = {key(one) for one in then}
    return tuple(replace(one, later=key(one) not in known) for one in now)


def _taken_back(now: Iterable[DayClearance], then: Iterable[DayClearance]) -> Iterable[DayClearance]:
    stood = {one.id for one in then if not one.revoked}
    return (replace(one, revoked_later=bool(one.revoked) and (one.later or one.id in stood)) for one in now)


def _rolls(now: Sequence[DayRoll], then: Sequence[DayRoll]) -> tuple[DayRoll, ...]:
    known = {one.tag: one for one in then}
    return tuple(
        replace(one, later=False, was=_was(one, known[one.tag])) if one.tag in known else replace(one, later=True)
        for one in now
    )


def _was(now: DayRoll, then: DayRoll) -> str:
    """What of a roll was otherwise, as a clause; empty where nothing was.

    Marks tell states of copies apart; a length that a header told later is no other fact about the roll.
    """
    parts = []
    if now.state is not then.state:
        parts.append(str(then.state))
    if (now.material.files, now.material.bytes) != (then.material.files, then.material.bytes):
        parts.append(f"{counted(then.material.files, 'file')}, {then.material.bytes:,} bytes")
    before, after = ({copy.store: copy.state for copy in one.copies} for one in (then, now))
    parts += [f"'{store}' {state}" for store, state in before.items() if after.get(store) is not state]
    parts += [f"nothing on '{store}'" for store in after if store not in before]
    return "; ".join(parts)
