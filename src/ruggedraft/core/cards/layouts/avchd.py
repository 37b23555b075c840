"""`PRIVATE/AVCHD/BDMV`: numbered streams, a description beside each, playlists that name them."""

from collections.abc import Iterable

from ...sources.listing import Entry
from ..clips import Clip, clip_of
from ..findings import Finding
from ..tree import Tree, base_of, join
from .base import IndexNames, Layout, Reading, left_over, levels_beneath, own
from .indexes import missing_clips, words_in

_WAY = ("PRIVATE", "AVCHD", "BDMV")


class Avchd(Layout):
    """Folder names as in the AVCHD format's directory structure (from memory)."""

    name = "AVCHD"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """The folder that holds `STREAM`, at the card's top or under what stands above it on a camera's own card."""
        ways = ("/".join(_WAY[n:]) for n in range(len(_WAY)))
        found = (tree.folder(way) for way in ways)
        return [path for path in found if path and tree.folder(join(path, "STREAM"))][:1]

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each stream, with its description. What is described and is not there is missed."""
        entries = own(tree.files_under(root), taken)
        streams = own(tree.files_in(tree.folder(join(root, "STREAM"))), taken)
        clips = [clip for clip in (self._clip(tree, root, e) for e in streams) if clip]
        return Reading(tuple(clips), left_over(entries, clips), tuple(self._findings(tree, root, indexes)))

    def _clip(self, tree: Tree, root: str, stream: Entry) -> Clip | None:
        description = tree.entry(join(root, "CLIPINF", base_of(stream.path) + ".CPI"))
        return clip_of(base_of(stream.path), [stream, *([description] if description else [])])

    def _findings(self, tree: Tree, root: str, indexes: IndexNames) -> Iterable[Finding]:
        described = {base_of(entry.path) for entry in tree.files_in(tree.folder(join(root, "CLIPINF")))}
        missing = [path for name in sorted(described) if tree.entry(path := self._stream(root, name)) is None]
        if missing:
            yield missing_clips(missing, join(root, "CLIPINF"))
        for index in self.index_files(tree, root):
            absent = [p for p in indexes.get(index, ()) if tree.entry(p) is None and p not in missing]
            if absent:
                yield missing_clips(absent, index)

    def _stream(self, root: str, name: str) -> str:
        return join(root, "STREAM", name + ".MTS")

    def index_files(self, tree: Tree, root: str) -> Iterable[str]:
        """Every playlist."""
        return [entry.path for entry in tree.files_in(tree.folder(join(root, "PLAYLIST")))]

    def names_in(self, index: str, content: bytes) -> tuple[str, ...]:
        """Playlists name streams as `00001M2TS` (the Blu-ray movie playlist's clip name and codec id; from memory)."""
        root = index.rpartition("/")[0].rpartition("/")[0]
        return tuple(self._stream(root, word[:5]) for word in words_in(content, r"[0-9]{5}(?=M2TS)"))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within `STREAM`, `CLIPINF` or `PLAYLIST`, or any folder on the way to them."""
        return max(levels_beneath(folders, (*_WAY, last)) for last in ("STREAM", "CLIPINF", "PLAYLIST"))
