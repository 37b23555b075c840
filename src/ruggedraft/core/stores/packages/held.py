"""What the sealed packages of one copy hold."""

from dataclasses import dataclass, field

from ...packages.form import Member
from ...packages.reading import Package
from ...redundancy.facts import same_time


@dataclass(frozen=True)
class HeldPart:
    """A sealed package. path: on the store. seen: device, inode, size and time of its file when it was read"""

    path: str
    seen: tuple[int, int, int, int]
    package: Package

    def time_of(self, member: Member) -> int:
        """A package that was written to since it was sealed is not what it was: all of it counts as written then."""
        known, now = self.package.sealed_ns, self.seen[3]
        return member.modified_ns if known is not None and same_time(known, now) else now


@dataclass
class HeldCopy:
    """The packages of one copy, in their order."""

    parts: list[HeldPart] = field(default_factory=list)

    def find(self, path: str) -> tuple[HeldPart, Member] | None:
        """A file, and the package that it lies in."""
        found = ((part, part.package.members.get(path)) for part in self.parts)
        return next(((part, member) for part, member in found if member), None)

    def member(self, path: str) -> Member | None:
        """A file, in whichever package."""
        found = self.find(path)
        return found[1] if found else None

    def has_folder(self, path: str) -> bool:
        """Whether a file lies beneath this one."""
        return any(path in part.package.folders for part in self.parts)
