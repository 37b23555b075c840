"""Folders that people work in, as a station's machine has them."""

import hashlib
from collections.abc import Iterable
from pathlib import Path

from ruggedraft.core.errors import ActRefused, StoreError, StoreVanished, why
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import LocalStore
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import stations_away
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.stores.folders import MARKER, mark_on
from ruggedraft.stores.models import Store
from ruggedraft.stores.probe import device_probe
from ruggedraft.stores.volumes import belongs_to_the_system

_LONGEST = 1000


def checked_folder(text: str) -> str:
    """A path as somebody typed it, in the ledger's form. Raises ActRefused for what can be none, on any machine."""
    path = text.strip().rstrip("/") or text.strip()[:1]
    parts = path.split("/")
    if not path.startswith("/") or "\0" in path or len(path) > _LONGEST or {".", ".."} & set(parts):
        raise ActRefused("Say the folder as a whole path, such as /media/edit/barge.")
    return path


def subject_in(station: Station, folder: str, what: str, roll: Roll) -> str:
    """The subject of a run that does this for a roll in a folder of a station's machine; see `Run.subject`."""
    where = hashlib.sha256(f"{station.pk} {folder}".encode()).hexdigest()[:32]
    return f"{what} of roll {roll.pk} in {where}"


def refuse_away(station: Station) -> None:
    """Raises ActRefused where a station on another machine is away, so that nobody knows when it would do anything."""
    if stations_away().filter(pk=station.pk).exists():
        raise ActRefused(f"Station {station.name} is away: nothing can be done on its machine until it is back.")


def opened_folder(folder: str) -> LocalStore:
    """The folder, on this machine. Raises StoreVanished with a sentence."""
    path = Path(from_ledger(folder))
    if belongs_to_the_system(path) or path == Path("/"):
        raise StoreVanished(f"{folder} belongs to the computer's system: nothing of it is looked at")
    try:
        if not path.is_dir() or path.is_symlink():
            raise StoreVanished(f"There is no folder {folder} on this station's machine")
    except OSError as error:
        raise StoreVanished(f"{folder} cannot be read ({why(error)})") from error
    return device_probe().store(folder, path)


def lies_on(folder: str) -> list[str]:
    """What lies under a folder of this machine, as the probe tells it. Raises StoreVanished."""
    try:
        return sorted(device_probe().under(Path(from_ledger(folder))))
    except OSError as error:
        raise StoreVanished(f"{folder} cannot be read ({why(error)})") from error


def why_not_there(folder: str, system_disk_reason: str, stood_on: Iterable[str]) -> str:
    """Why nothing may be written into a folder of this machine; empty where it may. Raises StoreVanished.

    stood_on: what lay under it when somebody looked; empty where nobody did
    """
    path, on = Path(from_ledger(folder)), lies_on(folder)
    if stood_on and sorted(stood_on) != on:
        return f"another drive is at {folder} than when it was looked at: look at it again"
    if device_probe().is_system_disk(path) and not system_disk_reason:
        return f"{folder} is on this computer's system disk: use another disk, or say why it must be this one"
    return ""


def copies_around(folder: str) -> dict[str, str]:
    """Folders of copies, as paths relative to this folder, of the store that it lies in; each with its roll's tag.

    What is to be brought into one of these is for mending it, where it is counted. A copy that the folder itself lies
    in stands under an empty path.
    """
    path = Path(from_ledger(folder))
    root = next((one for one in (path, *path.parents) if (one / MARKER).is_file()), None)
    store = _marked(root) if root else None
    if root is None or store is None:
        return {}
    found = {}
    for tag, at in Copy.objects.filter(store=store).values_list("roll__tag", "folder"):
        copy = root / from_ledger(at)
        if path.is_relative_to(copy):
            found[""] = tag
        elif copy.is_relative_to(path):
            found[str(copy.relative_to(path))] = tag
    return found


def _marked(root: Path) -> Store | None:
    try:
        return Store.objects.filter(uuid=mark_on(root)).first()
    except (OSError, ValueError):
        return None


def folder_to_write(
    folder: str, paths: Iterable[str], system_disk_reason: str = "", stood_on: Iterable[str] = ()
) -> LocalStore:
    """A folder into which these paths may be written; see `why_not_there`. Raises StoreError with why they may not."""
    found = opened_folder(folder)
    against = why_not_there(folder, system_disk_reason, stood_on)
    wanted = list(paths)
    copy = next((tag for at, tag in copies_around(folder).items() if _leads_into(at, wanted)), "")
    if copy:
        against = f"it is where a copy of {copy} is kept: have that copy checked and mended, so that it counts"
    if against:
        raise StoreError(against)
    return found


def _leads_into(at: str, paths: Iterable[str]) -> bool:
    return not at or any(path.startswith(f"{at}/") for path in paths)
