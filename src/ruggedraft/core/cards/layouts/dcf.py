"""`DCIM` with numbered folders, as stills cameras, drones and action cameras write it."""

import re
from collections import Counter

from ...sources.listing import Entry
from ..clips import by_base
from ..findings import Finding, FindingKind
from ..tree import Tree, name_of
from .base import IndexNames, Reading, WithoutIndex, own

FOLDER = re.compile(r"[1-9][0-9]{2}[0-9A-Z_]{5}")
"""DCF directory names: three digits 100 to 999 and five free characters (CIPA DC-009 / JEITA CP-3461, 'Design rule for
Camera File system', 3.2.2; from memory)."""

FILE = re.compile(r"[0-9A-Z_]{4}(?!0000)[0-9]{4}")
"""DCF file names: four free characters and a number 0001 to 9999 (the same, 3.3.2; from memory)."""


class DcfStills(WithoutIndex):
    """Stills as the Design rule for Camera File system lays them out (JEITA CP-3461)."""

    name = "DCIM"
    kept_whole = False

    def roots(self, tree: Tree) -> list[str]:
        """`DCIM`, where at least one folder in it is named as the design rule has it."""
        folder = tree.folder("DCIM")
        inner = tree.folders_in(folder)
        return [folder] if folder and any(FOLDER.fullmatch(name_of(path).upper()) for path in inner) else []

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """Clips by their names, folder by folder, whatever the folders are called and however deep they go."""
        clips, loose = [], list(own(tree.files_in(root), taken))
        for folder in tree.folders_in(root):
            for place in (folder, *_all_beneath(tree, folder)):
                found, rest = by_base(own(tree.files_in(place), taken))
                clips += found
                loose += rest
        return Reading(tuple(clips), tuple(loose), tuple(_findings(tree, root, loose)))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within `DCIM` or one of its numbered folders."""
        if folders[-1:] and folders[-1].upper() == "DCIM":
            return 1
        inside = len(folders) > 1 and folders[-2].upper() == "DCIM" and FOLDER.fullmatch(folders[-1].upper())
        return 2 if inside else 0


def _all_beneath(tree: Tree, folder: str) -> list[str]:
    return [path for inner in tree.folders_in(folder) for path in (inner, *_all_beneath(tree, inner))]


def _findings(tree: Tree, root: str, loose: list[Entry]) -> list[Finding]:
    numbered = [path for path in tree.folders_in(root) if FOLDER.fullmatch(name_of(path).upper())]
    times = Counter(name_of(path)[:3] for path in numbered)
    twice = tuple(path for path in numbered if times[name_of(path)[:3]] > 1)
    if not twice:
        return []
    words = "Two folders have one number, which cameras do not make: " + ", ".join(name_of(path) for path in twice)
    return [Finding(FindingKind.FOLDER_NUMBER, words, twice)]
