"""Chapters: one recording that the card's file system made into several files."""

import re
from collections.abc import Iterable
from datetime import timedelta

from .clips import Clip, ClipFile, ClipKind, FileRole
from .media import ending
from .tree import base_of

FAT32_LARGEST_FILE = 2**32 - 1
"""Bytes (Microsoft, 'FAT File System Specification' 1.03: the size field has 32 bits)."""

_NEAR = 0.85
"""Cameras cut a little before the limit, some at 4 * 10^9 bytes: common practice, no source."""
_SEAM = timedelta(seconds=2)
_SLACK = 0.002


def join_chapters(clips: Iterable[Clip], limits: Iterable[int]) -> list[Clip]:
    """The clips, with the chapters of one recording made into one clip.

    A file is the next chapter when the one before is as large as a file may be (`limits`, in bytes), when its own
    recording goes on where that one ended, and when its number says that it follows. All three must hold.
    """
    limits, clips = tuple(limits), list(clips)
    least = _NEAR * min(limits, default=0)
    if max((clip.parts[0].entry.size for clip in clips), default=0) < least:
        return clips
    done: list[Clip] = []
    open_ends: dict[tuple[str, str], int] = {}
    for clip in sorted(clips, key=lambda c: (c.starts is None, c.starts or 0, c.folder, c.name)):
        key = (clip.folder, ending(clip.main.path))
        before = done[open_ends[key]] if key in open_ends else None
        if before is not None and _goes_on(before, clip, limits):
            done[open_ends[key]] = _joined(before, clip)
        else:
            open_ends[key] = len(done)
            done.append(clip)
    return done


def chapters(clip: Clip) -> tuple[str, ...]:
    """Paths of a joined clip's chapters in order; one for a clip that is not split."""
    return tuple(part.entry.path for part in clip.parts if part.role in (FileRole.MAIN, FileRole.PART))


def _goes_on(before: Clip, clip: Clip, limits: tuple[int, ...]) -> bool:
    if before.kind is not ClipKind.VIDEO or clip.kind is not ClipKind.VIDEO:
        return False
    if before.starts is None or clip.starts is None or not before.duration_s:
        return False
    last = [part.entry for part in before.parts if part.role in (FileRole.MAIN, FileRole.PART)][-1]
    if not _is_near(last.size, limits):
        return False
    gap = abs(clip.starts - before.starts - timedelta(seconds=before.duration_s))
    return gap <= _SEAM + timedelta(seconds=_SLACK * before.duration_s) and _follows(last.path, clip.main.path)


def _is_near(size: int, limits: tuple[int, ...]) -> bool:
    return any(_NEAR * limit <= size <= limit for limit in limits)


def _follows(before: str, after: str) -> bool:
    """Whether two names differ in one number that goes up by one: the counter's, or a chapter's."""
    one, two = re.split(r"(\d+)", base_of(before)), re.split(r"(\d+)", base_of(after))
    if len(one) != len(two):
        return _is_suffixed(base_of(before), base_of(after))
    apart = [(a, b) for a, b in zip(one, two, strict=True) if a != b]
    if len(apart) != 1 or not all(number.isdigit() for number in apart[0]):
        return _is_chapter_field(base_of(before), base_of(after))
    first, second = (int(number) for number in apart[0])
    wrapped = (first, second) == (9999, 1)
    return second == first + 1 or wrapped or _is_chapter_field(base_of(before), base_of(after))


def _is_suffixed(before: str, after: str) -> bool:
    """`NAME` and `NAME_002`."""
    return re.fullmatch(re.escape(before) + r"[_-]0*[12]", after) is not None


def _is_chapter_field(before: str, after: str) -> bool:
    """`XX010007` and `XX020007`: two letters, a chapter of two digits, the recording's number."""
    one, two = (re.fullmatch(r"([A-Z]{2})(\d\d)(\d{4})", name.upper()) for name in (before, after))
    return bool(one and two and one[1] == two[1] and one[3] == two[3] and int(two[2]) == int(one[2]) + 1)


def _joined(before: Clip, clip: Clip) -> Clip:
    parts = (
        *before.parts,
        *(ClipFile(p.entry, FileRole.PART if p.role is FileRole.MAIN else p.role) for p in clip.parts),
    )
    ahead = (clip.starts - before.starts).total_seconds() if clip.starts and before.starts else before.duration_s
    return before._replace(parts=parts, duration_s=ahead + clip.duration_s)
