"""The line format of the common checksum programs: `CHECKSUM  PATH`, one file per line.

GNU coreutils manual, 'md5sum invocation': a name with a backslash, newline or carriage return is written with `\\\\`,
`\\n`, `\\r` and its line begins with a backslash. The b3sum and xxhsum (0.8.2 and newer) programs follow it.
The BSD form `ALGORITHM (PATH) = CHECKSUM` is read as well.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from io import BytesIO
from itertools import pairwise
from pathlib import PurePath

from ..errors import MalformedList, UnknownAlgorithm
from ..hashing import ALGORITHMS, Algorithm, algorithm_named

_ESCAPES = {"\\": "\\\\", "\n": "\\n", "\r": "\\r"}
_NEEDS_ESCAPE = re.compile(r"[\\\n\r]")
_UNESCAPES = {after: before for before, after in _ESCAPES.items()}
_GNU = re.compile(r"(?P<escaped>\\?)(?P<sum>[0-9a-fA-F]{16,128}) [ *](?P<path>.+)", re.DOTALL)
_BSD = re.compile(
    r"(?P<escaped>\\?)(?P<name>[A-Za-z0-9_-]+) \((?P<path>.+)\) = (?P<sum>[0-9a-fA-F]{16,128})", re.DOTALL
)
_BSD_NAMES = {"XXH128": "xxh128", "XXH3_128": "xxh128", "XXH64": "xxh64"}


@dataclass(frozen=True, slots=True)
class ListedSum:
    """path: as the list means it, unescaped and surrogate-escaped. algorithm: only where the line itself names one."""

    path: str
    checksum: str
    algorithm: str | None = None


def format_list(sums: Mapping[str, str]) -> bytes:
    """The list's bytes for checksums by path, in path order."""
    content = BytesIO()  # grown line by line: a card may hold a million files
    in_order = sums if all(one <= other for one, other in pairwise(sums)) else sorted(sums)
    for path in in_order:
        content.write(_line(path, sums[path]).encode("utf-8", "surrogateescape"))
    return content.getvalue()


def _line(path: str, checksum: str) -> str:
    if not _NEEDS_ESCAPE.search(path):
        return f"{checksum}  {path}\n"
    escaped = _NEEDS_ESCAPE.sub(lambda found: _ESCAPES[found[0]], path)
    return f"\\{checksum}  {escaped}\n"


def parse_list(content: bytes) -> list[ListedSum]:
    """Read a list in either form. Blank lines and lines that begin with `#` or `;` are passed over.

    Raises MalformedList, with the line's number: a line that is not understood must not be skipped.
    """
    text = content.decode("utf-8", "surrogateescape")
    sums = []
    for number, line in enumerate(text.split("\n"), 1):
        line = line.removesuffix("\r")
        if not line or line[0] in "#;":
            continue
        sums.append(_parse_line(line, number))
    if not sums:
        raise MalformedList("The list names no file: nothing was checked.")
    return sums


def _parse_line(line: str, number: int) -> ListedSum:
    found = _GNU.fullmatch(line)
    algorithm = None
    if found is None:
        found = _BSD.fullmatch(line)
        if found is None:
            raise MalformedList(f"Line {number} of the list is not a checksum and a path: nothing was checked.")
        name = found["name"]
        algorithm = algorithm_named(_BSD_NAMES.get(name, name.lower())).name
    path = found["path"]
    if found["escaped"]:
        path = re.sub(r"\\[\\nr]", lambda escape: _UNESCAPES[escape[0]], path)
    return ListedSum(path, found["sum"].lower(), algorithm)


def list_algorithm(name: str, sums: list[ListedSum], asked: str | None = None) -> Algorithm:
    """Which checksum a list holds: as asked, as its lines say, as its file name says, or by its length.

    Raises UnknownAlgorithm where that leaves more than one, or contradicts the checksums' length.
    """
    said = asked or next((listed.algorithm for listed in sums if listed.algorithm), None) or _from_name(name)
    lengths = {len(listed.checksum) for listed in sums}
    fitting = [algorithm for algorithm in ALGORITHMS.values() if lengths == {algorithm.digits}]
    return _as_said(said, fitting) if said else _only_one(fitting)


def _as_said(said: str, fitting: list[Algorithm]) -> Algorithm:
    algorithm = algorithm_named(said)
    if algorithm not in fitting:
        raise UnknownAlgorithm(f"The checksums in the list do not have the length of {said}: nothing was checked.")
    return algorithm


def _only_one(fitting: list[Algorithm]) -> Algorithm:
    if len(fitting) != 1:
        known = " or ".join(algorithm.name for algorithm in fitting) or "none we know"
        raise UnknownAlgorithm(f"By their length the checksums could be {known}: say which with --hash.")
    return fitting[0]


def _from_name(name: str) -> str | None:
    """`A012.md5`, `A012.xxh128.incomplete`, `MD5SUMS`, `sha256sum.txt`."""
    words = re.findall(r"[a-z0-9]+", PurePath(name).name.lower())
    candidates = [re.sub(r"sums?$", "", word) for word in words]
    return next((word for word in reversed(candidates) if word in ALGORITHMS), None)
