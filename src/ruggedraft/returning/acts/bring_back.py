from collections.abc import Collection, Mapping, Sequence

from django.db import transaction
from django.db.models import QuerySet

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.manifests.bagit import PAYLOAD
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores.port import beneath
from ruggedraft.core.wording import counted, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Production
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.rolls.queries import rolls_named
from ruggedraft.runs.queue import add_to_queue, is_open

from ..models import FolderLook, FolderRow, Return, RowKind
from ..places import checked_folder, refuse_away, subject_in
from ..queries import since

_BROUGHT = (RowKind.MISSING, RowKind.MOVED)


@transaction.atomic
def bring_back(
    person: Person, look: FolderLook, rows: Collection[int] = (), *, aside: bool = False, system_disk_reason: str = ""
) -> list[Return]:
    """Have what is missing from a folder brought to where it was, from copies of its roll. Raises ActRefused.

    rows: numbers of the look's rows; empty: all that are missing, and neither back since nor coming. A file that stands
        elsewhere in the folder is brought only by its number
    aside: what stands in a file's place and is not it is moved aside; else it stays, and nothing is brought there
    """
    require(person, May.OFFLOAD, look.production_id)
    if look.finished_at is None or look.trouble:
        raise ActRefused("This folder was not looked into to its end: look into it again.")
    wanted = look.rows.exclude(file=None)
    happened = since(look)
    gone = wanted.filter(kind=RowKind.MISSING).exclude(file__in=[*happened.back, *happened.coming])
    wanted = wanted.filter(n__in=rows) if rows else gone
    found = list(wanted.select_related("file").order_by("n"))
    kinds = {*_BROUGHT, RowKind.DIFFERENT} if aside else set(_BROUGHT)
    refused = next((row for row in found if row.kind not in kinds), None)
    if refused:
        raise ActRefused(
            f"{refused.path} stands there, and is not as it was: nothing is overwritten. Have it moved aside, if you"
            " want the one that was taken."
        )
    if not found:
        raise ActRefused("Nothing of this is missing: there is nothing to bring.")
    return _ordered(
        person, look.station, look.folder, _by_roll(found), aside=aside, stands_on=look.stands_on,
        system_disk_reason=system_disk_reason,
    )  # fmt: skip


def _by_roll(rows: Sequence[FolderRow]) -> dict[int, list[tuple[int, str]]]:
    found: dict[int, list[tuple[int, str]]] = {}
    for row in rows:
        if row.file is not None:
            found.setdefault(row.file.roll_id, []).append((row.file.pk, row.path))
    return found


@transaction.atomic
def restore(
    person: Person, production: Production, station: Station, folder: str, tags: Sequence[str], *, clip: str = "",
    system_disk_reason: str = "", bag: bool = False,
) -> list[Return]:  # fmt: skip
    """Have rolls brought to a folder of their own tag's name in a folder, as copies keep them. Raises ActRefused.

    clip: of one roll, the path of a file: only the clip that it is of, or that file where it is of none
    bag: each roll's folder is to be a bag (RFC 8493)
    """
    require(person, May.OFFLOAD, production.pk)
    folder = checked_folder(folder)
    rolls = rolls_named(production, tags)
    if clip and len(rolls) > 1:
        raise ActRefused("A clip is of one roll.")
    if clip and bag:
        raise ActRefused("A bag is made of a whole roll.")
    wanted = {}
    for roll in rolls:
        files = _of_clip(roll, clip) if clip else roll.files.exclude(checksum="")
        names = files.order_by("path").values_list("pk", "path", "kept_as")
        wanted[roll.pk] = [(pk, beneath(_home(roll, bag=bag), kept or path)) for pk, path, kept in names]
        if not wanted[roll.pk]:
            raise ActRefused(f"Nothing of {roll.tag} was ever read off its card: there is nothing to bring.")
    return _ordered(person, station, folder, wanted, system_disk_reason=system_disk_reason, bag=bag)


@transaction.atomic
def bring_files(
    person: Person, station: Station, folder: str, wanted: Mapping[int, Sequence[tuple[int, str]]], *,
    beside: Mapping[int, Mapping[str, str]], system_disk_reason: str = "",
) -> list[Return]:  # fmt: skip
    """Have chosen files brought to a folder. wanted: by the roll's id, each file's id and where in the folder it goes

    beside: by the roll's id, what is left there too, by path in the folder, once all of them are there
    Raises ActRefused.
    """
    productions = set(Roll.objects.filter(pk__in=wanted).values_list("production", flat=True))
    require(person, May.OFFLOAD, *productions)
    return _ordered(
        person, station, checked_folder(folder), wanted, system_disk_reason=system_disk_reason, beside=beside
    )


def _home(roll: Roll, *, bag: bool) -> str:
    """Where in the folder a roll's files go."""
    return f"{roll.tag}/{PAYLOAD.rstrip('/')}" if bag else roll.tag


def _of_clip(roll: Roll, path: str) -> QuerySet[RollFile]:
    """All files of the clip that a file is of."""
    files = roll.files.exclude(checksum="")
    if not files.filter(path=path).exists():
        raise NotThere(f"There is no file {path} in {roll.tag} that was read off its card.")
    at = from_ledger(path)
    clips = described([roll])[roll.pk].clips
    of = next((clip.entries for clip in clips if at in {entry.path for entry in clip.entries}), ())
    return files.filter(path__in=[path, *(to_ledger(entry.path) for entry in of)])


def _ordered(
    person: Person, station: Station, folder: str, wanted: Mapping[int, Sequence[tuple[int, str]]], *,
    aside: bool = False, stands_on: Sequence[str] = (), system_disk_reason: str = "", bag: bool = False,
    beside: Mapping[int, Mapping[str, str]] = {},
) -> list[Return]:  # fmt: skip
    """A run for each roll."""
    refuse_away(station)
    runs = []
    for roll in Roll.objects.filter(pk__in=wanted).order_by("tag"):
        files = [[pk, path] for pk, path in wanted[roll.pk]]
        subject = subject_in(station, folder, "return", roll)
        if is_open(subject):
            raise ActRefused(f"Files of {roll.tag} are being brought to {folder} already.")
        run = Return(
            subject=subject, roll=roll, station=station, person=person, folder=folder, files=files, aside=aside,
            stands_on=list(stands_on), system_disk_reason=one_line(system_disk_reason)[:300], bag=bag,
            beside=dict(beside.get(roll.pk, {})),
        )  # fmt: skip
        add_to_queue(run)
        what = f"{counted(len(files), 'file')} of {roll.tag}"
        how = "; what stands there otherwise is to go aside" if aside else ", as a bag" if bag else ""
        write("ask return", roll.tag, f"{what} are to be brought to {folder} on {station.name}{how}.",
              person=person, origin=station.name, production=roll.production_id)  # fmt: skip
        runs.append(run)
    return runs
