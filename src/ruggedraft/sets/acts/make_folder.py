from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.stores.port import beneath
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.returning.acts.bring_back import bring_files
from ruggedraft.returning.models import Return
from ruggedraft.rolls.models import RollFile

from ..index import beside
from ..models import MediaVolume


@transaction.atomic
def make_folder(
    person: Person, volume: MediaVolume, station: Station, folder: str, *, system_disk_reason: str = ""
) -> list[Return]:
    """Have what goes onto a medium brought to a folder of its name in a folder, from copies, read back, with its lists,
    the index and its mark. From then on the medium gets nothing more. Raises ActRefused.
    """
    production = volume.of.production
    require(person, May.OFFLOAD, production.pk)
    hold_still(production.pk)
    wanted: dict[int, Sequence[tuple[int, str]]] = {}
    for of in volume.rolls.select_related("roll"):
        names = RollFile.objects.filter(pk__in=of.files).order_by("path").values_list("pk", "path", "kept_as")
        home = f"{volume.name}/{of.roll.tag}"
        wanted[of.roll_id] = [(pk, beneath(home, kept or path)) for pk, path, kept in names]
    if not wanted:
        raise ActRefused(f"Nothing goes onto {volume.name} any more.")
    runs = bring_files(person, station, folder, wanted, beside=beside(volume), system_disk_reason=system_disk_reason)
    if volume.closed_at is None:
        MediaVolume.objects.filter(pk=volume.pk).update(closed_at=now())
    changed(Topic.SETS, production=production.pk)
    return runs


@transaction.atomic
def say_shelf(person: Person, volume: MediaVolume, shelf: str) -> None:
    """Say where a medium is kept. Raises ActRefused."""
    require(person, May.OFFLOAD, volume.of.production_id)
    shelf = one_line(shelf)
    if not is_name(shelf, 80):
        raise ActRefused("Say where it is kept, in 1 to 80 signs.")
    if MediaVolume.objects.filter(pk=volume.pk).exclude(shelf=shelf).update(shelf=shelf):
        write("say shelf", volume.name, f"{volume.name} is kept: {shelf}.", person=person,
              production=volume.of.production_id)  # fmt: skip
        changed(Topic.SETS, production=volume.of.production_id)
