"""How far apart the cameras' clocks are: found by what they recorded, not by what they say."""

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

_WIDEST = 900.0
"""Seconds that two clocks of a rig are believed to be apart at most; beyond that the clock's offset is to be set."""
_BIN = 0.5
_NEAR = 2.0
_SAME_LENGTH = 0.75


@dataclass(frozen=True)
class ClockLine:
    """A camera's clock against the rig's: rig time = (its time - origin) * (1 + drift) + origin - ahead_s."""

    ahead_s: float = 0.0
    drift: float = 0.0
    origin: float = 0.0

    def rig_time(self, at: float) -> float:
        """at: seconds by the camera's clock. Returns seconds by the rig's."""
        return at - self.ahead_s - self.drift * (at - self.origin)


def coarse_offset(clips: Sequence[tuple[float, float]], reference: Sequence[tuple[float, float]]) -> float:
    """Seconds by which a camera is ahead of another: the difference that most pairs of like clips agree on.

    clips, reference: start and length of each, in seconds, sorted by start
    """
    starts = [start for start, _ in reference]
    votes: list[tuple[float, float]] = []
    for start, length in clips:
        first, last = bisect_left(starts, start - _WIDEST), bisect_right(starts, start + _WIDEST)
        for other_start, other_length in reference[first:last]:
            apart = abs(length - other_length)
            if apart <= _SAME_LENGTH:
                votes.append((start - other_start, 1.0 + min(length, 60.0) / 60.0 - apart))
    return _peak(sorted(votes))


def _peak(votes: Sequence[tuple[float, float]]) -> float:
    """The middle of the window of two bins that holds the most; of equals the one nearest to no difference."""
    best, at, first, weight = 0.0, 0.0, 0, 0.0
    for last, (offset, vote) in enumerate(votes):
        weight += vote
        while offset - votes[first][0] > 2 * _BIN:
            weight -= votes[first][1]
            first += 1
        middle = median(one for one, _ in votes[first : last + 1])
        if (weight, -abs(middle)) > (best + 1e-9, -abs(at)) or (weight > best - 1e-9 and abs(middle) < abs(at)):
            best, at = max(best, weight), middle
    return at


def fitted(pairs: Sequence[tuple[float, float]], before: ClockLine) -> ClockLine:
    """A line through (camera's time, rig's time) pairs, robust against a few that do not belong.

    Medians of slopes: H. Theil, 'A rank-invariant method of linear and polynomial regression analysis', 1950.
    """
    near = [(at, rig) for at, rig in pairs if abs(before.rig_time(at) - rig) <= _NEAR]
    if len(near) < 4:
        return before if len(near) < 1 else ClockLine(median(at - rig for at, rig in near))
    origin = near[0][0]
    half = len(near) // 2
    slopes = [
        ((b - rig_b) - (a - rig_a)) / (b - a)
        for (a, rig_a), (b, rig_b) in zip(near, near[half:], strict=False)
        if b - a > 60
    ]
    drift = median(slopes) if slopes else 0.0
    ahead = median((at - rig) - drift * (at - origin) for at, rig in near)
    return ClockLine(ahead, drift, origin)


def lines_of(cameras: Mapping[str, Sequence[tuple[float, float]]]) -> dict[str, ClockLine]:
    """A first line for each camera, against the one that agrees best with the others."""
    found: dict[str, dict[str, float]] = {}
    for reference, clips in cameras.items():
        found[reference] = {name: coarse_offset(others, clips) for name, others in cameras.items()}
    best = max(cameras, key=lambda name: (_agreeing(cameras, found[name], name), name))
    return {name: ClockLine(ahead) for name, ahead in found[best].items()}


def _agreeing(
    cameras: Mapping[str, Sequence[tuple[float, float]]], offsets: Mapping[str, float], reference: str
) -> int:
    starts = [start for start, _ in cameras[reference]]
    count = 0
    for name, clips in cameras.items():
        for start, _ in clips:
            at = start - offsets[name]
            place = bisect_left(starts, at - 1)
            count += place < len(starts) and starts[place] <= at + 1
    return count
