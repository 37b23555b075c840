"""Which units go onto which medium: the fewest media that can be found, and nothing that has its place moves.

Bin packing. Best fit of the largest first (Johnson et al., 'Worst-case performance bounds for simple one-dimensional
packing algorithms', 1974), and filling one bin after the other as full as can be (Gupta and Ho, 'A new heuristic
algorithm for the one-dimensional bin-packing problem', 1999), both from memory; whichever needs fewer.
"""

from bisect import bisect_left
from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import NamedTuple

_MOST_STEPS = 20_000
"""Combinations that are tried to fill one medium: beyond, the best so far is taken."""


class Unit(NamedTuple):
    """What is never divided: a clip with all its files. key: its name, in the order in which units belong

    takes: bytes on the medium
    """

    key: str
    takes: int


def divide(
    units: Iterable[Unit], room: int, before: Sequence[Collection[str]] = (), closed: Collection[int] = ()
) -> list[list[str]]:
    """Keys by medium, in their order. room: bytes on each. before: what earlier divisions put where

    closed: which of those media (from 0) get nothing more, as they are written already
    What is not there any more leaves its place empty. Raises ValueError for a unit that no medium can hold.

    >>> divide([Unit("a", 6), Unit("b", 5), Unit("c", 4), Unit("d", 5)], 10)
    [['a', 'c'], ['b', 'd']]
    >>> divide([Unit("a", 6), Unit("b", 5), Unit("c", 4), Unit("e", 3)], 10, before=[["a"], ["b"]], closed=[0])
    [['a'], ['b', 'c'], ['e']]
    """
    size = {unit.key: unit.takes for unit in units}
    if max(size.values(), default=0) > room:
        raise ValueError("a unit is larger than a medium")
    media = [[key for key in keys if key in size] for keys in before]
    left = _into_what_is_open(media, closed, size, room, size.keys() - {key for keys in before for key in keys})
    fresh = min(_best_fit(left, size, room), _one_by_one(left, size, room), key=len)
    return [sorted(keys) for keys in media] + sorted(sorted(keys) for keys in fresh)


def _largest_first(keys: Iterable[str], size: Mapping[str, int]) -> list[str]:
    return sorted(keys, key=lambda key: (-size[key], key))


def _into_what_is_open(
    media: list[list[str]], closed: Collection[int], size: Mapping[str, int], room: int, keys: Collection[str]
) -> list[str]:
    """What fits into media that are not written yet goes there; returns the rest."""
    free = {n: room - sum(size[key] for key in held) for n, held in enumerate(media) if n not in closed}
    left = []
    for key in _largest_first(keys, size):
        there = min(((space, n) for n, space in free.items() if space >= size[key]), default=None)
        if there:
            media[there[1]].append(key)
            free[there[1]] -= size[key]
        else:
            left.append(key)
    return left


def _best_fit(keys: Sequence[str], size: Mapping[str, int], room: int) -> list[list[str]]:
    media: list[list[str]] = []
    free: list[int] = []
    for key in _largest_first(keys, size):
        fitting = min(((left, n) for n, left in enumerate(free) if left >= size[key]), default=None)
        if fitting is None:
            media.append([key])
            free.append(room - size[key])
        else:
            media[fitting[1]].append(key)
            free[fitting[1]] -= size[key]
    return media


def _one_by_one(keys: Sequence[str], size: Mapping[str, int], room: int) -> list[list[str]]:
    """The largest that is left, with whatever leaves least free beside it."""
    left, media = _largest_first(keys, size), []
    while left:
        first, *rest = left
        chosen = {first, *_fullest(rest, size, room - size[first])}
        media.append([key for key in left if key in chosen])
        left = [key for key in left if key not in chosen]
    return media


def _fullest(keys: Sequence[str], size: Mapping[str, int], room: int) -> tuple[str, ...]:
    """Of keys, largest first, those that together come nearest to the room: depth first, as many steps as may be."""
    smaller = [-size[key] for key in keys]  # in rising order, to look up in
    best: tuple[int, tuple[str, ...]] = (0, ())
    steps = 0
    stack: list[tuple[int, int, tuple[str, ...]]] = [(0, 0, ())]
    while stack and best[0] < room and steps < _MOST_STEPS:
        at, filled, chosen = stack.pop()
        steps += 1
        if filled > best[0]:
            best = filled, chosen
        fitting = max(at, bisect_left(smaller, filled - room))
        if fitting < len(keys):
            stack.append((fitting + 1, filled, chosen))
            stack.append((fitting + 1, filled + size[keys[fitting]], (*chosen, keys[fitting])))
    return best[1]
