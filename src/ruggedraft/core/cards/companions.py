"""In-camera doubles: a card with another rendering of what is on another one, RAW here and JPEG there."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from .clips import Clip
from .media import ending
from .tree import base_of

_TOGETHER_NS = 3 * 10**9
"""FAT counts time in steps of two seconds; a camera writes both within the next."""
_MOST = 0.8


@dataclass(frozen=True, slots=True)
class Recording:
    """A file of another roll. modified_ns: when it was closed."""

    path: str
    modified_ns: int


@dataclass(frozen=True)
class Companion:
    """The roll that a card's clips pair with. pairs: how many of `clips` do."""

    roll: str
    pairs: int
    clips: int


def companion_of(clips: Iterable[Clip], rolls: Mapping[str, Iterable[Recording]]) -> Companion | None:
    """The roll, by tag, of which most clips of this card are another rendering: same name, same moment, other kind."""
    clips = list(clips)
    best: Companion | None = None
    for roll, recordings in rolls.items():
        by_name: dict[str, list[Recording]] = {}
        for recording in recordings:
            by_name.setdefault(base_of(recording.path).upper(), []).append(recording)
        pairs = sum(any(_is_double(clip, one) for one in by_name.get(_name(clip), ())) for clip in clips)
        if clips and pairs >= _MOST * len(clips) and (best is None or pairs > best.pairs):
            best = Companion(roll, pairs, len(clips))
    return best


def _name(clip: Clip) -> str:
    return base_of(clip.main.path).upper()


def _is_double(clip: Clip, one: Recording) -> bool:
    together = abs(one.modified_ns - clip.main.modified_ns) <= _TOGETHER_NS
    return together and ending(one.path) not in {ending(entry.path) for entry in clip.entries}
