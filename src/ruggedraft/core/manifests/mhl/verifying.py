"""Reading a folder again by its history: every file that was ever listed, past the caches, and the sums of folders."""

import fnmatch
import os
from collections.abc import Iterator, Mapping
from pathlib import Path

from ...errors import MalformedList
from ...files.confinement import Root
from ..verify import ListFinding, ListReport, check_file, files_beneath
from .hashes import HASHES, FolderSum, folder_sums
from .history import FOLDER, Generation, has_history, read_history, read_in


def verify_history(folder: Path) -> ListReport:
    """Of this folder and of every one within that has a history of its own.

    What is missing, changed or not listed is a finding, and so is a folder whose checksum is another than its last
    generation says. Raises ListError where nothing can be said, OSError.
    """
    report = ListReport("ASC MHL")
    inner = sorted(_inner(folder))
    for path in inner:
        _within(report, path, verify_history(folder / path))
    history = read_history(read_in(folder))
    if not history.generations:
        raise MalformedList("This folder has no ASC MHL history: nothing was checked.")
    root = Root.at(folder)
    ours = {path: sums for path, sums in history.expected().items() if not _is_in(path, inner)}
    found = {path: _check(root, path, sums, report) for path, sums in sorted(ours.items())}
    report.findings += _unlisted(folder, set(ours), inner, history.generations[-1].ignored)
    if not inner and not report.findings:  # a file that changed changes every folder above it
        read = {path: sums for path, sums in found.items() if sums is not None}
        report.findings += _folders(history.generations[-1], read, _empty(folder))
    return report


def _inner(folder: Path) -> Iterator[str]:
    """Folders beneath with a history of their own, but for those within one of them."""
    for here, folders, _ in os.walk(folder):
        if Path(here) == folder:
            continue
        if has_history(Path(here)):
            folders.clear()
            yield Path(here).relative_to(folder).as_posix()


def _within(report: ListReport, path: str, other: ListReport) -> None:
    report.agreed, report.bytes = report.agreed + other.agreed, report.bytes + other.bytes
    report.cached += other.cached
    report.findings += [ListFinding(f"{path}/{one.path}", one.kind, one.reason) for one in other.findings]


def _is_in(path: str, inner: list[str]) -> bool:
    return any(path.startswith(f"{one}/") for one in inner)


def _check(root: Root, path: str, sums: Mapping[str, str], report: ListReport) -> dict[str, str] | None:
    if not sums:
        report.findings.append(ListFinding(path, "unreadable", "no checksum that is known here was ever noted of it"))
        return None
    return check_file(
        root, path, sums, report, lambda name: HASHES[name].start(), lambda name, hasher: HASHES[name].said(hasher)
    )


def _unlisted(folder: Path, listed: set[str], inner: list[str], ignored: tuple[str, ...]) -> Iterator[ListFinding]:
    for path in sorted(set(files_beneath(folder)) - listed):
        if not _is_in(path, inner) and not any(_ignores(ignored, one) for one in path.split("/")):
            yield ListFinding(path, "extra", "no generation names it")


def _ignores(patterns: tuple[str, ...], name: str) -> bool:
    """By a pattern of one name; those that say more ignore nothing, and what they mean is told as not listed."""
    plain = [one.rstrip("/").removeprefix("**/") for one in (*patterns, FOLDER)]
    return any("/" not in one and not one.startswith("!") and fnmatch.fnmatchcase(name, one) for one in plain if one)


def _empty(folder: Path) -> list[str]:
    found = []
    for here, folders, names in os.walk(folder):
        folders[:] = [name for name in folders if name != FOLDER]
        if not folders and not names and Path(here) != folder:
            found.append(Path(here).relative_to(folder).as_posix())
    return found


def _folders(last: Generation, found: Mapping[str, Mapping[str, str]], empty: list[str]) -> Iterator[ListFinding]:
    """Folders that are not as the last generation says; only where it lists every file, and all were read."""
    if {file.path for file in last.files} != set(found):
        return
    for name in HASHES:
        said = {path: sums[name] for path, sums in last.folders.items() if name in sums}
        if said and all(name in sums for sums in found.values()):
            yield from _of_hash(name, said, found, empty)


def _of_hash(
    name: str, said: Mapping[str, FolderSum], found: Mapping[str, Mapping[str, str]], empty: list[str]
) -> Iterator[ListFinding]:
    are = folder_sums({path: sums[name] for path, sums in found.items()}, HASHES[name], empty)
    for path, sums in sorted(said.items()):
        if are.get(path) != sums:
            yield ListFinding(path or ".", "changed", f"the {name} of this folder is another than was noted")
