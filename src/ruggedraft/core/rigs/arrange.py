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
    """The shot number of each clip, by camera and the clip's name.

    start: the first shot's number. without: clips that are left out
    taken: the numbers of shots that were taken before, by "camera/name" of any of their clips; they keep them
    """
    numbers: dict[tuple[str, str], int] = {}
    taken = taken or {}
    following = max([start - 1, *taken.values()]) + 1
    for shot in alignment.shots:
        known = next((taken[f"{c}/{clip.name}"] for c, clip in shot.clips.items() if f"{c}/{clip.name}" in taken), None)
        number = following if known is None else known
        following += known is None
        for camera, clip in shot.clips.items():
            if (camera, clip.name) not in without:
                numbers[camera, clip.name] = number
    for odd in alignment.odd:
        if odd.kind == "split" and odd.clip and odd.shot and (odd.camera, odd.clip.name) not in without:
            first = alignment.shots[odd.shot - 1].clips[odd.camera]
            if (odd.camera, first.name) in numbers:
                numbers[odd.camera, odd.clip.name] = numbers[odd.camera, first.name]
    return numbers
