"""Comparing what an index names with what is there."""

import re
from collections.abc import Iterable, Sequence

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring

from ...wording import counted
from ..clips import Clip
from ..findings import Finding, FindingKind, named
from ..tree import Tree
from .base import IndexNames


def _unnamed(clips: Iterable[Clip], names: Iterable[str]) -> list[Clip]:
    listed = {path.lower() for path in names}
    return [clip for clip in clips if listed.isdisjoint(entry.path.lower() for entry in clip.entries)]


def compare(tree: Tree, index: str, names: Sequence[str], clips: Iterable[Clip]) -> list[Finding]:
    """Findings about one index: recordings it names that are not there, and clips that it does not name."""
    found = []
    missing = [path for path in names if tree.entry(path) is None]
    if missing:
        found.append(missing_clips(missing, index))
    stray = _unnamed(clips, names)
    if stray and names:
        found.append(stray_clips([clip.main.path for clip in stray], index))
    return found


def missing_clips(paths: Sequence[str], index: str) -> Finding:
    """An index names recordings that are not on the card."""
    words = f"{index} names {counted(len(paths), 'recording that is', 'recordings that are')} not here: "
    return Finding(FindingKind.MISSING_CLIP, words + named(paths), tuple(paths))


def stray_clips(paths: Sequence[str], index: str) -> Finding:
    """An index does not name clips that are on the card."""
    words = f"{index} does not name {counted(len(paths), 'clip that is', 'clips that are')} here: "
    return Finding(FindingKind.STRAY_CLIP, words + named(paths), tuple(paths))


def compare_known(tree: Tree, indexes: IndexNames, at: Iterable[str], clips: Sequence[Clip]) -> list[Finding]:
    """The same for those of a layout's indexes that could be read."""
    return [finding for path in at if path in indexes for finding in compare(tree, path, indexes[path], clips)]


def attributes(content: bytes, name: str) -> tuple[str, ...]:
    """Every value of an attribute in an XML file; nothing where the file is no XML or an unsafe one."""
    try:
        root = fromstring(content.decode("utf-8-sig", "replace"), forbid_dtd=True)
    except (ParseError, DefusedXmlException, ValueError):
        return ()
    return tuple(element.attrib[name] for element in root.iter() if name in element.attrib)


def words_in(content: bytes, pattern: str) -> tuple[str, ...]:
    """Distinct ASCII words of a binary file, in order."""
    return tuple(dict.fromkeys(found.decode("ascii") for found in re.findall(pattern.encode(), content)))
