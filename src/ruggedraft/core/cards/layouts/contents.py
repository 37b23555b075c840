"""`CONTENTS`, of two kinds: a list of clips with picture and sound kept apart, and a folder a clip."""

import re
from collections.abc import Iterable

from ...sources.listing import Entry
from ..clips import Clip, ClipFile, ClipKind, FileRole, clip_of
from ..findings import Finding
from ..media import MediaKind, kind_of
from ..tree import Tree, base_of, join, name_of
from .base import IndexNames, Reading, WithoutIndex, left_over, levels_beneath, own
from .indexes import missing_clips, stray_clips

_ESSENCE = {
    "VIDEO": FileRole.MAIN,
    "AUDIO": FileRole.PART,
    "PROXY": FileRole.ALTERNATE,
    "ICON": FileRole.THUMBNAIL,
    "VOICE": FileRole.SIDECAR,
}


class ContentsList(WithoutIndex):
    """`CONTENTS/CLIP/<clip>.XML` describes a clip whose picture and sound are `VIDEO/<clip>.MXF`, `AUDIO/<clip>nn.MXF`.

    Folder names and the two-digit channel numbers from memory.
    """

    name = "CONTENTS (clip list)"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """`CONTENTS`, where it has both a list of clips and a folder of pictures."""
        found = tree.folder("CONTENTS")
        return [found] if found and tree.folder(join(found, "CLIP")) and tree.folder(join(found, "VIDEO")) else []

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each picture, with sound and whatever else bears its name. Descriptions tell what is missing."""
        entries = own(tree.files_under(root), taken)
        described = {base_of(entry.path): entry for entry in tree.files_in(tree.folder(join(root, "CLIP")))}
        pictures = {base_of(entry.path): entry for entry in tree.files_in(tree.folder(join(root, "VIDEO")))}
        clips = [self._clip(tree, root, name, described.get(name)) for name in pictures]
        findings = list(self._findings(root, described, pictures))
        return Reading(tuple(clips), left_over(entries, clips), tuple(findings))

    def _clip(self, tree: Tree, root: str, name: str, description: Entry | None) -> Clip:
        parts = [
            ClipFile(entry, role)
            for folder, role in _ESSENCE.items()
            for entry in tree.files_in(tree.folder(join(root, folder)))
            if re.fullmatch(re.escape(name) + r"(\d\d)?", base_of(entry.path))
        ]
        if description:
            parts.append(ClipFile(description, FileRole.SIDECAR))
        return Clip(name, ClipKind.VIDEO, join(root, "VIDEO"), tuple(parts))

    def _findings(self, root: str, described: dict[str, Entry], pictures: dict[str, Entry]) -> Iterable[Finding]:
        missing = [join(root, "VIDEO", name + ".MXF") for name in sorted(described.keys() - pictures.keys())]
        if missing:
            yield missing_clips(missing, join(root, "CLIP"))
        stray = [pictures[name].path for name in sorted(pictures.keys() - described.keys())]
        if stray and described:
            yield stray_clips(stray, join(root, "CLIP"))

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within the folders of clips, picture, sound, proxies, icons and voice notes."""
        return max(levels_beneath(folders, ("CONTENTS", last)) for last in (*_ESSENCE, "CLIP"))


_CLIPS = re.compile(r"CLIPS\d{3}")


class ContentsFolders(WithoutIndex):
    """`CONTENTS/CLIPSnnn/<clip>/…`: a folder a clip, with picture, description and relations in it (from memory)."""

    name = "CONTENTS (clip folders)"
    kept_whole = True

    def roots(self, tree: Tree) -> list[str]:
        """`CONTENTS`, where at least one numbered folder of clips stands in it."""
        found = tree.folder("CONTENTS")
        inner = tree.folders_in(found)
        return [found] if found and any(_CLIPS.fullmatch(name_of(path).upper()) for path in inner) else []

    def read(self, tree: Tree, root: str, taken: frozenset[str], indexes: IndexNames) -> Reading:
        """A clip for each folder with a picture in it; of a folder without one, the picture is missing."""
        clips, missing = [], []
        for group in tree.folders_in(root):
            for folder in tree.folders_in(group):
                entries = own(tree.files_under(folder), taken)
                clip = clip_of(name_of(folder), entries)
                if clip and kind_of(clip.main.path) is MediaKind.VIDEO:
                    clips.append(clip)
                elif entries:
                    missing.append(join(folder, name_of(folder) + ".MXF"))
        structure = left_over(own(tree.files_under(root), taken), clips)
        findings = (missing_clips(missing, root),) if missing else ()
        return Reading(tuple(clips), structure, findings)

    def levels_inside(self, folders: tuple[str, ...]) -> int:
        """From within `CONTENTS`, a numbered folder, or a clip's own folder in it."""
        upper = tuple(folder.upper() for folder in folders)
        for deep in (1, 2):
            if len(upper) > deep and upper[-deep - 1] == "CONTENTS" and _CLIPS.fullmatch(upper[-deep]):
                return deep + 1
        return 1 if upper[-1:] == ("CONTENTS",) else 0
