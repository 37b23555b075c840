from pathlib import Path

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.acts.say_folder import say_folder
from ruggedraft.intake.errands import send
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of, station_that_sees, stores

from ..queries import last_search

_WHY_NOT = {StoreKind.PACKAGES: "keeps sealed packages: open the roll's package on the Bench instead."}
_SERVER = "is on a server: copy the folder to a drive first, and show it from there."


def take_in(person: Person, store: Store, folder: str, *, finals: bool = False) -> None:
    """Show a folder that belongs to no roll as a card on the Bench, to be looked at there, and offloaded as a roll.

    folder: as the last search found it. finals: it holds finals, and no card. Raises ActRefused.
    """
    require(person, May.KEEP_STORES, *productions_of(store))
    search, store = last_search(store), stores().get(pk=store.pk)
    if why := _WHY_NOT.get(StoreKind(store.kind), "" if store.is_local else _SERVER):
        raise ActRefused(f"'{store.name}' {why}")
    if search is None or folder not in {name for name, _, _ in search.strangers}:
        raise ActRefused(f"'{folder}' was not found on '{store.name}': have the store looked through.")
    _refuse_beside_copies(store, folder)
    station = station_that_sees(store)
    if station is None:
        raise ActRefused(f"'{store.name}' is not connected to any station: connect it.")
    path = str(Path(store.path) / from_ledger(folder))
    if station.role:
        send(person, station, "say folder", path=path, is_reader=True, beside_copies=True, finals=finals)
    else:
        say_folder(person, path, is_reader=True, beside_copies=True, finals=finals)


def _refuse_beside_copies(store: Store, folder: str) -> None:
    """Raises ActRefused where a copy lies in the folder, or the folder in a copy."""
    for copy in Copy.objects.filter(store=store).select_related("roll"):
        if f"{copy.folder}/".startswith(f"{folder}/") or f"{folder}/".startswith(f"{copy.folder}/"):
            raise ActRefused(f"{copy.roll.tag} is kept in '{copy.folder}': what is beside it is moved away first.")
