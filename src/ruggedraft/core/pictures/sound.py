"""Sound as one can look at it: how far each channel swings over the length of a recording."""

import json
from array import array
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ..cards.media.strangers import only_itself
from . import bounds
from .kinds import CannotBeShown

COLUMNS = 600
"""So many steps a recording is divided into; fewer where it is shorter than a minute."""
_RATE, _STEP = 4000, 400
"""Samples a second that are looked at, and how many of them are one step at the finest. A peak between two of them is
missed: it is for looking at."""
_SECONDS = 120
_MOST_CHANNELS = 16


@dataclass(frozen=True)
class Wave:
    """channels: of each the largest swing in each step, 0 to 1 of full scale"""

    channels: tuple[tuple[float, ...], ...]

    def as_json(self) -> bytes:
        """`{"channels": [[swing, …], …]}`"""
        return json.dumps({"channels": self.channels}, separators=(",", ":")).encode()

    @staticmethod
    def from_json(data: bytes) -> "Wave":
        """The inverse of `as_json`."""
        told: dict[str, Any] = json.loads(data)
        return Wave(tuple(tuple(one) for one in told["channels"]))


class _Swings:
    """Takes sound as it comes, 16 bits a sample, the channels by turns; keeps how far each swings in each step."""

    def __init__(self, channels: int) -> None:
        self._rest = b""
        self._channels, self._step = channels, 2 * channels * _STEP
        self.found: list[list[int]] = [[] for _ in range(channels)]

    def take(self, piece: bytes) -> None:
        """The next bytes, which may end in the middle of a sample."""
        data = self._rest + piece
        whole = len(data) // self._step * self._step
        self._rest = data[whole:]
        for begin in range(0, whole, self._step):
            self._note(data[begin : begin + self._step])

    def end(self) -> None:
        """No more of it comes: what is left is a step that is shorter."""
        self._note(self._rest[: len(self._rest) // (2 * self._channels) * 2 * self._channels])

    def _note(self, data: bytes) -> None:
        samples = array("h", data)
        for n, found in enumerate(self.found):
            if mine := samples[n :: self._channels]:
                found.append(max(max(mine), -min(mine)))


def wave(descriptor: int) -> Wave:
    """Of every channel of every sound track of an open file, in their order. Raises CannotBeShown."""
    tracks = tracks_of(descriptor)
    channels = sum(tracks)
    if not 1 <= channels <= _MOST_CHANNELS:
        raise CannotBeShown(f"it has {channels} channels of sound, and between 1 and {_MOST_CHANNELS} can be shown")
    merged = "".join(f"[0:a:{n}]" for n in range(len(tracks))) + f"amerge=inputs={len(tracks)}[all]"
    together = ["-filter_complex", merged, "-map", "[all]"] if len(tracks) > 1 else ["-map", "0:a:0"]
    words = [*only_itself(descriptor), *together, "-ac", str(channels), "-ar", str(_RATE), "-f", "s16le", "-"]
    swings = _Swings(channels)
    bounds.stream(["ffmpeg", "-v", "error", "-nostdin", "-threads", "1", *words], descriptor, _SECONDS, swings.take)
    swings.end()
    return Wave(tuple(_columns(found) for found in swings.found))


def tracks_of(descriptor: int) -> list[int]:
    """Channels of each sound track of an open file. Raises CannotBeShown."""
    words = ["-v", "error", "-select_streams", "a", "-show_entries", "stream=channels", "-of", "json"]
    told = bounds.run(["ffprobe", *words, *only_itself(descriptor)], descriptor, _SECONDS)
    try:
        return [int(stream.get("channels", 0)) for stream in json.loads(told).get("streams", [])]
    except ValueError as error:
        raise CannotBeShown("what it says of its sound makes no sense") from error


def _columns(swings: Sequence[int]) -> tuple[float, ...]:
    """At most so many steps, each with the largest swing of those that it stands for, of full scale.

    >>> _columns([0, 16384, -0, 32768])
    (0.0, 0.5, 0.0, 1.0)
    >>> len(_columns([1] * 100_000))
    600
    """
    count = min(COLUMNS, len(swings))
    edges = [n * len(swings) // count for n in range(count + 1)] if count else []
    return tuple(round(max(swings[a:b]) / 32768, 3) for a, b in pairwise(edges))
