from pathlib import Path

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.packages import package_name
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.acts.say_folder import say_folder
from ruggedraft.intake.errands import send
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import productions_of, station_that_sees, stores


def open_package(person: Person, store: Store, roll: Roll) -> None:
    """Show a roll's sealed package as a card on the Bench, to be looked at and copied from there. Raises ActRefused."""
    require(person, May.KEEP_STORES, *productions_of(store))
    store = stores().get(pk=store.pk)
    copy = Copy.objects.filter(store=store, roll=roll).first()
    if store.kind != StoreKind.PACKAGES or copy is None:
        raise ActRefused(f"'{store.name}' keeps no sealed package of {roll.tag}.")
    station = station_that_sees(store)
    if station is None:
        raise ActRefused(f"'{store.name}' is not connected to any station: connect it.")
    path = str(Path(store.path) / from_ledger(package_name(copy.folder)))
    if station.role:
        send(person, station, "say folder", path=path, is_reader=True)
    else:
        say_folder(person, path, is_reader=True)
