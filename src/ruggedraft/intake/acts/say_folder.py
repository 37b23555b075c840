from pathlib import Path

from django.db import transaction

from ruggedraft.core.errors import ActRefused, SourceError, why
from ruggedraft.core.packages import ENDING, PackageSource
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.folders import MARKER
from ruggedraft.stores.models import Store

from ..models import FolderReader

_HOLDS = {False: "is a reader for one card", True: "holds a set of finals"}
_NOBODYS_CARD = ("/", "/home", "/root", "/etc", "/usr", "/var", "/boot", "/proc", "/sys", "/dev", "/tmp", "/run")  # noqa: S108


@transaction.atomic
def say_folder(
    person: Person, path: str, *, is_reader: bool, station: Station | None = None, beside_copies: bool = False,
    finals: bool = False,
) -> None:  # fmt: skip
    """Say of a folder that it is a reader, for the one card that it holds; or that it is none any more.

    station: whose machine this is; None: the server's own. Nothing is ever written into it. Raises ActRefused.
    beside_copies: it lies inside a store, and no copy lies in it: whoever calls saw to that
    finals: it holds no card, but finals: it is taken in like one, and never cleared
    """
    require(person, May.KEEP_STORES)
    if is_reader:
        folder = _checked(path, beside_copies=beside_copies)
        said, made = FolderReader.objects.get_or_create(
            station=station, path=str(folder), ended_at=None,
            defaults={"person": person, "at": now(), "finals": finals},
        )  # fmt: skip
        if said.finals != finals:
            raise ActRefused(f"{folder} is a reader already, and {_HOLDS[said.finals]}: say first that it is none.")
        what = "package" if path.endswith(ENDING) else "folder"
        words = f"The {what} {folder} {_HOLDS[finals]}, says {person.shown_name}."
    else:
        open_ones = FolderReader.objects.filter(station=station, path=path, ended_at=None)
        made = bool(open_ones.update(ended_at=now()))
        what = "package" if path.endswith(ENDING) else "folder"
        words = f"The {what} {path} is no reader any more, says {person.shown_name}."
    if made:
        write("say reader", Path(path).name or path, words, person=person)
        changed(Topic.SETUP, Topic.READERS)


def _checked(path: str, *, beside_copies: bool) -> Path:
    """The folder itself, links followed; or a package. Raises ActRefused for what can be no card."""
    if path.endswith(ENDING):
        return _package_at(path)
    folder = _folder_at(path)
    if str(folder) in _NOBODYS_CARD:
        raise ActRefused(f"{folder} is the computer's own, and no card.")
    around = () if beside_copies else folder.parents
    stores = [str(one) for one in (folder, *around) if (one / MARKER).exists()]
    stores += [one.path for one in Store.objects.all() if Path(one.path).is_relative_to(folder)]
    if stores:
        raise ActRefused(f"Copies are kept in {stores[0]}: it is a store, and no card.")
    return folder


def _package_at(path: str) -> Path:
    """It may lie among copies: nothing is ever written to it. Raises ActRefused where it is none."""
    try:
        package = Path(path).resolve(strict=True)
        PackageSource.at(package)
    except (OSError, SourceError) as error:
        raise ActRefused(f"{path} is no package that can be opened: {error}") from error
    if not Path(path).is_absolute():
        raise ActRefused(f"{path} is no package: give its whole path, from / on.")
    return package


def _folder_at(path: str) -> Path:
    """Raises ActRefused where there is none."""
    try:
        folder = Path(path).resolve(strict=True)
    except OSError as error:
        raise ActRefused(f"{path} is no folder on this machine ({why(error)}).") from error
    if not Path(path).is_absolute() or not folder.is_dir():
        raise ActRefused(f"{path} is no folder: give its whole path, from / on.")
    return folder
