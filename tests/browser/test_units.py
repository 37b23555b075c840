"""A unit away in the browser: sent out, what it did taken in with its conflicts named, and exported where it is one."""

import time

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.productions.models import UnitAway
from ruggedraft.rolls.models import Roll
from ruggedraft.units.lines import LINE, CameraLine, CardLine, HeadLine, PersonLine, RollLine
from ruggedraft.units.models import UnitSecret
from ruggedraft.units.queries import secret_of
from tests.server.test_units import sealed

from .case import BrowserCase


class UnitsAway(BrowserCase):
    reader_rate = 10**9

    def handed_in(self) -> bytes:
        """What unit North did: a roll of a card that is here, as it says, and a roll of a card of its own."""
        unit = UnitAway.objects.get()
        at = unit.at
        serials = list(self.card.serials.values_list("serial", flat=True))
        head = HeadLine(
            version=1,
            production=self.production.uuid,
            production_name="Heron",
            unit=unit.uuid,
            unit_name="North",
            at=at,
        )
        lines = [
            PersonLine(id=1, username="kit", name="Kit Marsh"),
            CameraLine(id=1, letter="A", name="Halyard", is_a="cinema"),
            CardLine(id=1, label="A-01", is_a="SD", capacity=1, camera=1, serials=serials, whereabouts="with Kit Marsh",
                     with_us=True),
            CardLine(id=2, label="A-09", is_a="SD", capacity=1, camera=1, serials=["n9"], whereabouts="in slot 1",
                     with_us=True),
            RollLine(id=7, camera=1, card=2, number=501, tag="A501", shoot_day=at.date(), opened_at=at,
                     algorithm="xxh128", fs_serial="", double_of=None),
        ]  # fmt: skip
        return sealed(lines, head, secret_of(unit).hex())

    def test_a_unit_goes_away_and_what_it_did_is_taken_in_with_its_conflicts_named(self):
        sol = self.browser("sol")
        sol.press("s")
        sol.tab_to(".part-head", "Units away")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-unit-name]")
        sol.press("North")
        sol.tab_to("[data-send-unit]")
        sol.press(Keys.ENTER)
        sol.see("[data-unit='North']", "A 501 to 599")
        file = self.base / "north.jsonl"
        file.write_bytes(self.handed_in()[:-9])
        sol.see("[data-join-file]").send_keys(str(file))
        sol.see("[data-said-no]", "cut off")
        file.write_bytes(self.handed_in())
        sol.see("[data-join-file]").send_keys(str(file))
        sol.see("[data-join='North']", "North: 1 roll and 0 copies new, taken in by Sol")
        sol.see("[data-conflict]", "Card A-01 is in slot 1 here, and with Kit Marsh as unit North knows")
        self.assertEqual(Roll.objects.get().tag, "A501")
        self.assertEqual(sol.violations() + sol.console_errors(), [])
        sol.see("nav").find_element(By.LINK_TEXT, "Tally").click()
        sol.see("[data-roll='A501']")

    def test_a_units_own_ledger_exports_what_it_did(self):
        unit = UnitAway.objects.create(
            production=self.production, name="North", here=True, numbers={"A": [501, 599]},
            by=self.sol, at=self.sol.date_joined,
        )  # fmt: skip
        UnitSecret.objects.create(unit=unit, secret="ab" * 32)
        self.offload()
        wren = self.browser("wren")
        words = {"behavior": "allow", "downloadPath": str(self.base)}
        wren.driver.execute_cdp_cmd("Browser.setDownloadBehavior", words)
        wren.press("s")
        wren.tab_to(".part-head", "Units away")
        wren.press(Keys.ENTER)
        wren.see("[data-this-unit]", "Rolls A 501 to 599 are its own.")
        wren.tab_to("[data-hand-in]")
        wren.press(Keys.ENTER)
        deadline = time.monotonic() + 30
        while not (self.base / "North.jsonl").exists():
            self.assertLess(time.monotonic(), deadline, "the file arrives")
            time.sleep(0.1)
        lines = [LINE.validate_json(line) for line in (self.base / "North.jsonl").read_bytes().splitlines()]
        self.assertEqual([one.tag for one in lines if one.kind == "roll"], ["A501"])
        self.assertEqual(wren.violations() + wren.console_errors(), [])
