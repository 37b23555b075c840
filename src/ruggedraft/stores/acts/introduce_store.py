from pathlib import Path
from typing import Any
from uuid import UUID

from django.db import transaction

from ruggedraft.core.errors import ActRefused, why
from ruggedraft.core.machine.devices import UNKNOWN
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Device, Location
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..folders import MARKER, mark_on
from ..models import Store
from ..probe import device_probe
from ..volumes import volume_at


def introduce_store(person: Person, production: int, **words: Any) -> Store:
    """Take a folder as a store that a production (id) uses; see `make_store` for what is said of it."""
    require(person, May.KEEP_STORES, production)
    return make_store(person, production, **words)


@transaction.atomic
def make_store(
    person: Person,
    production: int | None,
    *,
    name: str,
    folder: Path,
    device_name: str,
    medium: str,
    location: Location,
    reserve: int = 0,
    landing: bool = False,
    seals: bool = False,
    system_disk_reason: str = "",
    known_as: UUID | None = None,
    kind: StoreKind = StoreKind.FOLDER,
) -> Store:
    """Take a folder as a store. What it stands on is what the probe says: a second folder of a known disk joins it.

    production: id of the one that uses it; None where that is said later
    known_as: of a store of a ledger that was lost, whose mark it bears: it is taken over, and keeps it
    kind: how copies are kept in it
    Raises ActRefused for a folder that cannot be used, or one on the system disk without a reason.
    """
    identities = _probed(folder, system_disk_reason)
    _refuse_another_mark(folder, known_as)
    name = checked_name(name)
    volume, inside = volume_at(folder)
    device = device_under(identities) or new_device(device_name, medium, location)
    store = Store.objects.create(
        kind=kind.value, name=name, device=device, identities=sorted(identities), path=str(folder), volume=volume,
        inside=inside, reserve=reserve, landing=landing,
        seals=seals, system_disk_reason=system_disk_reason, position=Store.objects.count(),
        **({"uuid": known_as} if known_as else {}),
    )  # fmt: skip
    store.productions.set([production] if production else [])
    doubt = " The machine cannot tell what it stands on." if UNKNOWN in identities else ""
    sentence = f"Store '{name}' was introduced on device '{device.name}'.{doubt}"
    write("introduce store", name, sentence, person=person, production=production,
          detail={"identities": sorted(identities)})  # fmt: skip
    changed(Topic.STORES, Topic.SETUP)
    if not known_as:
        _mark(folder, store)  # last: whatever is refused before has written nothing
    return store


def _probed(folder: Path, system_disk_reason: str) -> frozenset[str]:
    """What it stands on. Raises ActRefused where that may not be, or cannot be asked."""
    probe = device_probe()
    try:
        identities = probe.under(folder)
        on_system_disk = probe.is_system_disk(folder)
    except OSError as error:
        raise ActRefused(f"{folder} cannot be used as a store ({why(error)}).") from error
    if on_system_disk and not system_disk_reason:
        raise ActRefused(
            f"{folder} is on this computer's system disk: use another disk, or say why it must be this one."
        )
    return identities


def checked_name(name: str) -> str:
    """Raises ActRefused."""
    name = one_line(name)
    if not is_name(name, 80):
        raise ActRefused("A store has a name of 1 to 80 signs.")
    if Store.objects.filter(name=name).exists():
        raise ActRefused(f"There is a store '{name}' already.")
    return name


def _refuse_another_mark(folder: Path, known_as: UUID | None) -> None:
    """Raises ActRefused where a store is to be taken over whose mark is not there, or that is in this ledger."""
    if known_as is None:
        return
    try:
        marked = mark_on(folder)
    except (OSError, ValueError) as error:
        raise ActRefused(f"{folder} bears no mark that can be read: it cannot be taken over.") from error
    if marked != str(known_as):
        raise ActRefused(f"{folder} bears the mark of another store: it cannot be taken over as this one.")
    known = Store.objects.filter(uuid=known_as).first()
    if known:
        raise ActRefused(f"{folder} is the store '{known.name}' of this ledger already, or a copy of it.")


def device_under(identities: frozenset[str]) -> Device | None:
    """The device that a known store with one of these identities is on."""
    certain = identities - {UNKNOWN}
    known = (store for store in Store.objects.select_related("device").order_by("pk"))
    return next((store.device for store in known if certain & set(store.identities)), None)


def new_device(name: str, medium: str, location: Location) -> Device:
    """Raises ActRefused where one is called so already."""
    if Device.objects.filter(name=name).exists():
        raise ActRefused(f"There is a device '{name}' already, and this is not on it: give it another name.")
    return Device.objects.create(name=name, medium=medium, location=location)


def _mark(folder: Path, store: Store) -> None:
    try:
        with (folder / MARKER).open("x") as marker:
            marker.write(str(store.uuid))
    except FileExistsError as error:
        raise ActRefused(f"{folder} is already marked as a store of this or another ledger.") from error
    except OSError as error:
        raise ActRefused(f"{folder} cannot be written ({why(error)}).") from error
