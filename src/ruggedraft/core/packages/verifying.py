"""Reading every file of a package again, and comparing it with the checksums that it carries."""

import os
from collections.abc import Callable
from pathlib import Path

from ..errors import MalformedList, why
from ..manifests.checksum_list import parse_list
from ..manifests.verify import ListFinding, ListReport
from . import form
from .form import Member
from .reading import Package, entries, opened

_MOST_LIST = 1 << 30  # bytes


def verify_package(path: Path, on_file: Callable[[str], None] = lambda path: None) -> ListReport:
    """Every file by name: what is damaged, and what its list names that is not there any more.

    Where the index is damaged, files are found one by one and held against the list, which lies before the index.
    Raises MalformedList where there is nothing to compare with, OSError.
    """
    descriptor = opened(str(path))
    try:
        package = Package.read(descriptor)
        sums = {one.path: one.checksum for one in package.members.values()}
        report = ListReport(form.DIGEST.name)
        if package.complaint:
            sums = _listed(descriptor, package.name)
            report.findings.append(ListFinding(path.name, "changed", package.complaint))
        for file, checksum in sorted(sums.items()):
            on_file(file)
            _check(descriptor, file, package.members.get(file), checksum, report)
    finally:
        os.close(descriptor)
    return report


def _check(descriptor: int, path: str, member: Member | None, checksum: str, report: ListReport) -> None:
    if member is None:
        report.findings.append(ListFinding(path, "missing", "it is not in the package"))
        return
    hasher = form.DIGEST.start()
    try:
        past_caches = Package.read_member(descriptor, member, hasher.update)
    except OSError as error:
        report.findings.append(ListFinding(path, "unreadable", f"it could not be read ({why(error)})"))
        return
    if hasher.hexdigest() != checksum:
        report.findings.append(ListFinding(path, "changed", f"its {form.DIGEST.name} is {hasher.hexdigest()}"))
        return
    report.agreed += 1
    report.cached += not past_caches
    report.bytes += member.size


def _listed(descriptor: int, name: str) -> dict[str, str]:
    """The list inside, by path in the roll's folder."""
    wanted = f"{name}.{form.DIGEST.name}"
    for info in entries(descriptor):
        if info.name == wanted and info.isreg() and info.size <= _MOST_LIST:
            content = os.pread(descriptor, info.size, info.offset_data)
            inside = f"{name}/"
            return {one.path.removeprefix(inside): one.checksum for one in parse_list(content)}
    raise MalformedList("It is no package, or its index and its list are both damaged: nothing was checked.")
