"""Checksum lists that a camera, a recorder or an earlier station left on a card, as something to compare with.

Read are the line formats of the common checksum programs, and XML hash lists of both generations: `hashlist` files
with `<hash><file>…</file><md5>…</md5></hash>`, and the later ones with `<hash><path>…</path><xxh64>…</xxh64></hash>`.
Their element names are from memory of the published schemas, no source at hand.
"""

from collections.abc import Mapping
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from ..errors import ListError, SourceError
from ..hashing import ALGORITHMS, Algorithm
from ..sources.listing import Entry, EntryKind, Listing
from ..sources.port import CardSource
from .checksum_list import list_algorithm, parse_list

Recorded = Mapping[str, tuple[Algorithm, str]]

_MOST = 64 << 20  # bytes; a longer file is no list of a card's files
_ENDINGS = {f".{name}" for name in ALGORITHMS} | {".b3", ".md5sum", ".sha1sum", ".sha256sum"}
_NAMES = {f"{name}sum{s}{ending}" for name in ALGORITHMS for s in ("", "s") for ending in ("", ".txt")}
_XML_NAMES = {"md5": "md5", "sha1": "sha1", "xxhash64be": "xxh64", "xxh64": "xxh64", "xxh128": "xxh128"}
"""Digests whose byte order is plain. The older lists' `xxhash64` is not among them."""
_STRONGEST_FIRST = ("sha256", "blake3", "sha1", "md5", "xxh128", "xxh64")


def recorded_checksums(source: CardSource, listing: Listing) -> dict[str, tuple[Algorithm, str]]:
    """What lists on the card say of files on the card, by path.

    A list that cannot be read or understood says nothing: it is a file like any other, and is copied as one.
    """
    found: dict[str, tuple[Algorithm, str]] = {}
    for entry in filter(_may_be_list, listing.files):
        for path, recorded in _read_list(source, entry).items():
            found[path] = _stronger(found.get(path), recorded)
    return {entry.path: found[entry.path] for entry in listing.files if entry.path in found} if found else {}


def _may_be_list(entry: Entry) -> bool:
    name = entry.path.rpartition("/")[2].lower()
    ending = f".{name.rpartition('.')[2]}"
    return entry.kind is EntryKind.FILE and 0 < entry.size <= _MOST and (
        ending in _ENDINGS or ending == ".mhl" or name in _NAMES
    )  # fmt: skip


def _read_list(source: CardSource, entry: Entry) -> dict[str, tuple[Algorithm, str]]:
    folder, _, name = entry.path.rpartition("/")
    try:
        content = _content(source, entry)
        sums = _of_xml(content) if name.lower().endswith(".mhl") else _of_lines(name, content)
    except (ListError, ParseError, DefusedXmlException, UnicodeError, SourceError):
        return {}
    return {path: sum_ for given, sum_ in sums.items() if (path := _inside(folder, given))}


def _content(source: CardSource, entry: Entry) -> bytes:
    file = source.open(entry.path)
    try:
        return file.read_at(0, entry.size)
    finally:
        file.close()


def _of_lines(name: str, content: bytes) -> dict[str, tuple[Algorithm, str]]:
    listed = parse_list(content)
    algorithm = list_algorithm(name.replace(".b3", ".blake3"), listed)
    return {one.path: (algorithm, one.checksum) for one in listed}


def _of_xml(content: bytes) -> dict[str, tuple[Algorithm, str]]:
    found = {}
    for element in fromstring(content, forbid_dtd=True).iter():
        if _tag(element) == "hash":
            told = {_tag(child): (child.text or "").strip() for child in element}
            path, best = told.get("path") or told.get("file"), _strongest(told)
            if path and best:
                found[path.replace("\\", "/")] = best
    return found


def _strongest(told: Mapping[str, str]) -> tuple[Algorithm, str] | None:
    """Of the checksums of a file; None if there is none that we know, or it has another length."""
    sums = {_XML_NAMES[tag]: text.lower() for tag, text in told.items() if tag in _XML_NAMES and text}
    best = next((name for name in _STRONGEST_FIRST if name in sums), None)
    if best is None or len(sums[best]) != ALGORITHMS[best].digits:
        return None
    return ALGORITHMS[best], sums[best]


def _tag(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _inside(folder: str, given: str) -> str:
    """A list's path as one of the card's; empty if it leads out of it."""
    parts: list[str] = folder.split("/") if folder else []
    for part in given.split("/"):
        if part == ".." and parts:
            parts.pop()
        elif part == ".." or "\0" in part:
            return ""
        elif part not in ("", "."):
            parts.append(part)
    return "/".join(parts)


def _stronger(one: tuple[Algorithm, str] | None, other: tuple[Algorithm, str]) -> tuple[Algorithm, str]:
    return min(one or other, other, key=lambda recorded: _STRONGEST_FIRST.index(recorded[0].name))
