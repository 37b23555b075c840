"""The demo's world: Tidewrack, day 4 of 6, in the middle of work. Everything in it was really done by the engine."""

import os
import shutil
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from zoneinfo import ZoneInfo

from django.contrib.auth.hashers import make_password
from django.core.management import call_command

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.clearing.acts.hand_back import hand_back
from ruggedraft.clearing.acts.holds import place_hold
from ruggedraft.clearing.acts.sign_clearance import Signing, sign_clearance
from ruggedraft.clearing.cases import case
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret, objects_client
from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret
from ruggedraft.core.upkeep import ALL_DAY, Hours
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.kit.models import Device, Location, Station
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.offloads.running import carry_out as run_offload
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule, Rig
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.acts.pass_device import pass_device
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.stores.acts.introduce_server import introduce_server
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.models import Store
from ruggedraft.upkeep.acts.give_order import give_order
from ruggedraft.upkeep.acts.set_care import set_care
from ruggedraft.upkeep.pacing import Pacing

from . import card_maker as make
from . import hub
from .bucket_server import ACCESS_KEY, SECRET_KEY, Storage
from .card_maker import traps
from .drives import make_drive
from .sftp_server import office

_SINCE_MORNING = timedelta(hours=3)
PEOPLE = {
    "wren": ("Wren", "Tarn", Role.WRANGLER), "ida": ("Ida", "Kelpie", Role.LEAD),
    "pip": ("Pip", "Osier", Role.ASSISTANT),
    "sol": ("Sol", "Maddern", Role.SUPERVISOR), "moss": ("Moss", "Ebbing", Role.CLIENT),
}  # fmt: skip
PASSWORD = "marrow-hen"  # noqa: S105  the demo's, printed at every start
STATION = "cart"
_GB = 10**9
_CARD = 64 * _GB
_BUCKET = "tidewrack"
_SPLIT_AT = 6_000_000
"""Bytes at which the drone's stand-in card splits a recording, as a real one does at 4 GiB."""


@dataclass(frozen=True)
class _People:
    wren: Person
    pip: Person
    sol: Person


def set_up_demo(morning: datetime) -> None:
    """Fill an empty ledger. `morning`: three hours ago, aware; day 1 was three days before."""
    shutil.rmtree(hub.home(), ignore_errors=True)
    hub.hub().mkdir(parents=True)
    server, storage = office(hub.home()).start(), Storage(hub.home()).start()
    try:
        _tell(morning, storage)
    finally:
        storage.stop()
        server.stop()


def _tell(morning: datetime, storage: Storage) -> None:
    with clock.at(morning - timedelta(days=4)):
        first_day = Production().shoot_day(morning + _SINCE_MORNING) - timedelta(days=3)
        production = Production.objects.create(name="Tidewrack", first_day=first_day)
        people = _people(production)
        _stores(people.sol, production)
        _bucket(people.sol, production, storage)
        _plans(production)
    cards = _cards(production)
    station, _ = Station.objects.get_or_create(name=STATION)
    _first_three_days(_Work(people, station, cards), morning)
    _by_itself(people.sol, production, morning)
    _today(_Work(people, station, cards), morning)


def _by_itself(supervisor: Person, production: Production, morning: datetime) -> None:
    """An order for the coming night, which is hours away whenever the demo is begun; and care for a drive."""
    office, bucket = (Store.objects.get(name=name) for name in ("Office array", "Far bucket"))
    begins = (morning.astimezone(ZoneInfo(production.time_zone)) + timedelta(hours=10)).hour * 60
    night = Pacing(Hours(begins, (begins + 8 * 60) % (24 * 60)), 20_000_000)
    with clock.at(morning - timedelta(hours=14)):
        give_order(supervisor, production, bucket, night, from_store=office)
        set_care(supervisor, Store.objects.get(name="Cart SSD 1"), Pacing(ALL_DAY), check_days=30, mends=True)


def empty_ledger() -> None:
    call_command("flush", interactive=False, verbosity=0)


def _people(production: Production) -> _People:
    password = make_password(PASSWORD)
    made = {}
    for name, (first, last, role) in PEOPLE.items():
        words = {"first_name": first, "last_name": last, "password": password}
        made[name] = Person.objects.create(username=name, **words)
        Membership.objects.create(person=made[name], production=production, role=role)
    return _People(made["wren"], made["pip"], made["sol"])


def _stores(supervisor: Person, production: Production) -> None:
    cart = Location.objects.create(name="cart")
    office = Location.objects.create(name="office", offsite=True)
    van = Location.objects.create(name="van")
    drives = (
        ("Cart SSD 1", "ssd", cart, 400_000_000),
        ("Cart SSD 2", "ssd", cart, 400_000_000),
        ("Travel disk", "disk", van, 8 * _GB),
        ("Office array", "array", office, 0),
        ("Broadcaster's drive", "disk", van, 12_000_000),
        ("Pocket SSD", "ssd", cart, 1 * _GB),
    )
    for name, medium, location, capacity in drives:
        if not capacity:
            _on_a_server(supervisor, production, name, medium, location)
            continue
        folder = make_drive(hub.home() / "drives" / name, identity=name, capacity=capacity)
        introduce_store(
            supervisor, production.pk, name=name, folder=folder, device_name=name, medium=medium, location=location
        )  # fmt: skip


def _on_a_server(supervisor: Person, production: Production, name: str, medium: str, location: Location) -> None:
    server = office(hub.home())
    folder = server.home / "rolls"
    folder.mkdir(exist_ok=True)
    introduce_server(
        supervisor, production.pk, name=name, address=SftpAddress(server.address, server.port, server.user, str(folder),
                                                   server.host_key),
        secret=SftpSecret(server.client_key), device_name=name, medium=medium, location=location,
        reason="the office's own array, under the stairs",
    )  # fmt: skip


def _bucket(supervisor: Person, production: Production, storage: Storage) -> None:
    address = ObjectsAddress(storage.endpoint, "us-east-1", _BUCKET)
    secret = ObjectsSecret(ACCESS_KEY, SECRET_KEY)
    client = objects_client(address, secret)
    client.create_bucket(Bucket=_BUCKET)
    client.close()
    far = Location.objects.create(name="far shore", offsite=True)
    introduce_server(
        supervisor, production.pk, name="Far bucket", address=address, secret=secret, device_name="Far storage",
        medium="cloud", location=far, reason="rented by the year; its contract names the place", attests=True,
    )  # fmt: skip


def _plans(production: Production) -> None:
    """Its rule, plans, cameras and rig."""
    RedundancyRule.objects.create(production=production)
    plans = {
        "Cinema": ["Cart SSD 1", "Cart SSD 2"],
        "Stills": ["Cart SSD 1", "Cart SSD 2", "Office array"],
        "Drone": ["Cart SSD 1", "Broadcaster's drive"],
        "Sound": ["Cart SSD 1", "Pocket SSD"],
        "Rig": ["Cart SSD 2", "Travel disk", "Far bucket"],
    }
    for name, stores in plans.items():
        plan = Plan.objects.create(production=production, name=name)
        plan.stores.set(Store.objects.filter(name__in=stores))
    cameras = (
        ("A", "Lanternworks Halyard", "cinema", "Cinema"),
        ("B", "Lanternworks Halyard", "cinema", "Cinema"),
        ("C", "Petrel 2", "drone", "Drone"),
        ("R1", "Limpet", "action", "Rig"),
        ("R2", "Limpet", "action", "Rig"),
        ("R3", "Limpet", "action", "Rig"),
        ("R4", "Limpet", "action", "Rig"),
        ("S", "Lanternworks Tern", "stills", "Stills"),
        ("Q", "Hearken 8", "sound", "Sound"),
    )
    for letter, name, kind, of_plan in cameras:
        Camera.objects.create(
            production=production, letter=letter, name=name, kind=kind, plan=production.plans.get(name=of_plan)
        )
    rig = Rig.objects.create(production=production, name="Hull")
    rig.cameras.set(production.cameras.filter(letter__startswith="R"))


def _cards(production: Production) -> dict[str, Path]:
    labels = {"A": ("A-01", "A-02", "A-03"), "B": ("B-01", "B-02"), "C": ("C-01",), "R1": ("R1-01", "R1-02")}
    labels |= {"R2": ("R2-01",), "R3": ("R3-01",), "R4": ("R4-01",)}
    labels |= {"S": ("S-01", "S-02", "S-03"), "Q": ("Q-01",)}
    kinds = {"A": "CFexpress", "B": "CFexpress", "S": "SD"}
    folders = {}
    for letter, owned in labels.items():
        for label in owned:
            kind = kinds.get(letter, "microSD")
            serial = f"SK{label.replace('-', '')}".ljust(8, "0")
            largest = _SPLIT_AT if letter == "C" else None
            sheet = make.CardSheet(serial, label, kind, _CARD, volume=label, largest_file=largest)
            folders[label] = make.make_card(hub.home(), sheet)
            camera = production.cameras.get(letter=letter)
            card = Card.objects.create(label=label, kind=kind, capacity=_CARD, camera=camera)
            card.serials.create(serial=sheet.serial)
    strangers = {
        "stranger": make.CardSheet("SKX90000", "no label", "SD", _CARD, volume="UNTITLED"),
        "clone": make.CardSheet("SKX90001", "no label, cloned", "microSD", _CARD, volume="R1-01", clone_of="SKR10100"),
        "inside": make.CardSheet("SKX90002", "shown from inside", "SD", _CARD, pointed_at="DCIM"),
    }
    for name, sheet in strangers.items():
        folders[name] = make.make_card(hub.home(), sheet)
    return folders


@dataclass(frozen=True)
class _Work:
    """A wrangler at the cart, one act after the other."""

    people: _People
    station: Station
    cards: dict[str, Path]

    def offload(self, label: str, moment: datetime) -> Roll:
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(label=label)
        with clock.at(moment):
            hub.insert(label, "slot-4")
            look(self.station)
            read_headers(card.listings.latest())
            offload = start_offload(self.people.wren, card, propose(card).tag)
        with clock.at(moment + timedelta(minutes=11)):
            run_offload(offload.pk)
        return offload.roll

    def clear(self, label: str, moment: datetime) -> None:
        """Sign as a person does: ask, have everything looked at, and sign."""
        card = Card.objects.select_related("camera").get(label=label)
        roll = card.rolls.latest("id")
        with clock.at(moment):
            read_card(Insertion.objects.select_related("reader__station").get(card=card, removed_at=None))
            for copy in roll.copies.select_related("roll", "store__device"):
                look_at_copy(copy)
            digest = case(card).digest
            signed = sign_clearance(self.people.wren, card, tag=roll.tag, digest=digest)
        if signed.state is not Signing.CLEARED:
            raise RuntimeError(f"{label} should be clear: {signed}")

    def take_out(self, moment: datetime) -> None:
        with clock.at(moment):
            hub.remove("slot-4")
            look(self.station)

    def hand_back(self, label: str, to: str, moment: datetime) -> None:
        with clock.at(moment):
            hand_back(self.people.wren, Card.objects.select_related("camera").get(label=label), to)

    def whole_round(self, label: str, moment: datetime, *, clear: bool = True) -> Roll:
        roll = self.offload(label, moment)
        if clear:
            self.clear(label, moment + timedelta(minutes=20))
        self.take_out(moment + timedelta(minutes=25))
        return roll

    def check(self, roll: Roll, store: str, moment: datetime) -> None:
        with clock.at(moment):
            copy = Copy.objects.select_related("roll", "store__device").get(roll=roll, store__name=store)
            run_check(ask_check(self.people.wren, copy).pk)


def _first_three_days(work: _Work, morning: datetime) -> None:
    day1, day2, day3 = (morning - timedelta(days=n) for n in (3, 2, 1))
    cards = work.cards
    make.add_clips(cards["A-01"], reel="A001", first=1, count=2, start=day1, fine=False)
    work.whole_round("A-01", day1 + timedelta(hours=3))
    work.hand_back("A-01", "Marlo Finch", day1 + timedelta(hours=4))
    make.add_stills(cards["S-01"], prefix="SKR_", first=1, count=6, start=day1, camera="Tern")
    stills = work.whole_round("S-01", day1 + timedelta(hours=5))
    make.add_sound(cards["Q-01"], day="DAY2", first=1, count=2, start=day2)
    work.whole_round("Q-01", day2 + timedelta(hours=4))
    make.add_clips(cards["R1-01"], reel="R1", first=1, count=2, start=day2, fine=False)
    work.whole_round("R1-01", day2 + timedelta(hours=6))
    make.add_clips(cards["B-01"], reel="B001", first=1, count=3, start=day3, fine=False)
    work.whole_round("B-01", day3 + timedelta(hours=2))
    make.add_clips(cards["A-02"], reel="A002", first=1, count=3, start=day3, fine=False)
    work.whole_round("A-02", day3 + timedelta(hours=4), clear=False)
    _trouble(work, stills, day3)


def _trouble(work: _Work, stills: Roll, day: datetime) -> None:
    """A rotten file on one drive, found by a check; and a pocket drive that nobody can find."""
    copy = Copy.objects.select_related("store").get(roll=stills, store__name="Cart SSD 2")
    rotten = next((Path(copy.store.path) / copy.folder).rglob("*.DNG"))
    content = bytearray(rotten.read_bytes())
    content[len(content) // 2] ^= 0x10
    times = rotten.stat()
    rotten.write_bytes(content)
    os.utime(rotten, ns=(times.st_atime_ns, times.st_mtime_ns))
    work.check(stills, "Cart SSD 2", day + timedelta(hours=8))
    with clock.at(day + timedelta(hours=9)):
        pass_device(work.people.sol, Device.objects.get(name="Travel disk"), work.people.sol)
        pocket = Store.objects.get(name="Pocket SSD").device
        report_loss(work.people.wren, pocket, "not in its pouch after the boat came in")
        look(work.station)


def _today(work: _Work, morning: datetime) -> None:
    cards = work.cards
    make.add_stills(cards["S-02"], prefix="SKR_", first=201, count=5, start=morning, camera="Tern")
    held = work.whole_round("S-02", morning + timedelta(minutes=40), clear=False)
    with clock.at(morning + timedelta(minutes=70)):
        place_hold(work.people.sol, held, "until the picture editor has seen the launch")
    make.add_clips(cards["B-02"], reel="B002", first=1, count=2, start=morning, fine=False)
    work.whole_round("B-02", morning + timedelta(minutes=75), clear=False)
    make.add_clips(cards["B-02"], reel="B002", first=3, count=1, start=morning + timedelta(minutes=90), fine=False)
    make.add_clips(cards["A-03"], reel="A003", first=1, count=4, start=morning, seconds=3)
    make.add_action_clips(cards["C-01"], first=1, count=2, start=morning, seconds=3, tree="100PETRL", prefix="PTRL")
    traps.add_split_recording(cards["C-01"], parts=3, start=morning + timedelta(minutes=20), limit=_SPLIT_AT)
    _on_the_table(cards, morning)
    _rig(cards, morning + timedelta(minutes=15))
    for label, slot in (("A-03", "slot-1"), ("C-01", "slot-2"), ("B-02", "slot-3")):
        hub.insert(label, slot)


def _rig(cards: dict[str, Path], start: datetime) -> None:
    """Six shots on four cards whose clocks are seconds apart. R3 has a clip too many, R4 missed the fourth shot."""
    shots = [(0, 4.0), (190, 5.0), (420, 3.0), (700, 6.0), (960, 4.0), (1300, 5.0)]
    for label, ahead in (("R1-02", 0.0), ("R2-01", 7.4), ("R3-01", -3.2), ("R4-01", 21.0)):
        mine = [shot for n, shot in enumerate(shots) if label != "R4-01" or n != 3]
        if label == "R3-01":
            mine = sorted([*mine, (560, 2.0)])
        clips = [(start + timedelta(seconds=at + ahead), seconds) for at, seconds in mine]
        make.add_rig_clips(cards[label], shots=clips, first=11)


def _on_the_table(cards: dict[str, Path], morning: datetime) -> None:
    """Cards to put in: half held, with a wrong clock, unknown, cloned, and one that its reader shows from inside."""
    noon = morning + timedelta(minutes=95)
    make.add_stills(cards["S-02"], prefix="SKR_", first=206, count=34, start=noon, apart=timedelta(seconds=40))
    wrong = morning + timedelta(days=1826, hours=-5)
    make.add_stills(cards["S-03"], prefix="SKR_", first=9989, count=24, start=wrong, apart=timedelta(seconds=75))
    make.add_stills(cards["stranger"], prefix="LOST", first=9998, count=2, start=morning, camera="Tern")
    traps.mix_owners(cards["stranger"], morning)
    make.add_action_clips(cards["clone"], first=61, count=2, start=morning)
    make.add_stills(cards["inside"], prefix="SKR_", first=400, count=3, start=morning)
