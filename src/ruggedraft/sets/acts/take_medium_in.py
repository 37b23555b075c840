from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from uuid import UUID

from django.db import transaction

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.core.errors import ActRefused, why
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Medium, Station
from ruggedraft.kit.queries import place_named
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.acts.introduce_store import make_store
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.folders import mark_on
from ruggedraft.stores.models import Store

from ..models import MediaVolume


def take_medium_in(person: Person, production: int, folder: str, place: str, station: Station) -> MediaVolume:
    """Take a medium of a set that is in a reader for a store, and its rolls for copies; all of it is read now.

    It counts for nothing by that: what agrees with what was read off the cards counts, once it was read.
    folder: on this machine, where it is mounted. place: where it is kept. Raises ActRefused.
    """
    require(person, May.KEEP_STORES, production)
    require(person, May.CHECK, production)
    there, volume = _marked(Path(folder), production)
    store = Store.objects.filter(uuid=volume.uuid).first()
    rolls = volume.rolls.select_related("roll__production").order_by("roll__tag")
    missing = list(rolls.exclude(roll__in=Copy.every.filter(store=store).values("roll")) if store else rolls)
    if store and not missing:
        raise ActRefused(f"{volume.name} is the store '{store.name}' already: check its rolls there.")
    store = store or _made(person, production, volume, there, place)
    sight_stores(station)  # where this, or what follows, does not come to its end, the same act goes on with it
    with transaction.atomic():
        for of in missing:
            copy = Copy.objects.create(roll=of.roll, store=store, folder=of.roll.tag)
            words = f"{of.roll.tag} lies on '{store.name}', by its mark: it is to be read, and counts then."
            write("adopt copy", of.roll.tag, words, person=person, production=production)
            ask_check(person, copy, station, first=True)
        changed(Topic.SETS, Topic.ROLLS, Topic.STORES, production=production)
    return volume


@transaction.atomic
def _made(person: Person, production: int, volume: MediaVolume, there: Path, place: str) -> Store:
    """Raises ActRefused where it is one device with something that is kept elsewhere, as two discs in one drive are: it
    would count at a place where it is not.
    """
    at = place_named(place)
    store = make_store(
        person, production, name=volume.name, folder=there, device_name=volume.name,
        medium=Medium.TAPE if volume.of.tape else Medium.DISK, location=at, known_as=volume.uuid,
    )  # fmt: skip
    if store.device.location_id != at.pk:
        raise ActRefused(
            f"What is read in this drive is one device with '{store.device.name}', which is at"
            f" {store.device.location.name}: read {volume.name} in another drive, or keep it there too."
        )
    return store


def _marked(folder: Path, production: int) -> tuple[Path, MediaVolume]:
    """The folder that bears a medium's mark: what is mounted, or the one folder on it. Raises ActRefused."""
    for one in _places(folder):
        with suppress(OSError, ValueError):
            uuid = UUID(mark_on(one))
            found = MediaVolume.objects.select_related("of").filter(uuid=uuid, of__production=production).first()
            if found:
                return one, found
    raise ActRefused(f"Nothing in {folder} bears the mark of a medium of this production's sets.")


def _places(folder: Path) -> Iterator[Path]:
    """Raises ActRefused where it cannot be looked into."""
    if not folder.is_absolute():
        raise ActRefused("Say the folder as a whole path, such as /media/disc.")
    yield folder
    try:
        yield from sorted(one for one in folder.iterdir() if one.is_dir() and not one.is_symlink())
    except OSError as error:
        raise ActRefused(f"{folder} cannot be looked into ({why(error)}).") from error
