"""Clips: which files are one recording, and what role each has in it."""

from collections.abc import Iterable
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from ..sources.listing import Entry
from .media import MediaFacts, MediaKind, ending, kind_of
from .media.kinds import PROCESSED, PROXY, RAW, SOUND, THUMBNAIL, VIDEO
from .tree import base_of


class FileRole(StrEnum):
    """What a file is to the clip that it belongs to."""

    MAIN = "main"
    """the recording itself; the first of several chapters, frames or tracks"""
    PART = "part"
    """another chapter, frame or track of it"""
    ALTERNATE = "alternate"
    """another rendering: the JPEG of a RAW, a proxy"""
    SIDECAR = "sidecar"
    THUMBNAIL = "thumbnail"


class ClipKind(StrEnum):
    """What a clip is."""

    PICTURE = "picture"
    VIDEO = "video"
    SOUND = "sound"
    SEQUENCE = "sequence"


RECORDINGS = (ClipKind.VIDEO, ClipKind.SOUND)
"""Those that have a length."""


class ClipFile(NamedTuple):
    """A file of a clip."""

    entry: Entry
    role: FileRole


class Clip(NamedTuple):
    """One recording.

    name: as people call it. folder: where its main file is. parts: the main file first.
    starts: when it began, with the camera's clock offset taken off; duration_s: seconds, 0 for a picture
    time_from: "header" or "file", where `starts` comes from
    """

    name: str
    kind: ClipKind
    folder: str
    parts: tuple[ClipFile, ...]
    starts: datetime | None = None
    duration_s: float = 0.0
    time_from: str = "file"
    facts: MediaFacts | None = None

    @property
    def main(self) -> Entry:
        """The recording itself; see `FileRole.MAIN`."""
        return self.parts[0].entry

    @property
    def entries(self) -> tuple[Entry, ...]:
        """Every file of it, the main one first."""
        return tuple(part.entry for part in self.parts)

    @property
    def bytes(self) -> int:
        """Of all its files."""
        return sum(part.entry.size for part in self.parts)

    def of_role(self, *roles: FileRole) -> tuple[Entry, ...]:
        """Its files that have one of these roles."""
        return tuple(part.entry for part in self.parts if part.role in roles)


def clip_of(name: str, entries: Iterable[Entry]) -> Clip | None:
    """One clip of files that belong together; None if none of them is a recording.

    The most original recording is the main file: RAW before video before processed picture before sound.
    """
    held = list(entries)
    if len(held) > 1:
        held.sort(key=_originality)
    rank = _RANKS.get(ending(held[0].path)) if held else None
    if rank is None:
        return None
    main = held[0]
    parts: tuple[ClipFile, ...] = (ClipFile(main, FileRole.MAIN),)
    if len(held) > 1:
        parts += tuple(ClipFile(entry, _role(entry, main)) for entry in held[1:])
    return Clip(name, _CLIP_KINDS[rank], main.path.rpartition("/")[0], parts)


_NOT_MEDIA = 5
_CLIP_KINDS = (ClipKind.PICTURE, ClipKind.VIDEO, ClipKind.PICTURE, ClipKind.SOUND)
_RANKS = {
    **dict.fromkeys(RAW, 0),
    **dict.fromkeys(VIDEO, 1),
    **dict.fromkeys(PROCESSED, 2),
    **dict.fromkeys(SOUND, 3),
}


def _originality(entry: Entry) -> tuple[int, int, str]:
    return _RANKS.get(ending(entry.path), _NOT_MEDIA), -entry.size, entry.path


def _role(entry: Entry, main: Entry) -> FileRole:
    last, kind, of = ending(entry.path), kind_of(entry.path), kind_of(main.path)
    if last in THUMBNAIL:
        return FileRole.THUMBNAIL
    if last in PROXY or kind is of or (kind is MediaKind.VIDEO and of is MediaKind.STILL):
        return FileRole.ALTERNATE
    if kind is MediaKind.STILL and of is MediaKind.VIDEO:
        return FileRole.THUMBNAIL
    return FileRole.SIDECAR


def by_base(entries: Iterable[Entry]) -> tuple[list[Clip], list[Entry]]:
    """Files of one folder with the same base name are one clip; and what belongs to none."""
    groups: dict[str, tuple[str, list[Entry]]] = {}
    for entry in entries:
        base = base_of(entry.path)
        group = groups.setdefault(base.lower(), (base, []))
        group[1].append(entry)
    clips: list[Clip] = []
    loose: list[Entry] = []
    for base, members in groups.values():
        clip = clip_of(base, members)
        if clip:
            clips.append(clip)
        else:
            loose += members
    return clips, loose
