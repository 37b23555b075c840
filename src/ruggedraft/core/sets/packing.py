"""Which units go onto which medium: the fewest media that can be found, and nothing that has its place moves.

Bin packing. Best fit of the largest first (Johnson et al., 'Worst-case performance bounds for simple one-dimensional
packing algorithms', 1974), and filling one bin after the other as full as can be (Gupta and Ho, 'A new heuristic
algorithm for the one-dimensional bin-packing problem', 1999), both from memory; whichever needs fewer.
"""

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
    units: Iterable[Unit], room: int, before: Sequence[Collection[str]] = (), closed: int = 0
) -> list[list[str]]:
    """Keys by medium, in their order. room: bytes on each. before: what earlier divisions put where

    closed: so many of the first media get nothing more, as they are written already
    What is not there any more leaves its place empty. Raises ValueError for a unit that no medium can hold.

    >>> divide([Unit("a", 6), Unit("b", 5), Unit("c", 4), Unit("d", 5)], 10)
    [['a', 'c'], ['b', 'd']]
    >>> divide([Unit("a", 6), Unit("b", 5), Unit("c", 4), Unit("e", 3)], 10, before=[["a"], ["b"]], closed=1)
    [['a'], ['b', 'c'], ['e']]
    """
    size = {unit.key: unit.takes for unit in units}
    if max(size.values(), default=0) > room:
        raise ValueError("a unit is larger than a medium")
    media = [[key for key in keys if key in size] for keys in before]
    left = _into_what_is_open(media, closed, size, room, size.keys() - {key for keys in before for key in keys})
    fresh = min(_best_fit(left, size, room), _one_by_one(left, size, room), key=len)
    return [sorted(keys) for keys in media] + sorted(sorted(keys) for keys in fresh)


def fewest_at_least(units: Iterable[Unit], room: int) -> int:
    """No division needs fewer: by all bytes; and as two of more than half do not share one (Martello and Toth, 1990).

    >>> fewest_at_least([Unit("a", 6), Unit("b", 6), Unit("c", 6)], 10)
    3
    """
    sizes = [unit.takes for unit in units]
    best = -(-sum(sizes) // room)
    return max(best, *(_by_halves(sizes, small, room) for small in {min(size, room // 2) for size in sizes} | {0}))


def _by_halves(sizes: Sequence[int], small: int, room: int) -> int:
    """What is more than a half never shares a medium; what is smaller than `small` is left out of account."""
    large = [size for size in sizes if size > room - small]
    middle = [size for size in sizes if room // 2 < size <= room - small]
    little = sum(size for size in sizes if small <= size <= room // 2)
    spare = len(middle) * room - sum(middle)
    return len(large) + len(middle) + max(0, -(-(little - spare) // room))


def _largest_first(keys: Iterable[str], size: Mapping[str, int]) -> list[str]:
    return sorted(keys, key=lambda key: (-size[key], key))


def _into_what_is_open(
    media: list[list[str]], closed: int, size: Mapping[str, int], room: int, keys: Collection[str]
) -> list[str]:
    """What fits into media that are not written yet goes there; returns the rest."""
    left = []
    for key in _largest_first(keys, size):
        fitting = [(room - sum(size[one] for one in keys), n) for n, keys in enumerate(media) if n >= closed]
        there = min(((free, n) for free, n in fitting if free >= size[key]), default=None)
        if there:
            media[there[1]].append(key)
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
    best: tuple[int, tuple[str, ...]] = (0, ())
    steps = 0
    stack: list[tuple[int, int, tuple[str, ...]]] = [(0, 0, ())]
    while stack and best[0] < room and steps < _MOST_STEPS:
        at, filled, chosen = stack.pop()
        steps += 1
        if filled > best[0]:
            best = filled, chosen
        fitting = next((n for n in range(at, len(keys)) if filled + size[keys[n]] <= room), None)
        if fitting is not None:
            stack.append((fitting + 1, filled, chosen))
            stack.append((fitting + 1, filled + size[keys[fitting]], (*chosen, keys[fitting])))
    return best[1]
