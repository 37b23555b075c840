"""Shots as folders: one folder a shot, one clip a camera."""

from collections.abc import Collection, Mapping

from .align import Alignment, Shot


def arrange(
    alignment: Alignment,
    *,
    start: int = 1,
    without: Collection[tuple[str, str]] = (),
    taken: Mapping[str, int] | None = None,
) -> dict[tuple[str, str], int]:
    """The shot number of each clip, by camera and the clip's key.

    start: the first shot's number. without: clips that are left out
    taken: the numbers of shots that were taken before, by "camera/key" of any of their clips; they keep them
    """
    numbers: dict[tuple[str, str], int] = {}
    taken = taken or {}
    following = max([start - 1, *taken.values()]) + 1
    for shot in alignment.shots:
        known = _known(shot, taken)
        number = following if known is None else known
        following += known is None
        clips = ((camera, clip.key) for camera, clip in shot.clips.items())
        numbers |= {clip: number for clip in clips if clip not in without}
    second = _of_splits(alignment, numbers)
    return numbers | {clip: number for clip, number in second.items() if clip not in without}


def _known(shot: Shot, taken: Mapping[str, int]) -> int | None:
    keys = (f"{camera}/{clip.key}" for camera, clip in shot.clips.items())
    return next((taken[key] for key in keys if key in taken), None)


def _of_splits(alignment: Alignment, numbers: Mapping[tuple[str, str], int]) -> dict[tuple[str, str], int]:
    """Second parts of a shot that a camera recorded in two clips: the number of its first part."""
    found = {}
    for odd in alignment.odd:
        if odd.kind == "split" and odd.clip and odd.shot:
            first = odd.camera, alignment.shots[odd.shot - 1].clips[odd.camera].key
            if first in numbers:
                found[odd.camera, odd.clip.key] = numbers[first]
    return found
