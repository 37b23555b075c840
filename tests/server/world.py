"""A small production on real folders and the real database: two people, three drives, one card in a reader."""

import json
import tempfile
from datetime import UTC, date, datetime
from pathlib import Path
from unittest.mock import patch

from django.test import Client, override_settings

from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Card, GoneFile, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Location, Station
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.offloads.running import carry_out as run_offload
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.models import Store

SHOT = datetime(2026, 5, 14, 9, tzinfo=UTC)
FILES = {
    "DCIM/100AAAAA/AAAA0001.JPG": b"one" * 1000,
    "DCIM/100AAAAA/AAAA0002.JPG": b"two" * 200_000,
    "zero": b"",
    "line\nbreak \\ caf\udce9": b"odd",
}


def address(path: str) -> str:
    """Of a place of the production, or of what belongs to none."""
    first, _, rest = path.partition("/")
    if first == "..":
        return f"/api/productions/{rest}"
    return f"/api/{path}" if first in ("session", "live", "standins", "stations") else f"/api/productions/heron/{path}"


class World:
    """Mixed into a Django test case. `self.card_folder` is what is on card A-01, in slot 1."""

    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        self.clients: dict[int, Client] = {}
        for context in (
            override_settings(VAR=self.base, PICTURES=self.base / "pictures", KEYS=self.base / "keys"),
            patch.object(hub, "BYTES_PER_S", 10**9),
        ):
            context.__enter__()
            self.addCleanup(context.__exit__, None, None, None)
        self.production = Production.objects.create(name="Heron", first_day=date(2026, 5, 14))
        self.wren = self.person("wren", Role.WRANGLER)
        self.sol = self.person("sol", Role.SUPERVISOR)
        self.pip = self.person("pip", Role.ASSISTANT)
        self.cart = Location.objects.create(name="cart")
        self.office = Location.objects.create(name="office", offsite=True)
        self.drives = {name: self.drive(name) for name in ("one", "two", "three")}
        RedundancyRule.objects.create(production=self.production)
        self.plan = Plan.objects.create(production=self.production, name="all")
        self.plan.stores.set([self.drives["one"], self.drives["two"]])
        self.camera = Camera.objects.create(
            production=self.production, letter="A", name="Halyard", kind="cinema", plan=self.plan
        )
        self.station = Station.objects.create(name="cart")
        self.card, self.card_folder = self.new_card("A-01", FILES)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def person(self, name: str, role: str) -> Person:
        """Somebody on the crew of the production."""
        made = Person.objects.create_user(username=name, password=f"{name}-password", first_name=name.title())
        Membership.objects.create(person=made, production=self.production, role=role)
        return made

    def drive(self, name: str, *, capacity: int = 10**9, identity: str | None = None) -> Store:
        folder = make_drive(hub.home() / "drives" / name, identity=identity or name, capacity=capacity)
        words = {"name": name, "device_name": name, "medium": "ssd", "location": self.cart}
        return introduce_store(self.sol, self.production.pk, folder=folder, **words)

    def new_card(self, label: str, files: dict[str, bytes]) -> tuple[Card, Path]:
        sheet = card_maker.CardSheet(f"SN{label}", label, "SD", 64 * 10**9)
        folder = card_maker.make_card(hub.home(), sheet)
        for path, content in files.items():
            card_maker.add_file(folder, path, content, SHOT)
        card = Card.objects.create(label=label, kind="SD", camera=self.camera)
        card.serials.create(serial=sheet.serial)
        return card, folder

    def blank_card(self) -> None:
        """Card A-01 as if it had never been in a reader here, and with nothing on it."""
        hub.remove("slot-1")
        look(self.station)
        GoneFile.objects.filter(card=self.card).delete()
        Insertion.objects.filter(card=self.card).delete()
        card_maker.format_card(self.card_folder)

    def client_for(self, person: Person) -> Client:
        client = Client()
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        return client

    def _same_client(self, person: Person | None) -> Client:
        """Each person signs in once."""
        person = person or self.wren
        if person.pk not in self.clients:
            self.clients[person.pk] = self.client_for(person)
        return self.clients[person.pk]

    def get(self, path: str, person: Person | None = None):
        return self._same_client(person).get(address(path), headers={"host": "localhost"}).json()

    def post(self, path: str, body: dict | None = None, person: Person | None = None, method: str = "post"):
        client = self._same_client(person)
        words = {"headers": {"host": "localhost"}, "content_type": "application/json"}
        return getattr(client, method)(address(path), json.dumps(body or {}), **words)

    def offload(self, card: Card | None = None) -> Roll:
        """Start an offload as Wren and run it to its end, as the station's worker would."""
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=(card or self.card).pk)
        offload = start_offload(self.wren, card, propose(card).tag)
        run_offload(offload.pk)
        return offload.roll

    def check(self, roll: Roll, store: str) -> None:
        copy = Copy.objects.get(roll=roll, store__name=store)
        self.assertEqual(self.post(f"copies/{copy.pk}/check").status_code, 200)
        run_check(CheckRun.objects.latest("id").pk)

    def sign(self, person: Person | None = None, tag: str = "A001", digest: str | None = None):
        """Press the button, have the station look at card and copies, and press again, as the screen does."""
        words = {"tag": tag, "digest": self.standing()["digest"] if digest is None else digest}
        answer = self.post(f"clearing/cards/{self.card.pk}/sign", words, person)
        if answer.status_code == 200 and answer.json()["state"] == "looking":
            self.look_at_everything()
            answer = self.post(f"clearing/cards/{self.card.pk}/sign", words, person)
        return answer

    def hold(self, on: str, name: str, reason: str, person: Person | None = None, **words):
        """on: "roll", "card" or "camera"."""
        return self.post("clearing/holds", {"on": on, "name": name, "reason": reason, **words}, person)

    def look_at_everything(self) -> None:
        """As the station does when somebody wants to sign."""
        for stay in Insertion.objects.filter(removed_at=None).select_related("reader__station", "card__camera"):
            read_card(stay)
        for copy in Copy.objects.filter(store__sightings__online=True).select_related("roll", "store__device"):
            look_at_copy(copy)

    def standing(self, card: Card | None = None) -> dict:
        label = (card or self.card).label
        return next(case for case in self.get("clearing")["cards"] if case["label"] == label)

    def on_drive(self, store: str, roll: Roll | str = "A001") -> Path:
        return hub.home() / "drives" / store / "Heron" / "2026-05-14" / str(getattr(roll, "tag", roll))
