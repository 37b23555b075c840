from pathlib import Path

from ruggedraft.core.errors import ActRefused, StoreError, why
from ruggedraft.core.naming import FILE_SYSTEMS
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.kit.models import Station

from ..folders import folder_of
from ..models import Store
from ..probe import device_probe
from ..queries import is_lost, productions_of, stores
from .introduce_store import make_store

FOLDER = "packages"


def keep_packages(person: Person, store: int, production: int, *, station: Station | None = None) -> Store:
    """Have the drive of a store (id) keep sealed packages too, in a folder of its own; a store that a production uses.

    station: whose machine this is; None: the server's own. Raises ActRefused.
    """
    beside = stores().get(pk=store)
    require(person, May.KEEP_STORES, production, *productions_of(beside))
    if beside.kind != StoreKind.FOLDER or beside.landing or beside.retired_at or is_lost(beside):
        raise ActRefused(f"'{beside.name}' is no drive in service that could keep packages for good.")
    try:
        above = folder_of(beside)
    except StoreError as error:
        raise ActRefused(f"{error.sentence}: connect it first.") from error
    return make_store(
        person, production, name=f"{beside.name} packages"[:80], folder=_made(above), device_name=beside.device.name,
        medium=beside.device.medium, location=beside.device.location, reserve=beside.reserve,
        system_disk_reason=beside.system_disk_reason, kind=StoreKind.PACKAGES,
    )  # fmt: skip


def _made(above: Path) -> Path:
    """Raises ActRefused where a package would not fit into one file, or the folder cannot be made."""
    folder = above / FOLDER
    try:
        system = FILE_SYSTEMS.get(device_probe().file_system(above))
        if system and system.largest_file:
            raise ActRefused(f"{above} is {system.name}, where no file reaches 4 GiB: packages need another drive.")
        folder.mkdir(exist_ok=True)
    except OSError as error:
        raise ActRefused(f"{folder} cannot be made ({why(error)}).") from error
    return folder
