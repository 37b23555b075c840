"""Two stations on one ledger, each with readers and drives of its own."""

import os
import time
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from unittest import skipUnless
from unittest.mock import patch

from django.test import TestCase, TransactionTestCase, override_settings

from ruggedraft.checks.models import CheckRun
from ruggedraft.core.errors import ActRefused, StoreVanished
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Station
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera, Plan
from ruggedraft.rolls.acts import look_at_copy as looking
from ruggedraft.rolls.acts.look_at_copy import look_at_the_oldest
from ruggedraft.rolls.models import Copy
from ruggedraft.runs.queue import open_runs
from ruggedraft.standins import hub
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_store

from .deciding import Deciding
from .processes import PATIENCE, Processes


def out_of_sight(home: Path) -> None:
    home.rename(home.with_name("elsewhere"))


def into_sight(home: Path) -> None:
    if home.with_name("elsewhere").exists():
        home.with_name("elsewhere").rename(home)


class Van(Deciding):
    """A second machine, in a folder of its own: station "van" with two drives and card V-01 in its first slot."""

    def setUp(self):
        super().setUp()
        self.van_base = self.base / "van"
        self.van_base.mkdir()
        self.van = Station.objects.create(name="van")
        with self.at_the_van():
            drives = [self.drive(name) for name in ("four", "five")]
            plan = Plan.objects.create(production=self.production, name="van")
            plan.stores.set(drives)
            camera = self.camera
            self.camera = Camera.objects.create(
                production=self.production, letter="V", name="Vane", kind="cinema", plan=plan
            )
            self.van_card, _ = self.new_card("V-01", {"DCIM/100VANEX/VANE0001.JPG": b"vane" * 5000})
            self.camera = camera
            hub.insert("V-01", "slot-1")

    @contextmanager
    def at_the_van(self):
        """On another machine: what is the cart's is not there, and before and afterwards it is the other way round."""
        cart, van = self.base / "standins", self.van_base / "standins"
        out_of_sight(cart)
        into_sight(van)
        try:
            with override_settings(VAR=self.van_base):
                yield
        finally:
            out_of_sight(van)
            into_sight(cart)

    def look_from_both(self) -> None:
        look(self.station)
        with self.at_the_van():
            look(self.van)

    def online(self) -> dict[str, bool]:
        return {store["name"]: store["online"] for store in self.get("tally")["stores"]}


class SideBySide(Van, TestCase):
    def test_a_drive_is_there_if_any_station_sees_it(self):
        for _ in range(3):
            self.look_from_both()
            self.assertEqual(self.online(), dict.fromkeys(("one", "two", "three", "four", "five"), True))
        with self.at_the_van():
            (hub.home() / "drives" / "four").rename(hub.home() / "drives" / "away")
        self.look_from_both()
        self.assertEqual([name for name, there in self.online().items() if not there], ["four"])

    def test_a_card_goes_to_what_its_own_station_sees(self):
        self.look_from_both()
        self.plan.stores.set(Store.objects.filter(name__in=["one", "four"]))
        proposal = self.slot()["proposal"]
        self.assertIn("'four' is not connected", " ".join(proposal["refusals"]))
        with self.assertRaisesRegex(ActRefused, "'four' is not connected"):
            self.offload()

    def looked_at(self) -> list[str]:
        return sorted(Copy.objects.exclude(look=None).values_list("store__name", flat=True))

    def test_a_copy_that_cannot_be_looked_at_keeps_no_other_from_it(self):
        self.offload()
        first, second = Copy.objects.order_by("pk").values_list("store__name", flat=True)
        with patch.object(looking, "open_store", partial(self.opened_unless, first)):
            self.assertTrue(look_at_the_oldest(self.station))
            self.assertTrue(look_at_the_oldest(self.station))
            self.assertEqual(self.looked_at(), [second])
            self.assertFalse(look_at_the_oldest(self.station), "it is not asked again at once")
        with patch.object(looking, "_TRY_AGAIN_S", 0):
            self.assertTrue(look_at_the_oldest(self.station))
        self.assertEqual(self.looked_at(), sorted([first, second]))

    def opened_unless(self, named: str, store: Store):
        if store.name == named:
            raise StoreVanished(f"'{named}' lets nobody look into it")
        return open_store(store)

    def test_checks_and_looks_go_to_the_station_that_sees_the_store(self):
        self.look_from_both()
        self.offload()
        with self.at_the_van():
            self.offload(Card.objects.get(label="V-01"))
            self.assertTrue(look_at_the_oldest(self.van))
            self.assertTrue(look_at_the_oldest(self.van))
            self.assertFalse(look_at_the_oldest(self.van), "the cart's copies are not the van's to look at")
        self.assertEqual(self.looked_at(), ["five", "four"])
        for copy in Copy.objects.select_related("store"):
            self.assertEqual(self.post(f"copies/{copy.pk}/check").status_code, 200)
            station = "van" if copy.store.name in ("four", "five") else "cart"
            self.assertEqual(CheckRun.objects.latest("id").station.name, station, copy.store.name)

    def test_a_store_that_no_station_sees_is_not_checked(self):
        self.look_from_both()
        self.offload()
        (hub.home() / "drives" / "one").rename(hub.home() / "drives" / "away")
        self.look_from_both()
        copy = Copy.objects.get(store__name="one")
        self.refused(self.post(f"copies/{copy.pk}/check"), "not connected to any station")

    def test_each_station_has_readers_and_runs_of_its_own(self):
        self.look_from_both()
        slots = {(slot["station"], slot["label"]) for slot in self.get("bench")["slots"] if slot["label"]}
        self.assertEqual(slots, {("cart", "A-01"), ("van", "V-01")})
        self.start()
        self.start(self.van_card)
        self.assertEqual([open_runs(one).get().roll.card.label for one in (self.station, self.van)], ["A-01", "V-01"])


@skipUnless(os.geteuid() == 0, "hiding one machine's drives from the other takes a mount of its own")
class Running(Van, Processes, TransactionTestCase):
    """As processes on one database, at the same time."""

    def test_both_offload_and_neither_takes_the_others_drives_away(self):
        into_sight(self.van_base / "standins")
        self.start_station("cart", out_of_sight=self.van_base / "standins")
        self.start_station("van", self.van_base, out_of_sight=self.base / "standins")
        seen_by = time.monotonic() + PATIENCE
        while not all(self.online().values()) and time.monotonic() < seen_by:  # a card may be seen before the drives
            time.sleep(0.1)
        runs = [self.begin(), self.begin(self.van_card)]
        for run in runs:
            self.wait_for(run)
        self.assertEqual(list(Offload.objects.values_list("end", flat=True)), ["well", "well"])
        until = time.monotonic() + 5
        while time.monotonic() < until:  # several looks of each
            self.assertEqual(set(self.online().values()), {True})
            time.sleep(0.1)
        self.assertTrue(all(Path(copy.store.path, copy.folder).is_dir() for copy in Copy.objects.all()))
