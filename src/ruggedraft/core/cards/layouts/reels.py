"""Reel folders of cinema cameras: `A001…/A001C001….MOV`, or a folder of frames or segments a clip."""

import re

from ...sources.listing import Entry
from ..clips import Clip, by_base, clip_of
from ..media import MediaKind, kind_of
from ..sequences import sequences
from ..tree import Tree, name_of
from .base import IndexNames, Reading, WithoutIndex, own

_REEL = re.compile(r"(?P<reel>[A-Z]{1,2}\d{3})(?!\d).*", re.IGNORECASE)
"""A camera's letter and a reel of three digits at the front of folder and clip names: common practice, no source."""


class Reels(WithoutIndex):
    """A folder for each clip, inside a folder for each reel."""

    name = "reel folders"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """Each folder at the top that is called as a reel and has a recording that begins with the reel's name."""
        return [folder for folder in tree.folders_in("") if self._is_reel(tree, folder)]

    def _is_reel(self, tree: Tree, folder: str) -> bool:
        reel = _REEL.fullmatch(name_of(folder))
        return reel is not None and any(
            name_of(entry.path).upper().startswith(reel["reel"].upper()) and kind_of(entry.path) in _PICTURE
            for entry in tree.files_under(folder)
        )

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each folder inside a reel, sequence of frames, and recording that lies openly in a reel."""
        clips: list[Clip] = []
        loose: list[Entry] = []
        findings = []
        for folder in (root, *_beneath(tree, root)):
            entries = own(tree.files_in(folder), taken)
            frames, rest, gaps = sequences(entries)
            findings += gaps
            if folder != root and not frames and tree.folders_in(root):
                clip = clip_of(name_of(folder).split(".")[0], rest)
                clips += [clip] if clip else []
                loose += [] if clip else rest
            else:
                found, others = by_base(rest)
                clips += [*frames, *found]
                loose += others
        return Reading(tuple(clips), tuple(loose), tuple(findings))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """Never: a clip's folder may be called anything."""
        return 0


_PICTURE = (MediaKind.VIDEO, MediaKind.STILL)


def _beneath(tree: Tree, folder: str) -> list[str]:
    return [path for inner in tree.folders_in(folder) for path in (inner, *_beneath(tree, inner))]
