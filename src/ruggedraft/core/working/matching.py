"""Which file of which roll a name in a project means, and where it belongs in a folder."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import NamedTuple


class Candidate(NamedTuple):
    """A file of a roll that is called so. file: its number. paths: where copies keep it, from their stores' folders on

    content: what tells it from others: its checksum, with the name of the algorithm
    """

    file: int
    paths: tuple[str, ...]
    content: str


class Meant(NamedTuple):
    """The file that is meant, or None; candidates: how many it could have been."""

    file: int | None
    candidates: int


def file_meant(path: str, candidates: Sequence[Candidate]) -> Meant:
    """The candidate whose path in some copy agrees with most of this path, from its end on.

    None where several agree alike and hold different things: then nobody can tell, and nobody guesses.

    >>> here, there = Candidate(1, ("Heron/A001/C0001.MOV",), "x"), Candidate(2, ("Heron/A002/C0001.MOV",), "y")
    >>> file_meant("/mnt/edit/A002/C0001.MOV", [here, there]).file
    2
    >>> file_meant("C0001.MOV", [here, there])
    Meant(file=None, candidates=2)
    """
    if not candidates:
        return Meant(None, 0)
    parts = path.casefold().split("/")
    agree = {one: max(_common(parts, where.casefold().split("/")) for where in one.paths) for one in candidates}
    most = max(agree.values())
    best = [one for one, count in agree.items() if count == most]
    if len({one.content for one in best}) > 1:
        return Meant(None, len(candidates))
    return Meant(min(one.file for one in best), len(candidates))


def _common(left: Sequence[str], right: Sequence[str]) -> int:
    """How many parts agree, from the end on."""
    count = 0
    for one, other in zip(reversed(left), reversed(right), strict=False):
        if one != other:
            break
        count += 1
    return count


@dataclass(frozen=True)
class Named:
    """A folder as somebody pointed at it. there: paths of everything in it, and of the folders that hold it"""

    folder: str
    there: Collection[str]


def place_under(named: Named, path: str) -> str:
    """Where in the folder a path of a project belongs, whatever the folder is called on the editor's computer.

    The longest end of the path that stands in the folder, or whose uppermost folder does; else what follows the
    folder's own name in the path; else its name alone.

    >>> edit = Named("/mnt/edit/barge", {"A001", "A001/C1.MOV"})
    >>> place_under(edit, "/mnt/edit/barge/A002/C1.MOV"), place_under(edit, "E:/barge/A001/C9.MOV")
    ('A002/C1.MOV', 'A001/C9.MOV')
    >>> place_under(edit, "D:/jobs/Barge/B001/C2.MOV"), place_under(edit, "D:/jobs/C2.MOV")
    ('B001/C2.MOV', 'C2.MOV')
    """
    inside = path.startswith(f"{named.folder}/")
    parts = [part for part in path.removeprefix(f"{named.folder}/").split("/") if part not in ("", ".", "..")]
    if inside or len(parts) < 2:
        return "/".join(parts)
    ends = ["/".join(parts[n:]) for n in range(len(parts))]
    known = next((end for end in ends if not {end, end.partition("/")[0]}.isdisjoint(named.there)), None)
    return known or ends[_after(named.folder.rpartition("/")[2], parts)]


def _after(name: str, parts: Sequence[str]) -> int:
    """The place after a name among the parts of a path, whatever its case; where it is not among them, the last."""
    plain = [part.casefold() for part in parts[:-1]]
    return plain.index(name.casefold()) + 1 if name.casefold() in plain else len(parts) - 1
