"""Stores: what they stand on and where, those on devices that are lost or found, and drives that may become one."""

from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from ruggedraft.adopting.acts.adopt_copy import adopt_copy
from ruggedraft.adopting.acts.ask_comparison import ask_comparison
from ruggedraft.adopting.acts.ask_search import ask_search
from ruggedraft.adopting.acts.open_package import open_package
from ruggedraft.adopting.acts.stop_comparison import stop_comparison
from ruggedraft.adopting.acts.take_in import take_in
from ruggedraft.adopting.queries import found_on, last_comparison, last_search, rows_after
from ruggedraft.clearing.what_if import LossOf, what_if
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.queries import member_called
from ruggedraft.intake.acts.say_reader import say_reader
from ruggedraft.intake.acts.use_drive import use_drive
from ruggedraft.intake.errands import send
from ruggedraft.intake.queries import said_to_be_cards
from ruggedraft.journal.clock import now
from ruggedraft.kit.queries import place_known, place_named
from ruggedraft.kit.stations import station_named, stations_elsewhere
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.acts.move_device import move_device
from ruggedraft.rolls.acts.pass_device import pass_device
from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.acts.state_device import state_device
from ruggedraft.rolls.queries import roll_named
from ruggedraft.rolls.room import room_of_stores
from ruggedraft.rolls.summaries import places_in
from ruggedraft.stores.acts.ask_host_key import ask_host_key
from ruggedraft.stores.acts.change_credentials import change_credentials
from ruggedraft.stores.acts.choose_backups import choose_backups
from ruggedraft.stores.acts.introduce_server import introduce_server
from ruggedraft.stores.acts.keep_packages import keep_packages
from ruggedraft.stores.acts.share_store import share_store
from ruggedraft.stores.addresses import Secret
from ruggedraft.stores.noting import volumes_of
from ruggedraft.stores.queries import station_that_sees, store_in, stores, stores_in
from ruggedraft.stores.volumes import volumes
from ruggedraft.upkeep.acts.change_store import change_store, retire_store, use_store_again

from ..answers import written
from ..shapes import REFUSED, Done
from ..who import who
from .adopting import (
    AdoptIn,
    ComparisonIn,
    ComparisonOut,
    DifferenceOut,
    DifferencesOut,
    SearchOut,
    SidesIn,
    TakeInIn,
)
from .room import RoomOut
from .servers import BucketIn, CredentialsIn, HostKeyIn, HostKeyOut, ServerIn, WebdavIn
from .shapes import (
    BackupsIn,
    CarrierIn,
    LossIn,
    PlaceIn,
    ReaderIn,
    SharedIn,
    StandsOnIn,
    StoreChangeIn,
    StoreIn,
    StoreOut,
    VolumeOut,
)
from .what_if import WhatIfOut

if TYPE_CHECKING:
    from ruggedraft.stores.models import Store

router = Router(tags=["stores"])


@router.get("", response=list[StoreOut])
@asked_together
@one_moment()
def every_store(request: HttpRequest, production: Path[str]) -> list[StoreOut]:
    return [StoreOut.of(store) for store in stores_in(production_named(production).pk)]


@router.get("/volumes", response=list[VolumeOut])
def plugged_in(request: HttpRequest, production: Path[str]) -> list[VolumeOut]:
    """What is plugged into this server's machine and every station's, with what speaks against each as a store."""
    known = {str(store.uuid): store.name for store in stores()}
    found = volumes()
    here = said_to_be_cards(volume.path for volume in found)
    told = [VolumeOut.of(volume, known, here) for volume in found]
    for station in stations_elsewhere():
        seen, cards = volumes_of(station)
        told += [VolumeOut.of(volume, known, cards, station.name) for volume in seen]
    return told


@router.put("/volumes/reader", response={200: Done, **REFUSED})
def it_is_a_card(request: HttpRequest, production: Path[str], given: ReaderIn) -> Done:
    """Say of something plugged in that it is a card in a reader, or that it is none after all."""
    said = given.model_dump(exclude={"station"})
    if given.station:
        send(who(request), station_named(given.station), "say reader", **said)
    else:
        say_reader(who(request), **said)
    return Done()


@router.post("", response={200: Done, **REFUSED})
def copies_may_go_there(request: HttpRequest, production: Path[str], given: StoreIn) -> Done:
    said = given.model_dump(exclude={"station"}) | {"production": production_named(production).pk}
    if given.station:
        send(who(request), station_named(given.station), "use drive", **said)
    else:
        use_drive(who(request), **said)
    return Done()


@router.post("/servers/host-key", response={200: HostKeyOut, **REFUSED})
def host_key(request: HttpRequest, production: Path[str], given: HostKeyIn) -> HostKeyOut:
    """What a server presents itself with now, for a person to compare before anything is sent there."""
    return HostKeyOut.of(ask_host_key(who(request), given.host, given.port))


@router.post("/servers", response={200: Done, **REFUSED})
def copies_may_go_to_a_server(request: HttpRequest, production: Path[str], given: ServerIn) -> Done:
    _introduce(request, production, given, given.ssh_secret())
    return Done()


@router.post("/buckets", response={200: Done, **REFUSED})
def copies_may_go_to_a_bucket(request: HttpRequest, production: Path[str], given: BucketIn) -> Done:
    _introduce(request, production, given, given.bucket_secret())
    return Done()


@router.post("/webdav", response={200: Done, **REFUSED})
def copies_may_go_to_a_webdav_server(request: HttpRequest, production: Path[str], given: WebdavIn) -> Done:
    _introduce(request, production, given, given.secret())
    return Done()


def _introduce(request: HttpRequest, production: str, given: ServerIn | BucketIn | WebdavIn, secret: Secret) -> None:
    here = production_named(production)
    introduce_server(
        who(request), here.pk, name=given.name, address=given.address(), secret=secret, device_name=given.device,
        medium=given.medium, location=place_named(given.place), reason=given.reason, attests=given.attests,
    )  # fmt: skip


@router.get("/room", response=list[RoomOut])
@one_moment()
def room(request: HttpRequest, production: Path[str]) -> list[RoomOut]:
    """What every store holds by day and camera, and when it will be full."""
    here = production_named(production)
    today = here.shoot_day(now())
    return [RoomOut.of(one, today) for one in room_of_stores(here, places_in(here))]


@router.get("/comparisons", response={200: ComparisonOut, **REFUSED})
@one_moment()
def compared(request: HttpRequest, production: Path[str], right: str, left: str = "") -> ComparisonOut:
    """How a store was last found beside another, or beside what the ledger knows of it."""
    return ComparisonOut.of(last_comparison(_side(production, left), _store(production, right)))


@router.get("/comparisons/rows", response={200: DifferencesOut, **REFUSED})
@one_moment()
def differences(
    request: HttpRequest, production: Path[str], right: str, left: str = "", after: int = -1
) -> DifferencesOut:
    """Every file that is not identical, a page at a time: by kind, and in each by path."""
    found = last_comparison(_side(production, left), _store(production, right))
    rows, rest = rows_after(found, after) if found else ([], None)
    return DifferencesOut(rows=[DifferenceOut.of(row) for row in rows], after=rest)


@router.post("/comparisons", response={200: Done, **REFUSED})
def compare(request: HttpRequest, production: Path[str], given: ComparisonIn) -> Done:
    """Have two stores compared, one way; nothing is changed."""
    ask_comparison(
        who(request), _side(production, given.left), _store(production, given.right), by_content=given.by_content
    )
    return Done()


@router.post("/comparisons/stop", response={200: Done, **REFUSED})
def stop_comparing(request: HttpRequest, production: Path[str], given: SidesIn) -> Done:
    """Have a comparison that is under way end; nothing was found then."""
    stop_comparison(who(request), _side(production, given.left), _store(production, given.right))
    return Done()


def _side(production: str, name: str) -> "Store | None":
    return _store(production, name) if name else None


def _store(production: str, name: str) -> "Store":
    return store_in(production_named(production).pk, name)


@router.get("/what-if", response={200: WhatIfOut, **REFUSED})
@one_moment()
def what_if_it_is_lost(request: HttpRequest, production: Path[str], of: LossOf, name: str) -> HttpResponse:
    """What would be lost with a device, a place, or somebody's bag; and what, done now, would help."""
    here = production_named(production)
    return written(WhatIfOut.of(what_if(here, places_in(here), of, name)))


@router.put("/{name}/carrier", response={200: Done, **REFUSED})
def carried_by(request: HttpRequest, production: Path[str], name: str, given: CarrierIn) -> Done:
    """Say who has the device that a store is on, and where it is with them."""
    carrier = member_called(given.username, production_named(production).pk) if given.username else None
    place = place_known(given.place) if given.place else None
    device = _store(production, name).device
    pass_device(who(request), device, carrier, outside=given.outside, place=place, note=given.note)
    return Done()


@router.put("/{name}/place", response={200: Done, **REFUSED})
def place(request: HttpRequest, production: Path[str], name: str, given: PlaceIn) -> Done:
    """Say where the device is that a store is on."""
    move_device(who(request), _store(production, name).device, given.place, offsite=given.offsite)
    return Done()


@router.put("/{name}/credentials", response={200: Done, **REFUSED})
def credentials(request: HttpRequest, production: Path[str], name: str, given: CredentialsIn) -> Done:
    """Give another key or password for a store's server, or accept its new host key."""
    store = _store(production, name)
    change_credentials(
        who(request), store, given.secret(StoreKind(store.kind)), host_key=given.host_key, reason=given.reason
    )
    return Done()


@router.put("/{name}/backups", response={200: Done, **REFUSED})
def backups(request: HttpRequest, production: Path[str], name: str, given: BackupsIn) -> Done:
    """Have the ledger backed up there too, or no more."""
    choose_backups(who(request), _store(production, name), on=given.on)
    return Done()


@router.put("/{name}", response={200: Done, **REFUSED})
def change(request: HttpRequest, production: Path[str], name: str, given: StoreChangeIn) -> Done:
    """Call it something else, make it a landing area or none, have what is verified there made read-only or not."""
    change_store(who(request), _store(production, name), name=given.name, landing=given.landing, seals=given.seals)
    return Done()


@router.post("/{name}/shared", response={200: Done, **REFUSED})
def used_elsewhere_too(request: HttpRequest, production: Path[str], name: str, given: SharedIn) -> Done:
    """Have another production use a store too, which it did not see until now."""
    other = production_named(given.production)
    share_store(who(request), _store(production, name), other.pk, other.name)
    return Done()


@router.post("/{name}/retired", response={200: Done, **REFUSED})
def out_of_service(request: HttpRequest, production: Path[str], name: str, given: LossIn) -> Done:
    """Nothing goes there any more, and nothing there counts."""
    retire_store(who(request), _store(production, name), given.reason)
    return Done()


@router.delete("/{name}/retired", response={200: Done, **REFUSED})
def in_service_again(request: HttpRequest, production: Path[str], name: str) -> Done:
    use_store_again(who(request), _store(production, name))
    return Done()


@router.post("/{name}/lost", response={200: Done, **REFUSED})
def lost(request: HttpRequest, production: Path[str], name: str, given: LossIn) -> Done:
    """Report the device lost that a store is on."""
    report_loss(who(request), _store(production, name).device, given.reason)
    return Done()


@router.post("/{name}/found", response={200: Done, **REFUSED})
def found(request: HttpRequest, production: Path[str], name: str) -> Done:
    report_found(who(request), _store(production, name).device)
    return Done()


@router.post("/{name}/device", response={200: Done, **REFUSED})
def stands_on(request: HttpRequest, production: Path[str], name: str, given: StandsOnIn) -> Done:
    state_device(who(request), _store(production, name), given.stands_on, given.reason)
    return Done()


@router.get("/{name}/search", response={200: SearchOut, **REFUSED})
@one_moment()
def searched(request: HttpRequest, production: Path[str], name: str) -> SearchOut:
    """What the last look through a store for rolls found."""
    store = _store(production, name)
    return SearchOut.of(last_search(store), found_on(store, production_named(production).pk))


@router.post("/{name}/search", response={200: Done, **REFUSED})
def search(request: HttpRequest, production: Path[str], name: str) -> Done:
    """Have a store looked through for rolls: by names and sizes, nothing is read."""
    ask_search(who(request), _store(production, name))
    return Done()


@router.post("/{name}/adopt", response={200: Done, **REFUSED})
def adopt(request: HttpRequest, production: Path[str], name: str, given: AdoptIn) -> Done:
    """Take a folder for a copy of a roll, or follow a copy that was moved; it is read now."""
    roll = roll_named(production_named(production), given.tag)
    adopt_copy(who(request), _store(production, name), roll, given.folder)
    return Done()


@router.post("/{name}/packages", response={200: Done, **REFUSED})
def packages_may_go_there(request: HttpRequest, production: Path[str], name: str) -> Done:
    """Have a drive keep each roll as one sealed file too."""
    store, mine = _store(production, name), production_named(production).pk
    station = station_that_sees(store)
    if station and station.role:
        send(who(request), station, "keep packages", store=store.pk, production=mine)
    else:
        keep_packages(who(request), store.pk, mine)
    return Done()


@router.post("/{name}/packages/{tag}/open", response={200: Done, **REFUSED})
def package_on_the_bench(request: HttpRequest, production: Path[str], name: str, tag: str) -> Done:
    """Show a roll's sealed package as a card on the Bench."""
    open_package(who(request), _store(production, name), roll_named(production_named(production), tag))
    return Done()


@router.post("/{name}/take-in", response={200: Done, **REFUSED})
def take_folder_in(request: HttpRequest, production: Path[str], name: str, given: TakeInIn) -> Done:
    """Show a folder that belongs to no roll as a card on the Bench, or as a set of finals."""
    take_in(who(request), _store(production, name), given.folder, finals=given.finals)
    return Done()
