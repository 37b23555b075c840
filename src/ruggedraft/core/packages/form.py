"""The form of a package: POSIX.1-2001 pax, with every file on pages of its own.

    a file      header (x, then ustar), so long that the file begins at a page; it; a comment (g) to its last page's end
    list        NAME.xxh128, as `xxhsum -c` reads it once the archive is unpacked
    index       NAME.index.json: where in the package each file lies
    last block  where the index lies, and its checksum; then the archive's end, two blocks of zeros

That no two files share a page is what lets one be read back from the medium while the next one is being written.
"""

import json
import tarfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import count
from typing import Any

from ..errors import MalformedList, UnsafePath
from ..files.confinement import parts_of
from ..hashing import algorithm_named
from ..manifests.checksum_list import format_list

BLOCK = 512
PAGE = 4096
ENDING = ".tar"
UNFINISHED = ".unfinished"
"""Behind the name of a package that is not whole yet."""
LAST = 2 * BLOCK
"""Bytes of zeros that end an archive."""
DIGEST = algorithm_named("xxh128")
_FORM = 1
_LONGEST_TIME, _LARGEST, _SHORT = -(10**19), 1 << 62, 100
_USUAL = 3 * BLOCK
"""A header of what pax says, a block that says it, and the old header."""


@dataclass(frozen=True, slots=True)
class Member:
    """A file in a package.

    path: inside the roll's folder. at: where its first byte lies. size: bytes. checksum: xxh128, empty where not known
    """

    path: str
    at: int
    size: int
    modified_ns: int
    mode: int = 0o644
    checksum: str = ""


def package_name(folder: str, part: int = 1) -> str:
    """The path of a copy's package. part: further ones hold what came to the roll after the first was sealed.

    >>> package_name("2027-04-26/A012"), package_name("A012", 2)
    ('2027-04-26/A012.tar', 'A012.part2.tar')
    """
    return f"{folder}{ENDING}" if part == 1 else f"{folder}.part{part}{ENDING}"


def parts_from(first: str) -> Iterator[str]:
    """Paths that a package and those that came after it may have, without end.

    >>> found = parts_from("drive/A012.tar")
    >>> next(found), next(found)
    ('drive/A012.tar', 'drive/A012.part2.tar')
    """
    return (package_name(first.removesuffix(ENDING), number) for number in count(1))


def name_of(folder: str) -> str:
    """What a copy's folder is called, and so the folder that its files lie in inside the package.

    >>> name_of("2027-04-26/A012")
    'A012'
    """
    return folder.rpartition("/")[2]


def up_to(offset: int, step: int) -> int:
    """The next multiple of a step.

    >>> up_to(0, 512), up_to(513, 512)
    (0, 1024)
    """
    return -(-offset // step) * step


def pax_time(modified_ns: int) -> str:
    """As pax writes it, in seconds.

    >>> pax_time(1_700_000_000_123_456_789), pax_time(-500_000_000)
    ('1700000000.123456789', '-0.500000000')
    """
    seconds, rest = divmod(abs(modified_ns), 10**9)
    return f"{'-' if modified_ns < 0 else ''}{seconds}.{rest:09}"


def time_of(said: str) -> int:
    """Nanoseconds of what pax wrote, to the last digit. Raises ValueError.

    >>> time_of("1700000000.123456789"), time_of("-0.5"), time_of("12")
    (1700000000123456789, -500000000, 12000000000)
    """
    whole, _, rest = said.lstrip("+-").partition(".")
    ns = int(whole or "0") * 10**9 + int(rest[:9].ljust(9, "0") or "0")
    return -ns if said.startswith("-") else ns


def header(path: str, size: int, modified_ns: int, mode: int, length: int = 0, kind: bytes = tarfile.REGTYPE) -> bytes:
    """What stands before a file. length: bytes it shall have if that is more than it needs; a multiple of `BLOCK`"""
    usual = length - _USUAL
    if usual > 0:
        made = _header(path, size, modified_ns, mode, kind, " " * _comment_signs(usual))
        if len(made) == length:
            return made
    plain = _header(path, size, modified_ns, mode, kind, "")
    missing = length - len(plain)
    return _header(path, size, modified_ns, mode, kind, " " * _comment_signs(missing)) if missing > 0 else plain


def header_room(path: str) -> int:
    """Bytes that a file's header takes, whatever its size and time will be: whole pages."""
    if len(path) <= _SHORT and path.isascii():
        return PAGE
    return up_to(len(_header(path, _LARGEST, _LONGEST_TIME, 0o644, tarfile.REGTYPE, "")), PAGE)


@lru_cache(maxsize=16)
def filler(length: int) -> bytes:
    """A comment for nobody, of so many bytes: a multiple of `BLOCK`, and more than one."""
    size = length - BLOCK
    info = tarfile.TarInfo("././@PaxHeader")
    info.type, info.size = tarfile.XGLTYPE, size
    return info.tobuf(tarfile.USTAR_FORMAT) + f"{size} comment={' ' * _comment_signs(size)}\n".encode()


def after(end: int) -> int:
    """Bytes of zeros and comment between a file's end and the page on which the next one begins."""
    rest = up_to(end, BLOCK)
    gap = up_to(rest, PAGE) - rest
    return rest - end + (gap + PAGE if gap == BLOCK else gap)


def rest_of_page(end: int) -> bytes:
    """What stands there; see `after`."""
    zeros = up_to(end, BLOCK) - end
    rest = after(end) - zeros
    return bytes(zeros) + (filler(rest) if rest else b"")


def _header(path: str, size: int, modified_ns: int, mode: int, kind: bytes, comment: str) -> bytes:
    info = tarfile.TarInfo(path)
    info.type, info.size, info.mode = kind, size, mode & 0o777
    info.mtime = min(max(modified_ns // 10**9, 0), 8**11 - 1)
    info.pax_headers = {"mtime": pax_time(modified_ns)} | ({"comment": comment} if comment else {})
    return info.tobuf(tarfile.PAX_FORMAT, "utf-8", "surrogateescape")


def _comment_signs(record: int) -> int:
    """Signs of a comment whose record has so many bytes."""
    return record - len(str(record)) - len(" comment=\n")


def list_of(name: str, members: Iterable[Member]) -> bytes:
    """The checksum list that a package carries, relative to where it is unpacked."""
    return format_list({f"{name}/{one.path}": one.checksum for one in members})


def index_of(name: str, sealed_ns: int, members: Sequence[Member]) -> bytes:
    """sealed_ns: the time that the package has since it was sealed"""
    files = [[one.path, one.at, one.size, one.modified_ns, one.mode, one.checksum] for one in members]
    said = {"form": _FORM, "name": name, "sealed_ns": sealed_ns, "files": files}
    return json.dumps(said, separators=(",", ":")).encode()


def parse_index(content: bytes, end: int) -> tuple[str, int, list[Member]]:
    """The folder's name, the time of sealing and the files. end: where in the package its files end

    Raises MalformedList for anything that is not as `index_of` writes it, and for files that overlap or lie elsewhere.
    """
    try:
        said: dict[str, Any] = json.loads(content)
        if said["form"] != _FORM:
            raise MalformedList("the package's index is of a form that is not known here")
        members = [Member(*row) for row in said["files"]]
        _require_apart(members, end)
        return str(said["name"]), int(said["sealed_ns"]), members
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError, UnsafePath) as error:
        raise MalformedList(f"the package's index cannot be read ({error})") from error


def _require_apart(members: Sequence[Member], end: int) -> None:
    at, seen = 0, set[str]()
    for one in sorted(members, key=lambda one: (one.at, one.size)):
        parts_of(one.path)
        if one.path in seen or one.at < at or one.size < 0 or one.at + one.size > end:
            raise MalformedList(f"the package's index is wrong about {one.path!r}")
        at = one.at + one.size
        seen.add(one.path)


def last_block(index_at: int, index: bytes) -> bytes:
    """What the archive's last file says."""
    hasher = DIGEST.start()
    hasher.update(index)
    said = {"form": _FORM, "index_at": index_at, "index_size": len(index), "index_xxh128": hasher.hexdigest()}
    return json.dumps(said).encode().ljust(BLOCK)


def parse_last_block(content: bytes) -> tuple[int, int, str]:
    """Where the index lies, its bytes, and its checksum. Raises MalformedList where a package does not end so."""
    try:
        said = json.loads(content)
        return int(said["index_at"]), int(said["index_size"]), str(said["index_xxh128"])
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        raise MalformedList("the package has no index at its end: it was cut off, or is not one of ours") from error
