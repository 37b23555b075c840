"""Shots as folders: one folder a shot, one clip a camera."""

from collections.abc import Collection, Mapping

from .align import Alignment


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
        known = next((taken[f"{c}/{clip.key}"] for c, clip in shot.clips.items() if f"{c}/{clip.key}" in taken), None)
        number = following if known is None else known
        following += known is None
        for camera, clip in shot.clips.items():
            if (camera, clip.key) not in without:
                numbers[camera, clip.key] = number
    for odd in alignment.odd:
        if odd.kind == "split" and odd.clip and odd.shot and (odd.camera, odd.clip.key) not in without:
            first = alignment.shots[odd.shot - 1].clips[odd.camera]
            if (odd.camera, first.key) in numbers:
                numbers[odd.camera, odd.clip.key] = numbers[odd.camera, first.key]
    return numbers
