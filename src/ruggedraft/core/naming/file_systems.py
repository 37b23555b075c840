"""What names and sizes file systems can hold. A card's file must fit every store it goes to.

Sources, all from memory: Microsoft, 'FAT File System Specification' 1.03 (long names: 255 characters of UTF-16, 4 GiB
less one byte) and 'exFAT file system specification' 1.00, 7.7.3; 'Naming Files, Paths, and Namespaces' for NTFS as
Windows reads it; Linux' ext4 and the POSIX portable rules for the rest; Apple, 'Apple File System Reference'.
"""

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass

_WINDOWS = frozenset('"*:<>?\\|' + "".join(map(chr, range(32))))
_DEVICES = re.compile(r"(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(\..*)?", re.IGNORECASE)


@dataclass(frozen=True)
class FileSystem:
    """longest_name: in `unit`s. largest_file: bytes, None where no file of today reaches the limit.

    folds_case, folds_forms: two names that differ only in case, or only in Unicode normal form, are one.
    windows: trailing dots and spaces vanish, and device names are taken
    """

    name: str
    forbidden: frozenset[str] = frozenset("\0")
    longest_name: int = 255
    unit: str = "utf-16"
    largest_file: int | None = None
    folds_case: bool = False
    folds_forms: bool = False
    windows: bool = False
    needs_unicode: bool = False

    def length(self, part: str) -> int:
        """Of a name, in the units in which this file system counts."""
        if self.unit == "utf-8":
            return len(part.encode("utf-8", "surrogateescape"))
        return len(part.encode("utf-16-le", "surrogatepass")) // 2

    def key(self, path: str) -> str:
        """Paths with one key are one file here."""
        if self.folds_forms:
            path = unicodedata.normalize("NFC", path)
        if self.windows:
            path = "/".join(part.rstrip(" .") or part for part in path.split("/"))
        return path.casefold() if self.folds_case else path


FAT32 = FileSystem(
    "FAT32", _WINDOWS, largest_file=2**32 - 1, folds_case=True, windows=True, needs_unicode=True
)  # fmt: skip
EXFAT = FileSystem("exFAT", _WINDOWS, folds_case=True, needs_unicode=True)
NTFS = FileSystem("NTFS", _WINDOWS, folds_case=True, windows=True, needs_unicode=True)
APFS = FileSystem("APFS", frozenset("\0"), unit="utf-8", folds_case=True, folds_forms=True, needs_unicode=True)
EXT = FileSystem("Linux", unit="utf-8")
BUCKET = FileSystem("bucket", longest_name=512, unit="utf-8", needs_unicode=True)
"""Keys of 1024 bytes in all (Amazon S3 User Guide, 'Naming Amazon S3 objects'): a name gets half of them."""
WEBDAV = FileSystem("WebDAV", unit="utf-8", needs_unicode=True)
"""As an address (RFC 3986) may name it; what the server keeps it on may allow less, and says so file by file."""
FILE_SYSTEMS = {one.name: one for one in (FAT32, EXFAT, NTFS, APFS, EXT, BUCKET, WEBDAV)}
BY_KERNEL_NAME = {
    "vfat": FAT32, "msdos": FAT32, "exfat": EXFAT, "ntfs": NTFS, "ntfs3": NTFS, "fuseblk": NTFS, "apfs": APFS,
    "hfsplus": APFS, "cifs": NTFS, "smb3": NTFS,
}  # fmt: skip
"""By what the mount table calls them; every other one holds what Linux holds."""


@dataclass(frozen=True)
class NameProblem:
    """A path that a file system cannot hold, why, and under which path it could."""

    path: str
    file_system: str
    reason: str
    mend: str


def name_problems(files: Iterable[tuple[str, int]], file_system: FileSystem) -> list[NameProblem]:
    """Paths (with sizes in bytes) that this file system cannot hold, each with a proposed mend.

    Among paths that are one file there, all but the first are problems.
    """
    found: list[NameProblem] = []
    seen: dict[str, str] = {}
    for path, size in sorted(files):
        reason = _unfit(path, size, file_system)
        mend = "/".join(mended(part, file_system) for part in path.split("/"))
        first = seen.setdefault(file_system.key(mend if reason else path), path)
        if first != path:
            reason = reason or f"it and '{first}' are one name there"
            mend = _apart(mend, file_system, seen)
            seen[file_system.key(mend)] = path
        if reason:
            found.append(NameProblem(path, file_system.name, reason, mend))
    return found


def _unfit(path: str, size: int, file_system: FileSystem) -> str:
    if file_system.largest_file is not None and size > file_system.largest_file:
        return "it is larger than any file can be there (4 GiB)"
    return next((reason for part in path.split("/") if (reason := _unfit_part(part, file_system))), "")


def _unfit_part(part: str, file_system: FileSystem) -> str:
    bad = sorted(set(part) & file_system.forbidden)
    if bad:
        return f"names there cannot hold {' '.join(map(ascii, bad))}"
    if file_system.needs_unicode and any("\ud800" <= c <= "\udfff" for c in part):
        return "it is not valid Unicode, which names there are"
    if file_system.windows and (part != part.rstrip(" .") or _DEVICES.fullmatch(part)):
        return "names there cannot end in a dot or space, nor be a device's"
    if file_system.length(part) > file_system.longest_name:
        return f"names there have at most {file_system.longest_name} characters"
    return ""


def mended(part: str, file_system: FileSystem) -> str:
    """The nearest name that this file system can hold; the ending stays."""
    text = "".join("_" if c in file_system.forbidden else c for c in part)
    if file_system.needs_unicode:
        text = re.sub("[\ud800-\udfff]", lambda found: f"%{ord(found[0]) & 0xFF:02X}", text)
    if file_system.windows:
        stripped = text.rstrip(" .")
        text = stripped + "_" * (len(text) - len(stripped))
        if _DEVICES.fullmatch(text):
            text = "_" + text
    return _shortened(text, "", file_system)


def _shortened(text: str, mark: str, file_system: FileSystem) -> str:
    """The name with a mark before its ending, cut to what fits."""
    stem, dot, ending = text.rpartition(".")
    if not dot or len(ending) > 12:
        stem, dot, ending = text, "", ""
    while stem and file_system.length(stem + mark + dot + ending) > file_system.longest_name:
        stem = stem[:-1]
    return stem + mark + dot + ending


def _apart(path: str, file_system: FileSystem, taken: dict[str, str]) -> str:
    folder, slash, name = path.rpartition("/")
    n = 2
    while file_system.key(found := folder + slash + _shortened(name, f" ({n})", file_system)) in taken:
        n += 1
    return found
