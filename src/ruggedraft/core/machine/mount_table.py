"""The kernel's table of mounts: proc(5), `mountinfo`."""

import os
import re
from collections.abc import Iterator
from dataclasses import dataclass

_OCTAL = re.compile(r"\\([0-7]{3})")


@dataclass(frozen=True)
class Mount:
    """A line of mountinfo. device: major:minor. root: which folder of the file system is mounted, "/" for all of it.

    source, options: as the file system itself tells them. flags: of this mount of it
    """

    number: str
    device: str
    path: str
    file_system: str
    root: str = "/"
    source: str = ""
    options: str = ""
    flags: str = ""

    @property
    def read_only(self) -> bool:
        """So mounted, or the file system itself is: after an error, say."""
        return "ro" in self.flags.split(",") or "ro" in self.options.split(",")


def read_mounts(table: object) -> Iterator[Mount]:
    """The mounts in a mountinfo table, as bytes."""
    for line in os.fsdecode(table if isinstance(table, bytes) else b"").splitlines():
        fields = line.split(" ")
        if "-" in fields[6:-1]:
            after = fields.index("-", 6) + 1
            told = [*fields[after:], "", ""]
            yield Mount(
                fields[0], fields[2], _octal(fields[4]), told[0], _octal(fields[3]), _octal(told[1]), _octal(told[2]),
                fields[5],
            )  # fmt: skip


def caches_on_disk(mount: Mount) -> bool:
    """Whether what comes from a server over this mount may be kept on a disk of this machine (FS-Cache).

    Sources: nfs(5) and mount.cifs(8) for `fsc`; Ceph's `fsc=` and 9P's `cache=fscache` from memory of the kernel's
    documentation. AFS shows no such option, so it may be.
    """
    told = set(mount.options.split(","))
    words = {option.partition("=")[0] for option in told}
    return "fsc" in words or "cache=fscache" in told or mount.file_system == "afs"


def _octal(text: str) -> str:
    """Space, tab, newline and backslash are written as octal numbers."""
    return _OCTAL.sub(lambda found: chr(int(found[1], 8)), text)
