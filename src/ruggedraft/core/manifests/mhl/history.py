"""What a history says: its chain, and each generation."""

import io
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, iterparse

from ...errors import MalformedList
from .hashes import HASHES, FolderSum, Hash

FOLDER = "ascmhl"
CHAIN = "ascmhl_chain.xml"
LISTS, DIRECTORY = "urn:ASC:MHL:v2.0", "urn:ASC:MHL:DIRECTORY:v2.0"
_LARGEST = 256 << 20
_DEEPEST = 12
_MOST_GENERATIONS = 10_000
_MOST_INSIDE = 10_000
_NAME = re.compile(r"[^/\\\0]+\.mhl")

Read = Callable[[str], bytes | None]
"""A file of the history by its name; None where there is none of that name, or it is larger than a list may be."""


@dataclass(frozen=True)
class MhlFile:
    """A file as a generation lists it. path: from the history's folder on. sums: by hash, those that did not fail

    failed: of hashes that did not agree. before: what it was called; empty where it was not renamed
    """

    path: str
    size: int | None
    sums: Mapping[str, str]
    failed: Mapping[str, str] = field(default_factory=dict)
    before: str = ""


@dataclass(frozen=True)
class Generation:
    """folders: what it says of folders, "" for the whole, by path and hash. ignored: patterns of what is not listed"""

    number: int
    name: str
    process: str
    files: tuple[MhlFile, ...]
    folders: Mapping[str, Mapping[str, FolderSum]]
    ignored: tuple[str, ...]


@dataclass(frozen=True)
class History:
    """In the order in which they were written; empty where nothing was yet."""

    generations: tuple[Generation, ...] = ()

    def expected(self) -> dict[str, dict[str, str]]:
        """Every file that is to be there, with the first checksum that was ever noted of each kind; renamed ones under
        their new names.
        """
        found: dict[str, dict[str, str]] = {}
        for generation in self.generations:
            for file in generation.files:
                known = found.pop(file.before, {}) if file.before else {}
                found[file.path] = {**file.sums, **known, **found.get(file.path, {})}
        return found


def has_history(folder: Path) -> bool:
    """Whether a folder holds one."""
    return (folder / FOLDER / CHAIN).is_file()


def read_history(read: Read) -> History:
    """With its chain followed: each list is there, and is what the chain says of it. Raises MalformedList."""
    chain = read(CHAIN)
    if chain is None:
        return History()
    generations = []
    for number, name, said in _chained(chain):
        content = read(name)
        if content is None:
            raise MalformedList(f"Generation {number} of this history, {name}, is not there: its chain is broken.")
        if said != HASHES["c4"].of(content):
            raise MalformedList(f"Generation {number}, {name}, is not what the chain says: somebody changed it.")
        generations.append(_generation(number, name, content))
    return History(tuple(generations))


def _chained(content: bytes) -> list[tuple[int, str, str]]:
    """Number, name and C4 ID of each generation, in order. Raises MalformedList."""
    found = []
    for element in _elements(content, DIRECTORY, CHAIN, ("hashlist",)):
        name, said = _text(element, "path"), _text(element, "c4").strip()
        number = element.get("sequencenr", "")
        if not number.isdecimal() or not _NAME.fullmatch(name) or not said:
            raise MalformedList(f"{CHAIN} has an entry that names no list and its C4 ID: nothing was checked.")
        found.append((int(number), name, said))
    return _in_order(found)


def _in_order(found: list[tuple[int, str, str]]) -> list[tuple[int, str, str]]:
    """Raises MalformedList."""
    found.sort()
    if not found or [number for number, _, _ in found] != list(range(1, len(found) + 1)):
        raise MalformedList(f"The generations in {CHAIN} are not numbered from 1 on without a gap: it is broken.")
    if len(found) > _MOST_GENERATIONS or len({name for _, name, _ in found}) < len(found):
        raise MalformedList(f"{CHAIN} names a list twice, or too many of them: nothing was checked.")
    return found


def _generation(number: int, name: str, content: bytes) -> Generation:
    files: dict[str, MhlFile] = {}
    folders: dict[str, dict[str, FolderSum]] = {}
    process, ignored = "", []
    for element in _elements(content, LISTS, name, ("hash", "directoryhash", "processinfo")):
        tag = _tag(element)
        if tag == "processinfo":
            process = _text(element, "process")
            ignored = [one.text or "" for one in element.iter() if _tag(one) == "pattern"]
            root = _child(element, "roothash")
            if root is not None:
                folders[""] = _folder(root)
        elif tag == "directoryhash":
            folders[_path(element, name)] = _folder(element)
        else:
            file = _file(element, name)
            if files.setdefault(file.path, file) is not file:
                raise MalformedList(f"{name} lists {file.path!r} twice: nothing was checked.")
    return Generation(number, name, process, tuple(files.values()), folders, tuple(ignored))


def _file(element: Any, name: str) -> MhlFile:
    path, size = _path(element, name), _child(element, "path").get("size", "")
    good: dict[str, str] = {}
    failed: dict[str, str] = {}
    for one in element:
        kind = HASHES.get(_tag(one))
        if kind is not None:
            (failed if one.get("action") == "failed" else good)[kind.name] = _sum(one, kind, path, name)
    before = _text(element, "previousPath")
    if before:
        _refuse_outside(before, name)
    return MhlFile(path, int(size) if size.isdecimal() else None, good, failed, before)


def _sum(element: Any, kind: Hash, path: str, name: str) -> str:
    said = (element.text or "").strip()
    said = said.lower() if kind.digits else said
    try:
        kind.as_bytes(said)
    except (ValueError, OverflowError) as error:
        raise MalformedList(
            f"{name} has something for {path!r} that is no {kind.name}: nothing was checked."
        ) from error
    return said


def _folder(element: Any) -> dict[str, FolderSum]:
    """What is said of a folder, by hash; parts of which only one of the two is said are left out."""
    content, structure = _child(element, "content"), _child(element, "structure")
    if content is None or structure is None:
        return {}
    by_tag = {_tag(one): (one.text or "").strip() for one in structure}
    return {
        _tag(one): FolderSum((one.text or "").strip(), by_tag[_tag(one)])
        for one in content
        if _tag(one) in HASHES and _tag(one) in by_tag
    }


def _path(element: Any, name: str) -> str:
    said = _text(element, "path")
    _refuse_outside(said, name)
    return said


def _refuse_outside(path: str, name: str) -> None:
    if not path or path.startswith("/") or "\\" in path or {"", ".", ".."} & set(path.split("/")):
        raise MalformedList(f"{name} names {path!r}, which does not lie in its folder: nothing was checked.")


def _elements(content: bytes, namespace: str, name: str, wanted: tuple[str, ...]) -> Iterator[Any]:
    """Elements of these names, each complete; of a document whose own element is of the namespace.

    Neither entities nor depth nor count make it take more memory than the file. Raises MalformedList.
    """
    above: list[Any] = []
    inside = 0
    try:
        for event, element in iterparse(io.BytesIO(content), events=("start", "end"), forbid_dtd=True):
            if event == "start":
                above.append(element)
                _refuse_form(above, namespace, name)
                continue
            above.pop()
            inside += 1
            if inside > _MOST_INSIDE:
                raise MalformedList(f"{name} has an entry with too much in it to be a list: nothing was checked.")
            if len(above) == 1 or (len(above) == 2 and _tag(above[-1]) == "hashes"):
                if _tag(element) in wanted:
                    yield element
                del above[-1][:]
                inside = 0
    except (ParseError, DefusedXmlException, ValueError, LookupError) as error:
        raise MalformedList(f"{name} is no XML that can be read: nothing was checked.") from error


def _refuse_form(above: Sequence[Any], namespace: str, name: str) -> None:
    if len(above) > _DEEPEST:
        raise MalformedList(f"{name} is nested too deeply to be a list: nothing was checked.")
    if len(above) == 1 and not above[0].tag.startswith(f"{{{namespace}}}"):
        raise MalformedList(f"{name} is not of {namespace}: nothing was checked.")


def _tag(element: Any) -> str:
    return str(element.tag).rpartition("}")[2]


def _child(element: Any, tag: str) -> Any:
    return next((one for one in element if _tag(one) == tag), None)


def _text(element: Any, tag: str) -> str:
    """Of a child; empty where there is none. Names of files keep the spaces they have."""
    found = _child(element, tag)
    return (found.text or "") if found is not None else ""


def read_in(folder: Path) -> Read:
    """The files of a folder's history, from this machine's own file systems."""

    def read(name: str) -> bytes | None:
        place = folder / FOLDER / name
        if place.is_symlink() or not place.is_file() or place.stat().st_size > _LARGEST:
            return None
        return place.read_bytes()

    return read
