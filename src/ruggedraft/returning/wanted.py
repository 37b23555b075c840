"""What ought to lie in a folder that somebody works in: what a project names, else the rolls that seem to lie there."""

from collections.abc import Collection, Mapping
from typing import NamedTuple

from ruggedraft.adopting.recognised import recognised
from ruggedraft.core.finding import plain_form
from ruggedraft.core.recognising import Recognised, Recognition
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores.port import beneath
from ruggedraft.core.working import Candidate, Named, file_meant, place_under
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.rolls.names import files_called

from .models import FolderLook


class Wanted(NamedTuple):
    """A file of a roll, by its id, with what its content came to on the card."""

    file: int
    size: int
    algorithm: str
    checksum: str


class Unknown(NamedTuple):
    """What a project names and nobody can say which file it is."""

    path: str
    reason: str


def wanted_in(look: FolderLook, there: Mapping[str, int]) -> tuple[dict[str, Wanted], list[Unknown]]:
    """By where each belongs in the folder. there: sizes by path, of everything in it"""
    if look.listed:
        return _of_list(look, there)
    return _of_rolls(look, recognised(there)), []


def _of_rolls(look: FolderLook, found: Recognition) -> dict[str, Wanted]:
    """Every file of the rolls that lie there, each in the folder that holds most of it."""
    best: dict[int, Recognised] = {}
    for one in found.rolls:
        best.setdefault(one.roll, one)
    rolls = Roll.objects.filter(production=look.production, pk__in=best).in_bulk()
    wanted: dict[str, Wanted] = {}
    files = RollFile.objects.filter(roll__in=rolls).exclude(checksum="")
    for pk, roll, path, kept, size, checksum in files.values_list("pk", "roll", "path", "kept_as", "size", "checksum"):
        at = beneath(best[roll].folder, from_ledger(kept or path))
        wanted[at] = Wanted(pk, size, rolls[roll].algorithm, checksum)
    return wanted


def _of_list(look: FolderLook, there: Mapping[str, int]) -> tuple[dict[str, Wanted], list[Unknown]]:
    folders = {path[:n] for path in there for n, sign in enumerate(path) if sign == "/"}
    named = Named(from_ledger(look.folder), {*there, *folders})
    candidates, known = _candidates(look)
    wanted: dict[str, Wanted] = {}
    unknown = []
    for path in look.listed:
        meant = file_meant(path, candidates.get(_name(path), ()))
        if meant.file is not None:
            wanted[place_under(named, path)] = known[meant.file]
        elif meant.candidates:
            unknown.append(Unknown(path, f"{meant.candidates} files are called so, and hold different things"))
        else:
            unknown.append(Unknown(path, "no roll of this production has a file of this name"))
    return wanted, unknown


def _name(path: str) -> str:
    return path.rpartition("/")[2].casefold()


def _candidates(look: FolderLook) -> tuple[dict[str, list[Candidate]], dict[int, Wanted]]:
    """Files by their names, in small letters: the card's own, and the one that copies keep; and what each has to be."""
    folders: dict[int, list[str]] = {}
    for roll, folder in Copy.objects.filter(roll__production=look.production).values_list("roll", "folder"):
        folders.setdefault(roll, []).append(folder)
    found: dict[str, list[Candidate]] = {}
    known: dict[int, Wanted] = {}
    rolls = list(Roll.objects.filter(production=look.production).values_list("pk", flat=True))
    names = sorted({to_ledger(plain_form(path.rpartition("/")[2])) for path in look.listed})
    called = RollFile.objects.filter(pk__in=set(files_called(rolls, names))).exclude(checksum="")
    columns = ("pk", "roll", "path", "kept_as", "size", "roll__algorithm", "checksum")
    for pk, roll, path, kept, size, algorithm, checksum in called.values_list(*columns):
        known[pk] = Wanted(pk, size, algorithm, checksum)
        at = tuple(from_ledger(beneath(folder, kept or path)) for folder in folders.get(roll, [""]))
        one = Candidate(pk, (*at, from_ledger(path)), f"{algorithm} {checksum}")
        for name in {_name(from_ledger(path)), _name(from_ledger(kept or path))}:
            found.setdefault(name, []).append(one)
    return found, known


def files_of_sizes(production: Production, sizes: Collection[int]) -> dict[int, dict[str, dict[str, int]]]:
    """Ids of files that have one of these sizes, by size, algorithm and checksum. Empty files are all alike: none."""
    found: dict[int, dict[str, dict[str, int]]] = {}
    files = RollFile.objects.filter(roll__production=production, size__in=set(sizes) - {0}).exclude(checksum="")
    for pk, size, algorithm, checksum in files.values_list("pk", "size", "roll__algorithm", "checksum").order_by("-pk"):
        found.setdefault(size, {}).setdefault(algorithm, {})[checksum] = pk
    return found
