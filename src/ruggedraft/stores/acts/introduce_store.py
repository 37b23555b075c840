from pathlib import Path

from django.db import transaction

from ruggedraft.core.errors import ActRefused, why
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed

from ..models import Device, Location, Store
from ..probe import MARKER, device_probe


@transaction.atomic
def introduce_store(
    person: Person,
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
) -> Store:
    """Take a folder as a store. The device is what the probe says: a second folder of a known disk joins that disk.

    Raises ActRefused for a folder that cannot be used, or one on the system disk without a reason.
    """
    require(person, May.SET_UP)
    probe = device_probe()
    try:
        identity = probe.identity(folder)
        on_system_disk = probe.is_system_disk(folder)
    except OSError as error:
        raise ActRefused(f"{folder} cannot be used as a store ({why(error)}).") from error
    if on_system_disk and not system_disk_reason:
        raise ActRefused(
            f"{folder} is on this computer's system disk: use another disk, or say why it must be this one."
        )
    device, _ = Device.objects.get_or_create(
        identity=identity, defaults={"name": device_name, "medium": medium, "location": location}
    )
    store = Store.objects.create(
        name=name, device=device, path=str(folder), reserve=reserve, landing=landing, seals=seals,
        system_disk_reason=system_disk_reason, position=Store.objects.count(),
    )  # fmt: skip
    _mark(folder, store)
    write("introduce store", name, f"Store '{name}' was introduced on device '{device.name}'.", person=person)
    changed("stores")
    return store


def _mark(folder: Path, store: Store) -> None:
    try:
        with (folder / MARKER).open("x") as marker:
            marker.write(str(store.uuid))
    except FileExistsError as error:
        raise ActRefused(f"{folder} is already marked as a store of this or another ledger.") from error
    except OSError as error:
        raise ActRefused(f"{folder} cannot be written ({why(error)}).") from error
