"""Image sequences: numbered frames of one folder are one clip."""

import itertools
import re
from collections.abc import Iterable

from ..sources.listing import Entry
from ..wording import counted
from .clips import Clip, ClipFile, ClipKind, FileRole
from .findings import Finding, FindingKind
from .media import MediaKind, ending, kind_of
from .tree import base_of, name_of

_FRAME = re.compile(r"(?P<stem>.*?)(?P<number>\d{4,10})")
_FEWEST = 12
"""Fewer numbered pictures than half a second of film are pictures."""


def sequences(entries: Iterable[Entry]) -> tuple[list[Clip], list[Entry], list[Finding]]:
    """Sequences among a folder's files, the files that are in none, and gaps in the numbers."""
    groups: dict[tuple[str, str, int], dict[int, Entry]] = {}
    rest = []
    for entry in entries:
        frame = _FRAME.fullmatch(base_of(entry.path)) if kind_of(entry.path) is MediaKind.STILL else None
        if frame:
            key = (frame["stem"], ending(entry.path), len(frame["number"]))
            groups.setdefault(key, {})[int(frame["number"])] = entry
        else:
            rest.append(entry)
    clips, findings = [], []
    for (stem, _, _), frames in groups.items():
        if len(frames) < _FEWEST:
            rest += frames.values()
            continue
        clips.append(_sequence(stem, frames))
        findings += _gaps(frames)
    return clips, rest, findings


def _sequence(stem: str, frames: dict[int, Entry]) -> Clip:
    ordered = [frames[number] for number in sorted(frames)]
    folder = ordered[0].path.rpartition("/")[0]
    parts = (ClipFile(ordered[0], FileRole.MAIN), *(ClipFile(entry, FileRole.PART) for entry in ordered[1:]))
    return Clip(stem.rstrip("_.- ") or name_of(folder), ClipKind.SEQUENCE, folder, parts)


def _gaps(frames: dict[int, Entry]) -> list[Finding]:
    numbers = sorted(frames)
    missing = numbers[-1] - numbers[0] + 1 - len(numbers)
    if not missing:
        return []
    last = next(n for n, following in itertools.pairwise(numbers) if following != n + 1)
    paths = (frames[last].path,)
    words = f"{counted(missing, 'frame')} missing from a sequence, the first after {name_of(paths[0])}"
    return [Finding(FindingKind.FRAMES_MISSING, words, paths)]
