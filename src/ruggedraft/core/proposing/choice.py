"""Which files of a card go, and where to: the plan and what is wanted, applied to a card's description."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import tzinfo

from ..cards import CardDescription, Held
from ..naming import EXT, FILE_SYSTEMS, NameProblem, name_files, name_problems
from ..sources.listing import Entry
from ..taking import Take, Taken, take
from .naming import Naming


@dataclass(frozen=True)
class Choice:
    """files: that go. left: that stay behind. kept_as: where each goes in the roll's folder, by its path on the card.

    collisions: paths that more than one file would get. problems: names that a store of the plan cannot hold, mended
    in kept_as if the plan says so
    whole: clips that keep their names because others refer to them by name
    """

    files: tuple[Entry, ...]
    left: tuple[Entry, ...]
    kept_as: dict[str, str]
    collisions: dict[str, int]
    problems: tuple[NameProblem, ...]
    whole: int


def everything(files: Iterable[Entry]) -> Choice:
    """Every file of a card, under its own name."""
    return Choice(tuple(files), (), {}, {}, (), 0)


def choose(
    described: CardDescription,
    held: Mapping[str, Held],
    wanted: Take,
    naming: Naming,
    kept: Mapping[str, str],
    file_systems: Iterable[str],
    zone: tzinfo,
) -> Choice:
    """Apply a plan and what is wanted to a card.

    held: what is known of each file, by path on the card. kept: names that the roll's files have already, by path
    file_systems: names of those of the stores. zone: of the production
    Raises PlanError where the plan cannot name these files.
    """
    taken = take(described, held, wanted)
    going = {entry.path for entry in taken.files}
    clips = tuple(clip for clip in described.clips if not going.isdisjoint(e.path for e in clip.entries))
    described = replace(described, clips=clips)
    names = name_files(described, naming.plan, naming.values, zone=zone, kept=dict(kept), shots=naming.shots)
    sizes = {names.kept_as[entry.path]: entry.size for entry in taken.files}
    problems = _problems(sizes, file_systems)
    twice = {path: count for path, count in names.collisions.items() if path in sizes}
    kept_as = _kept_as(taken, names.kept_as, problems if naming.mend else ())
    return Choice(taken.files, taken.left, kept_as, twice, problems, names.whole)


def _kept_as(taken: Taken, names: Mapping[str, str], mended: Iterable[NameProblem]) -> dict[str, str]:
    mends = {problem.path: problem.mend for problem in mended}
    given = {entry.path: names[entry.path] for entry in taken.files}
    return {path: mends.get(name, name) for path, name in given.items()}


def _problems(sizes: Mapping[str, int], file_systems: Iterable[str]) -> tuple[NameProblem, ...]:
    """Of every kind of file system, each name once. sizes: bytes by name"""
    kinds = {FILE_SYSTEMS.get(name, EXT) for name in file_systems}
    found: dict[str, NameProblem] = {}
    for kind in sorted(kinds, key=lambda one: one.name):
        for problem in name_problems(sizes.items(), kind):
            found.setdefault(problem.path, problem)
    return tuple(found.values())
