"""Two layouts with a `MEDIAPRO.XML` that names every clip: `BPAV` and `PRIVATE/M4ROOT`."""

import posixpath
import re
from collections.abc import Iterable

from ..clips import Clip, ClipFile, FileRole, by_base, clip_of
from ..tree import Tree, base_of, join, name_of
from .base import IndexNames, Layout, Reading, left_over, levels_beneath, own
from .indexes import attributes, compare_known

_INDEX = "MEDIAPRO.XML"


class _MediaProfile(Layout):
    def index_files(self, tree: Tree, root: str) -> Iterable[str]:
        """The one index, where it is there."""
        found = tree.entry(join(root, _INDEX))
        return [found.path] if found else []

    def names_in(self, index: str, content: bytes) -> tuple[str, ...]:
        """`uri` of every Material, relative to the index's own folder (from memory)."""
        folder = index.rpartition("/")[0]
        paths = (posixpath.normpath(join(folder, uri)) for uri in attributes(content, "uri"))
        return tuple(path for path in paths if not path.startswith(("..", "/")))


class Bpav(_MediaProfile):
    """`BPAV/CLPR/<clip>/…`: a folder a clip."""

    name = "BPAV"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """`BPAV`, where it has a folder of clips."""
        found = tree.folder("BPAV")
        return [found] if found and tree.folder(join(found, "CLPR")) else []

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each folder in `CLPR`, compared with what the index names."""
        clips = []
        for folder in tree.folders_in(tree.folder(join(root, "CLPR"))):
            clip = clip_of(name_of(folder), own(tree.files_under(folder), taken))
            clips += [clip] if clip else []
        structure = left_over(own(tree.files_under(root), taken), clips)
        findings = compare_known(tree, indexes, self.index_files(tree, root), clips)
        return Reading(tuple(clips), structure, tuple(findings))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within `BPAV`, `CLPR`, or a clip's own folder."""
        in_clip = levels_beneath(folders[:-1], ("BPAV", "CLPR"))
        return 3 if in_clip == 2 else levels_beneath(folders, ("BPAV", "CLPR"))


_BELONGS = re.compile(r"(?P<clip>.+?)[MTSR]\d\d")
"""`C0001M01.XML`, `C0001T01.JPG`, `C0001S03.MP4`: the clip's name, a letter for what it is, a number (from memory)."""


class M4Root(_MediaProfile):
    """`PRIVATE/M4ROOT`: clips, thumbnails and proxies in folders of their own."""

    name = "M4ROOT"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """`M4ROOT`, in `PRIVATE` or at the card's top, where it has a folder of clips."""
        found = next((p for p in (tree.folder("PRIVATE/M4ROOT"), tree.folder("M4ROOT")) if p), None)
        return [found] if found and tree.folder(join(found, "CLIP")) else []

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each picture in `CLIP`, with its description, thumbnail and proxy, compared with the index."""
        entries = own(tree.files_under(root), taken)
        main = own(tree.files_in(tree.folder(join(root, "CLIP"))), taken)
        clips, _ = by_base(main)
        beside = self._beside(tree, root, clips)
        clips = [Clip(c.name, c.kind, c.folder, (*c.parts, *beside.get(c.name.lower(), ()))) for c in clips]
        findings = compare_known(tree, indexes, self.index_files(tree, root), clips)
        return Reading(tuple(clips), left_over(entries, clips), tuple(findings))

    def _beside(self, tree: Tree, root: str, clips: list[Clip]) -> dict[str, list[ClipFile]]:
        names = {clip.name.lower() for clip in clips}
        found: dict[str, list[ClipFile]] = {}
        for folder, role in (("CLIP", FileRole.SIDECAR), ("THMBNL", FileRole.THUMBNAIL), ("SUB", FileRole.ALTERNATE)):
            for entry in tree.files_in(tree.folder(join(root, folder))):
                belongs = _BELONGS.fullmatch(base_of(entry.path))
                if belongs and belongs["clip"].lower() in names:
                    found.setdefault(belongs["clip"].lower(), []).append(ClipFile(entry, role))
        return found

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within the folders of clips, thumbnails and proxies."""
        return max(levels_beneath(folders, ("PRIVATE", "M4ROOT", last)) for last in ("CLIP", "THMBNL", "SUB"))
