"""A run under way, as somebody at the cart sees it: pulled drives, slow stores, dead workers."""

import random
import subprocess

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.intake.watching import look
from ruggedraft.offloads.models import Offload
from ruggedraft.standins import card_maker, hub
from tests.server.world import SHOT

from .case import BrowserCase


class Running(BrowserCase):
    reader_rate = 6_000_000

    def fill_card(self) -> None:
        hub.remove("slot-1")
        look(self.station)
        for n in range(12):
            content = random.Random(n).randbytes(1_500_000)
            card_maker.add_file(self.card_folder, f"CLIP/A001C{n:03d}.MOV", content, SHOT)
            card_maker.add_file(self.card_folder, f"CLIP/A001C{n:03d}.XML", b"<about/>", SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def test_a_drive_pulled_in_the_middle_is_named_put_back_and_the_run_completes(self):
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-pace] [data-held-by]", "held by the reader")
        wren.see("[data-pace] [data-left]", "left")
        wren.see("[data-store='two'] [data-rate]", "/s")
        drive = hub.home() / "drives" / "two"
        drive.rename(drive.with_name("pulled"))
        wren.see("[data-store='two'] .trouble", "not there any more")
        report = wren.see("[data-outcome='trouble']", "connect it")
        self.assertIn("is on 'one'.", report.text)
        self.assertEqual(wren.violations(), [])
        drive.with_name("pulled").rename(drive)
        look(self.station)
        again = wren.see("[data-next]", "Offload A001")
        wren.until(lambda: not wren.off(again), "the drive is back, and the run is offered again")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='well']", "both agree with the card")
        for store in ("one", "two"):
            subprocess.run(["diff", "-r", self.card_folder, self.on_drive(store)], check=True)
        self.assertEqual(wren.console_errors(), [])

    def test_a_card_pulled_in_the_middle_keeps_its_slot_in_alarm_until_somebody_knows(self):
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-store='two'] [data-rate]", "/s")
        hub.remove("slot-1")
        wren.see("[data-pulled='A-01']", "A-01 left in the middle of A001")
        self.assertEqual(wren.violations(), [])
        hub.insert("A-01", "slot-1")
        wren.see("[data-next]", "Offload A001")
        self.assertEqual(wren.driver.find_elements(By.CSS_SELECTOR, "[data-pulled]"), [])
        hub.remove("slot-1")
        wren.tab_to("[data-acknowledge]", "I know")
        wren.press(Keys.ENTER)
        wren.see("[data-slot='slot 1']", "empty")
        wren.see("[data-part='short']")
        self.assertEqual(wren.console_errors(), [])

    def test_a_worker_that_died_is_noticed_and_its_run_goes_on_by_itself(self):
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-pace] [data-left]", "left")
        self.kill_station()
        wren.see("[data-worker-lost]", "Nobody is working at this run")
        self.start_station()
        wren.see("[data-outcome='well']", "both agree with the card")
        self.assertEqual(Offload.objects.count(), 1)
