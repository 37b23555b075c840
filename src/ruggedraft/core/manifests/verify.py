"""Re-reading the files a checksum list names."""

import os
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path

from ..errors import MalformedList, UnsafePath, why
from ..files.confinement import Root
from ..files.medium import MediumReading
from ..hashing import Hasher
from .checksum_list import list_algorithm, parse_list


@dataclass(frozen=True, slots=True)
class ListFinding:
    """kind: `changed`, `missing`, `unreadable` or `extra`"""

    path: str
    kind: str
    reason: str


@dataclass
class ListReport:
    """agreed: files read again that have the listed checksum.

    cached: how many of those did not come from the medium: this machine had them in its memory and would not let go
    """

    algorithm: str
    agreed: int = 0
    bytes: int = 0
    cached: int = 0
    findings: list[ListFinding] = field(default_factory=list)

    @property
    def verified(self) -> bool:
        """Every file agrees, and was read from its medium."""
        return not self.findings and not self.cached


def verify_list(
    path: Path,
    *,
    asked: str | None = None,
    strict: bool = False,
    on_file: Callable[[str], None] = lambda path: None,
) -> ListReport:
    """Read every file of a list again, past the caches, relative to the list's own folder.

    strict: files in the listed files' top folders that the list does not name are findings too.
    Raises ListError (nothing was checked) or OSError (the list itself cannot be read).
    """
    sums = parse_list(path.read_bytes())
    algorithm = list_algorithm(path.name, sums, asked)
    wanted: dict[str, str] = {}
    for listed in sums:
        if wanted.setdefault(_plain(listed.path), listed.checksum) != listed.checksum:
            raise MalformedList(f"The list has two checksums for {listed.path!r}: nothing was checked.")
    report = ListReport(algorithm.name)
    root = Root.at(path.absolute().parent)
    for file, checksum in wanted.items():
        on_file(file)
        check_file(root, file, {algorithm.name: checksum}, report, lambda name: algorithm.start())
    if strict:
        report.findings += _extra(root, set(wanted))
    return report


def _plain(path: str) -> str:
    """`./a//b` as programs write it when asked for `./a//b`. Paths that leave the folder are kept and refused later."""
    parts = [part for part in path.split("/") if part not in ("", ".")]
    return "/".join(parts) if not path.startswith("/") else path


def check_file(
    root: Root,
    path: str,
    sums: Mapping[str, str],
    report: ListReport,
    start: Callable[[str], Hasher],
    said: Callable[[str, Hasher], str] = lambda name, hasher: hasher.hexdigest(),
) -> dict[str, str] | None:
    """Read a file again, once for all of its checksums, and report what it comes to. None where it was not read whole.

    sums: as they are listed, by name. start, said: begin a checksum of a name, and write it as the list does
    """
    try:
        medium = MediumReading(root.open(path, os.O_RDONLY | os.O_NONBLOCK))
        try:
            hashers = {name: start(name) for name in sums}
            size = medium.read(lambda data: [hasher.update(data) for hasher in hashers.values()])
        finally:
            medium.close()
    except UnsafePath:
        report.findings.append(ListFinding(path, "unreadable", "it lies outside the list's folder and was not read"))
        return None
    except FileNotFoundError:
        report.findings.append(ListFinding(path, "missing", "it is not there"))
        return None
    except OSError as error:
        report.findings.append(ListFinding(path, "unreadable", f"it could not be read ({why(error)})"))
        return None
    found = {name: said(name, hasher) for name, hasher in hashers.items()}
    wrong = next((name for name in sums if found[name] != sums[name]), "")
    if wrong:
        report.findings.append(ListFinding(path, "changed", f"its {wrong} is {found[wrong]}"))
        return found
    report.agreed += 1
    report.cached += not medium.past_caches
    report.bytes += size
    return found


def files_beneath(folder: Path, below: str = "") -> Iterator[str]:
    """Paths of everything in a folder that is no folder; links too, which are read by nobody. below: before each"""
    for here, folders, names in os.walk(folder):
        inside = os.path.relpath(here, folder)
        prefix = below if inside == "." else f"{below}{inside}/"
        links = [name for name in folders if Path(here, name).is_symlink()]
        yield from (f"{prefix}{name}" for name in (*names, *links))


def _extra(root: Root, listed: set[str]) -> list[ListFinding]:
    """Files beside the listed ones: in the top folders the list names (not in the list's own folder)."""
    tops = sorted({path.split("/")[0] for path in listed if "/" in path})
    there = (path for top in tops for path in files_beneath(root.path / top, f"{top}/"))
    return [ListFinding(path, "extra", "the list does not name it") for path in sorted(there) if path not in listed]
