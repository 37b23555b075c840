"""Anything else: a tree of files, taken whole."""

from ...sources.listing import Entry
from ..clips import Clip, by_base
from ..findings import Finding
from ..sequences import sequences
from ..tree import Tree
from .base import IndexNames, Reading, WithoutIndex, own


class Plain(WithoutIndex):
    """Any other folder: files are clips by their names alone."""

    name = "plain"
    kept_whole = False

    def roots(self, tree: Tree) -> list[str]:
        """The whole card: every card is a folder of files."""
        return [""]

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """Sequences of frames, and clips by their names, folder by folder."""
        clips: list[Clip] = []
        loose: list[Entry] = []
        findings: list[Finding] = []
        for entries in tree.files_by_folder.values():
            frames, rest, gaps = sequences(own(entries, taken))
            found, others = by_base(rest)
            clips += [*frames, *found]
            loose += others
            findings += gaps
        return Reading(tuple(clips), tuple(loose), tuple(findings))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """Never: nothing tells where such a tree begins."""
        return 0
