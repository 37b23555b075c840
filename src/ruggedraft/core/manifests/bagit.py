"""Bags: RFC 8493, 'The BagIt File Packaging Format (V1.0)'; bags of 0.97 are read as well.

A bag is a folder: `bagit.txt`, the files themselves under `data/`, for each checksum a list of them, and lists of the
bag's own files. Everything that its lists name is read again; whatever is wrong is told, file by file.
"""

import hashlib
import os
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from pathlib import Path

from ..errors import MalformedList, UnknownAlgorithm
from ..files.confinement import Root, parts_of
from ..hashing import ALGORITHMS, Algorithm
from .verify import ListFinding, ListReport, check_file, files_beneath

DECLARATION = "bagit.txt"
PAYLOAD = "data/"
_KNOWN: Mapping[str, Algorithm] = {
    **{name: ALGORITHMS[name] for name in ("md5", "sha1", "sha256")},
    "sha512": Algorithm("sha512", 128, hashlib.sha512, True),
}
"""RFC 8493, 2.4: those that one should know, and MD5 and SHA-1 of older bags."""
_LARGEST = 256 << 20
"""Bytes of a list or other tag file that are read."""
_LINE = re.compile(r"([0-9a-fA-F]+)[ \t]+\*?(.+)")
_ESCAPES = {"%": "%25", "\n": "%0A", "\r": "%0D"}
_UNESCAPES = {"%25": "%", "%0A": "\n", "%0D": "\r"}
_ESCAPED, _ESCAPED_BEFORE = re.compile("%(?:25|0A|0D)", re.I), re.compile("%(?:0A|0D)", re.I)


def is_bag(folder: Path) -> bool:
    """Whether a folder says that it is a bag."""
    return (folder / DECLARATION).is_file()


def verify_bag(folder: Path) -> ListReport:
    """Read every file of a bag again, past the caches, once for all of its lists.

    What is missing, changed or not listed is a finding, and so is a file that is still to be fetched (2.2.3): such a
    bag is not complete. Raises ListError where nothing can be said of it, OSError.
    """
    root = Root.at(folder)
    bag = _Bag(root)
    report = ListReport(" and ".join(bag.algorithms))
    for path, sums in sorted(bag.wanted.items()):
        check_file(root, path, sums, report, lambda name: _KNOWN[name].start())
    report.findings += bag.unlisted()
    report.findings += bag.against_totals()
    return report


class _Bag:
    """What a bag's own files say. Raises ListError, OSError."""

    def __init__(self, root: Root) -> None:
        self._root = root
        self._written = _ESCAPED if _is_of_today(_text(root, DECLARATION)) else _ESCAPED_BEFORE
        self._payload, self._tags = self._lists("manifest-"), self._lists("tagmanifest-")
        if not self._payload:
            raise MalformedList("This bag has no list of its files: nothing was checked.")
        if not (root.path / PAYLOAD).is_dir():
            raise MalformedList("This bag has no folder data/ (2.1.2): nothing was checked.")
        self._refuse_outside()
        self.wanted: dict[str, dict[str, str]] = {}
        for name, sums in (self._payload | self._tags).items():
            for path, checksum in sums.items():
                self.wanted.setdefault(path, {})[_algorithm_of(name)] = checksum
        self._to_fetch = self._fetched() if self._has("fetch.txt") else set[str]()
        self._info = _fields(_text(root, "bag-info.txt")) if self._has("bag-info.txt") else {}

    @property
    def algorithms(self) -> list[str]:
        """Of all lists."""
        return sorted({_algorithm_of(name) for name in self._payload | self._tags})

    def _has(self, name: str) -> bool:
        return (self._root.path / name).is_file()

    def _lists(self, beginning: str) -> dict[str, dict[str, str]]:
        """By name, what each list that is called so holds."""
        found = sorted(path.name for path in self._root.path.glob(f"{beginning}*.txt") if path.is_file())
        return {name: self._sums(name, _algorithm_of(name)) for name in found}

    def _sums(self, name: str, algorithm: str) -> dict[str, str]:
        """Checksums by path, as a list of the bag has them."""
        if algorithm not in _KNOWN:
            raise UnknownAlgorithm(
                f"{name} is of a checksum that is not known here ({algorithm}): nothing was checked."
            )
        found: dict[str, str] = {}
        for number, line in enumerate(_lines(_text(self._root, name)), 1):
            parts = _LINE.fullmatch(line)
            if parts is None or len(parts[1]) != _KNOWN[algorithm].digits:
                raise MalformedList(f"Line {number} of {name} is no {algorithm} and path: nothing was checked.")
            path = self._path(parts[2])
            if found.setdefault(path, parts[1].lower()) != parts[1].lower():
                raise MalformedList(f"{name} has two checksums for {path!r}: nothing was checked.")
        return found

    def _path(self, said: str) -> str:
        """As it is in the file system: ends of lines, and in bags of today `%`, are written in another way (2.1.3)."""
        return self._written.sub(lambda one: _UNESCAPES[one[0].upper()], said).removeprefix("./")

    def _refuse_outside(self) -> None:
        """2.1.3 and 5.1.1: what lists name lies in the bag, and files themselves under `data/`."""
        for name, sums in (self._payload | self._tags).items():
            for path in sums:
                if not _is_inside(path) or path.startswith(PAYLOAD) != (name in self._payload):
                    raise MalformedList(f"{name} names {path!r}, which has no business there: nothing was checked.")

    def _fetched(self) -> set[str]:
        """2.2.3: paths of files that are to be fetched from somewhere; nothing ever is, here."""
        lines = (line.split(None, 2) for line in _lines(_text(self._root, "fetch.txt")))
        return {self._path(parts[2]) for parts in lines if len(parts) == 3}

    def unlisted(self) -> list[ListFinding]:
        """Files under `data/` that some list does not name, and files that a list names and another does not (3)."""
        there = set(files_beneath(self._root.path / PAYLOAD, PAYLOAD))
        found = []
        for name, sums in self._payload.items():
            found += [ListFinding(path, "extra", f"{name} does not name it") for path in sorted(there - sums.keys())]
        holey = sorted(self._to_fetch - there)
        return found + [ListFinding(path, "missing", "it is still to be fetched, says fetch.txt") for path in holey]

    def against_totals(self) -> list[ListFinding]:
        """Payload-Oxum (2.2.2): so many bytes in so many files."""
        said = re.fullmatch(r"(\d+)\.(\d+)", self._info.get("payload-oxum", ""))
        if said is None:
            return []
        sizes = [(self._root.path / path).lstat().st_size for path in files_beneath(self._root.path / PAYLOAD, PAYLOAD)]
        if (int(said[1]), int(said[2])) == (sum(sizes), len(sizes)):
            return []
        reason = f"Payload-Oxum says {said[1]} bytes in {said[2]} files, and there are {sum(sizes)} in {len(sizes)}"
        return [ListFinding("bag-info.txt", "changed", reason)]


def _algorithm_of(name: str) -> str:
    """
    >>> _algorithm_of("tagmanifest-sha256.txt")
    'sha256'
    """
    return name.partition("-")[2].removesuffix(".txt")


def _is_of_today(declaration: str) -> bool:
    """Of version 1.0 or later. Raises MalformedList for what is none (2.1.1)."""
    said = re.fullmatch(
        r"BagIt-Version: (\d+)\.(\d+)\nTag-File-Character-Encoding: UTF-8\n?", declaration.replace("\r", "")
    )
    if said is None:
        raise MalformedList("bagit.txt does not say which bag this is, in UTF-8: nothing was checked.")
    return int(said[1]) >= 1


def _is_inside(path: str) -> bool:
    return not path.startswith(("/", "~")) and not {"", ".", ".."} & set(path.split("/"))


def _text(root: Root, name: str) -> str:
    """A tag file as text. Raises MalformedList where it is too large, or none."""
    descriptor = root.open(name, os.O_RDONLY | os.O_NONBLOCK)
    with os.fdopen(descriptor, "rb") as file:
        content = file.read(_LARGEST + 1)
    if len(content) > _LARGEST:
        raise MalformedList(f"{name} is larger than {_LARGEST >> 20} MiB: nothing was checked.")
    return content.removeprefix(b"\xef\xbb\xbf").decode("utf-8", "surrogateescape")


def _lines(text: str) -> Iterator[str]:
    return (line for line in text.replace("\r\n", "\n").replace("\r", "\n").split("\n") if line)


def _fields(info: str) -> dict[str, str]:
    """2.2.2: `Label: value`, labels in small letters; the last of several."""
    return {name.strip().lower(): value.strip() for line in _lines(info) for name, _, value in [line.partition(":")]}


def tag_files(
    sums: Mapping[str, Mapping[str, str]], size: int, info: Sequence[tuple[str, str]] = ()
) -> dict[str, bytes]:
    """The files that make a bag of a folder whose `data/` holds the files themselves, by their names.

    sums: by algorithm, checksums by path in the bag, from `data/` on. size: bytes of all files themselves
    info: further fields of bag-info.txt. The same files make the same bytes. Raises UnknownAlgorithm, MalformedList.
    """
    files = _listed_in_all(sums)
    oxum = ("Payload-Oxum", f"{size}.{files}")
    made = {
        DECLARATION: b"BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n",
        "bag-info.txt": "".join(f"{name}: {' '.join(value.split())}\n" for name, value in (*info, oxum)).encode(),
        **{f"manifest-{name}.txt": _manifest(listed) for name, listed in sorted(sums.items())},
    }
    own = {f"tagmanifest-{name}.txt": _manifest(_sums_of(name, made)) for name in sorted(sums)}
    return made | own


def _listed_in_all(sums: Mapping[str, Mapping[str, str]]) -> int:
    """How many files there are, each in every list. Raises UnknownAlgorithm, MalformedList, UnsafePath."""
    unknown = sums.keys() - _KNOWN.keys()
    if not sums or unknown:
        raise UnknownAlgorithm(
            f"A bag is made with {', '.join(_KNOWN)}, and not with {', '.join(unknown) or 'nothing'}."
        )
    paths = {path for listed in sums.values() for path in listed}
    _require_text(paths)
    for path in paths:
        parts_of(path)
        if not path.startswith(PAYLOAD) or not all(path in listed for listed in sums.values()):
            raise MalformedList(f"{path!r} is not in every list, or not under data/: no bag was made.")
    return len(paths)


def _require_text(paths: Iterable[str]) -> None:
    """Tag files are written in UTF-8. Raises MalformedList."""
    for path in sorted(paths):
        try:
            path.encode()
        except UnicodeEncodeError as error:
            raise MalformedList(f"{path!r} is no text, as names in a bag have to be: no bag was made.") from error


def _manifest(sums: Mapping[str, str]) -> bytes:
    lines = (f"{sums[path]}  {_escaped(path)}\n" for path in sorted(sums))
    return "".join(lines).encode("utf-8", "surrogateescape")


def _escaped(path: str) -> str:
    return re.sub("[%\n\r]", lambda sign: _ESCAPES[sign[0]], path)


def _sums_of(name: str, files: Mapping[str, bytes]) -> dict[str, str]:
    found = {}
    for file, content in files.items():
        hasher = _KNOWN[name].start()
        hasher.update(content)
        found[file] = hasher.hexdigest()
    return found
