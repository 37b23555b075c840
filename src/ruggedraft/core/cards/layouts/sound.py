"""Folders of a sound recorder: takes as one file of many tracks, or as a file a track."""

import re

from ...sources.listing import Entry
from ..clips import Clip, ClipFile, ClipKind, FileRole, by_base
from ..media import MediaKind, kind_of
from ..tree import Tree, base_of
from .base import IndexNames, Reading, WithoutIndex, left_over, own

_TRACK = re.compile(r"(?P<take>.+?)[_.](?:TR|CH|A)?(?P<track>\d{1,2})", re.IGNORECASE)
"""`T001_1.WAV`, `T001_Tr2.WAV`: common practice, no source."""
_TOGETHER_NS = 2 * 10**9


class SoundRecorder(WithoutIndex):
    """A sound recorder: takes of one file, or of a file for each track."""

    name = "sound recorder"
    kept_whole = False

    def roots(self, tree: Tree) -> list[str]:
        """A folder at the top whose recordings are all sound, or the card itself if they lie open on it."""
        return [folder for folder in ("", *tree.folders_in("")) if _only_sound(self._files(tree, folder))]

    def _files(self, tree: Tree, folder: str) -> list[Entry]:
        return tree.files_under(folder) if folder else tree.files_in("")

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """Takes of a file for each track, and every other recording by its name. Each folder's tracks are its own."""
        by_folder: dict[str, list[Entry]] = {}
        for entry in own(self._files(tree, root), taken):
            by_folder.setdefault(entry.path.rpartition("/")[0], []).append(entry)
        clips: list[Clip] = []
        loose: list[Entry] = []
        for entries in by_folder.values():
            takes, rest = _takes(entries)
            found, others = by_base(rest)
            clips += [*takes, *found]
            loose += others
        return Reading(tuple(clips), tuple(loose))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """Never: recorders call their folders as they like."""
        return 0


def _only_sound(entries: list[Entry]) -> bool:
    """Some sound, and no other recording. Stops at the first picture: most cards are full of them."""
    some = False
    for entry in entries:
        kind = kind_of(entry.path)
        if kind in (MediaKind.STILL, MediaKind.VIDEO):
            return False
        some = some or kind is MediaKind.SOUND
    return some


def _takes(entries: list[Entry]) -> tuple[list[Clip], list[Entry]]:
    """Takes of a file a track: the same name, length and time. One file of its own is no such take."""
    takes = [_take(name, tracks) for name, tracks in _by_take(entries) if _together(tracks)]
    return takes, list(left_over(entries, takes))


def _by_take(entries: list[Entry]) -> list[tuple[str, list[Entry]]]:
    """Tracks of one name and length."""
    groups: dict[tuple[str, int], list[Entry]] = {}
    for entry in entries:
        track = _TRACK.fullmatch(base_of(entry.path)) if kind_of(entry.path) is MediaKind.SOUND else None
        if track:
            groups.setdefault((track["take"], entry.size), []).append(entry)
    return [(name, tracks) for (name, _), tracks in groups.items()]


def _together(tracks: list[Entry]) -> bool:
    times = [entry.modified_ns for entry in tracks]
    return len(tracks) > 1 and max(times) - min(times) <= _TOGETHER_NS


def _take(name: str, tracks: list[Entry]) -> Clip:
    main, *others = sorted(tracks, key=lambda entry: entry.path)
    parts = (ClipFile(main, FileRole.MAIN), *(ClipFile(entry, FileRole.PART) for entry in others))
    return Clip(name, ClipKind.SOUND, main.path.rpartition("/")[0], parts)
