"""What is on this card: layouts, clips, and what there is to say about it. Pure: bytes were read before."""

import unicodedata
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..errors import SourceUnreadable
from ..sources.listing import Entry, Listing
from ..sources.port import CardSource
from ..wording import counted
from .chapters import FAT32_LARGEST_FILE, join_chapters
from .clips import Clip, ClipKind, FileRole
from .clocks import Circumstances, clock_findings, in_shooting_order, timed
from .findings import Finding, FindingKind, named
from .inner import inner_finding
from .layouts import LAYOUTS, PLAIN, IndexNames
from .layouts.base import Reading
from .media import MediaFacts
from .tree import Tree


@dataclass(frozen=True)
class LayoutAt:
    """A layout and the folder that carries it; "" is the card itself."""

    name: str
    root: str


@dataclass(frozen=True)
class CardDescription:
    """layouts: what wrote this card. clips: in shooting order. loose: files of no clip, copied all the same.

    kept_whole: main paths of clips whose files refer to one another by name
    """

    layouts: tuple[LayoutAt, ...]
    clips: tuple[Clip, ...]
    loose: tuple[Entry, ...]
    findings: tuple[Finding, ...]
    kept_whole: frozenset[str] = frozenset()

    @property
    def layout_names(self) -> str:
        """As people say it, each once."""
        return " + ".join(dict.fromkeys(layout.name for layout in self.layouts))


_LARGEST_INDEX = 2_000_000  # bytes


def read_indexes(listing: Listing, source: CardSource) -> dict[str, tuple[str, ...]]:
    """Open a card's index files and note what they name; one that cannot be read names nothing.

    Raises SourceVanished.
    """
    tree, names = Tree(listing), {}
    for layout in LAYOUTS:
        for root in layout.roots(tree):
            for path in layout.index_files(tree, root):
                entry = tree.entry(path)
                if entry is None or entry.size > _LARGEST_INDEX:
                    continue
                try:
                    file = source.open(entry.path)
                except SourceUnreadable:
                    continue
                try:
                    names[entry.path] = layout.names_in(entry.path, file.read_at(0, entry.size))
                except SourceUnreadable:
                    continue
                finally:
                    file.close()
    return names


def describe(
    listing: Listing,
    around: Circumstances,
    media: Mapping[str, MediaFacts] | None = None,
    indexes: IndexNames | None = None,
) -> CardDescription:
    """Describe a card from its listing, and from as many headers and indexes as have been read so far."""
    media, indexes = media or {}, indexes or {}
    tree = Tree(listing)
    layouts, raw, loose, findings, whole = _by_layout(tree, indexes)
    clips = [timed(clip, media.get(clip.main.path), around) for clip in raw]
    clips = join_chapters(clips, {FAT32_LARGEST_FILE, *around.largest_files})
    ordered, wrapped = in_shooting_order(clips)
    findings = [
        *inner_finding(tree),
        *findings,
        *_emptied(layouts, ordered),
        *clock_findings(ordered, around),
        *wrapped,
        *_mixed_bodies(ordered),
        *_headers(media),
        *_odd(listing),
        *_closed(listing),
        *_twins(listing),
    ]
    return CardDescription(tuple(layouts), tuple(ordered), tuple(loose), tuple(findings), frozenset(whole))


def _paths_of(reading: Reading) -> frozenset[str]:
    of_clips = [part.entry.path for clip in reading.clips for part in clip.parts]
    return frozenset(of_clips).union(entry.path for entry in reading.structure)


def _by_layout(
    tree: Tree, indexes: IndexNames
) -> tuple[list[LayoutAt], list[Clip], list[Entry], list[Finding], list[str]]:
    taken: frozenset[str] = frozenset()
    layouts: list[LayoutAt] = []
    clips: list[Clip] = []
    loose: list[Entry] = []
    findings: list[Finding] = []
    whole: list[str] = []
    for layout in LAYOUTS:
        for root in layout.roots(tree):
            reading = layout.read(tree, root, taken, indexes)
            if layout is not PLAIN or reading.clips or not layouts:
                layouts.append(LayoutAt(layout.name, root))
            clips += reading.clips
            loose += reading.structure
            findings += reading.findings
            whole += [clip.main.path for clip in reading.clips] if layout.kept_whole else []
            taken |= _paths_of(reading)
    return layouts, clips, loose, findings, whole


def recognise(listing: Listing) -> str:
    """The names of the layouts on a card, at the first look: `plain` only where there is no other."""
    tree = Tree(listing)
    return " + ".join(layout.name for layout in LAYOUTS if layout is not PLAIN and layout.roots(tree)) or PLAIN.name


def _emptied(layouts: Iterable[LayoutAt], clips: list[Clip]) -> list[Finding]:
    """A camera's folders without a recording: half formatted, or somebody dug the recordings out."""
    found = [layout for layout in layouts if layout.name != PLAIN.name]
    empty = [at for at in found if not any(_is_beneath(clip.main.path, at.root) for clip in clips)]
    if not empty:
        return []
    roots = tuple(at.root for at in empty)
    words = (
        f"{', '.join(roots)}: a camera's folders with nothing recorded in them. Formatted in part, or emptied by hand"
    )
    return [Finding(FindingKind.EMPTIED, words, roots)]


def _is_beneath(path: str, root: str) -> bool:
    return not root or path.startswith(root + "/")


def _mixed_bodies(clips: list[Clip]) -> list[Finding]:
    bodies = Counter(clip.facts.body for clip in clips if clip.facts and clip.facts.body)
    if len(bodies) < 2:
        return []
    words = ", ".join(f"{body} ({counted(count, 'clip')})" for body, count in bodies.most_common())
    fewest = min(bodies, key=lambda body: bodies[body])
    paths = tuple(clip.main.path for clip in clips if clip.facts and clip.facts.body == fewest)
    return [Finding(FindingKind.MIXED_BODIES, f"{len(bodies)} different bodies wrote this card: {words}", paths)]


def _headers(media: Mapping[str, MediaFacts]) -> list[Finding]:
    noted = sorted(path for path, facts in media.items() if facts.note)
    if not noted:
        return []
    if len(noted) == 1:
        words = f"{named(noted)}: {media[noted[0]].note}. It is copied as it is"
    else:
        words = f"{counted(len(noted), 'header')} not read whole: {named(noted)}. They are copied as they are"
    return [Finding(FindingKind.HEADER, words, tuple(noted))]


def _odd(listing: Listing) -> list[Finding]:
    if not listing.odd:
        return []
    paths = tuple(entry.path for entry in listing.odd)
    words = f"{counted(len(paths), 'name')} that cannot be copied (a link, special file or folder that does not open): "
    return [Finding(FindingKind.ODD, words + named(paths), paths)]


def _closed(listing: Listing) -> list[Finding]:
    if not listing.closed:
        return []
    paths = tuple(entry.path for entry in listing.closed)
    words = "kept by a computer for itself and closed to us; no camera writes there, and it is not copied"
    return [Finding(FindingKind.SYSTEM, f"{named(paths)}: {words}", paths)]


def _twins(listing: Listing) -> list[Finding]:
    """Names that differ only by case or by Unicode normal form: most drives keep one of them."""
    keys = [_without_case_and_form(entry.path) for entry in listing.entries]
    if len(set(keys)) == len(keys):
        return []
    names: dict[str, list[str]] = {}
    for key, entry in zip(keys, listing.entries, strict=True):
        names.setdefault(key, []).append(entry.path)
    twins = tuple(path for paths in names.values() if len(paths) > 1 for path in paths)
    words = f"{counted(len(twins), 'name')} that differ only in case or in the form of accents: many drives keep one. "
    return [Finding(FindingKind.TWINS, words + named(twins), twins)]


def _without_case_and_form(path: str) -> str:
    return path.lower() if path.isascii() else unicodedata.normalize("NFC", path).casefold()


@dataclass(frozen=True)
class Contents:
    """Counts of what is on a card. Clips of each kind; `other`: files of no clip."""

    stills: int
    video: int
    sound: int
    sidecars: int
    other: int


def contents(described: CardDescription) -> Contents:
    """Counts of a card, as people count it: by recordings and not by files."""
    kinds = Counter(clip.kind for clip in described.clips)
    beside = sum(len(clip.of_role(FileRole.SIDECAR, FileRole.THUMBNAIL)) for clip in described.clips)
    return Contents(
        stills=kinds[ClipKind.PICTURE],
        video=kinds[ClipKind.VIDEO] + kinds[ClipKind.SEQUENCE],
        sound=kinds[ClipKind.SOUND],
        sidecars=beside,
        other=len(described.loose),
    )
