"""One card before three people and across two stations: read at the van, signed and given back at the cart."""

import os
import shutil
import time
from unittest import skipUnless

from django.test import override_settings
from selenium.webdriver.common.keys import Keys

from ruggedraft.intake.models import Insertion
from ruggedraft.kit.models import Custody
from ruggedraft.standins import hub
from tests.server.test_stations import Van, into_sight

from .case import BrowserCase


@skipUnless(os.geteuid() == 0, "hiding one machine's drives from the other takes a mount of its own")
class AcrossTwoStations(Van, BrowserCase):
    def start_station(self, name="cart", base=None, out_of_sight=None):
        """Once both machines are there."""

    def setUp(self):
        super().setUp()
        into_sight(self.van_base / "standins")
        super().start_station("cart", out_of_sight=self.van_base / "standins")
        super().start_station("van", self.van_base, out_of_sight=self.base / "standins")

    def carry_to_the_cart(self) -> None:
        with override_settings(VAR=self.van_base):
            hub.remove("slot-1")
            made = next(one for one in hub.cards() if one.label == "V-01")
            there = hub.home() / "cards"
        self.until_stays(1)
        here = hub.home() / "cards"
        shutil.copytree(there / made.serial, here / made.serial)
        shutil.copy(there / f"{made.serial}.json", here)
        hub.remove("slot-1")
        self.until_stays(0)
        hub.insert("V-01", "slot-2")

    def until_stays(self, count: int) -> None:
        deadline = time.monotonic() + 30
        while Insertion.objects.filter(removed_at=None).count() != count:
            self.assertLess(time.monotonic(), deadline, f"{count} cards are in readers")
            time.sleep(0.2)

    def test_one_card_from_insertion_to_hand_back(self):
        wren, pip, sol = self.browser("wren"), self.browser("pip", 390, 844), self.browser("sol")
        pip.go("/heron/cards/V-01")
        sol.go("/heron/tally")
        wren.see("[data-slot]", "V-01").click()
        wren.see("[data-next]", "Offload V001")
        wren.tab_to("[data-next]", "Offload V001")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome='well']", "read back: both agree with the card.")
        sol.see("[data-roll='V001'][data-state='safe']", "card V-01 is not cleared")
        pip.see("main", "Sign V001")
        self.carry_to_the_cart()
        pip.see("main", "in slot 2")
        wren.clear_card("V-01", "V001")
        sol.see("[data-roll='V001']", "card V-01 was cleared")
        hub.remove("slot-2")
        self.until_stays(0)
        pip.see("[data-mine]").click()
        pip.see("[data-holder]", "Pip has it")
        wren.press("k")
        wren.see("[data-card='V-01']", "with Pip")
        self.assertEqual(Custody.objects.get().holder, self.pip)
        stations = set(Insertion.objects.filter(card=self.van_card).values_list("reader__station__name", flat=True))
        self.assertEqual(stations, {"van", "cart"})
        for browser in (wren, pip, sol):
            self.assertEqual(browser.violations() + browser.console_errors(), [])
