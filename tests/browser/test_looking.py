"""Looking through a roll: pictures while the drives are away, by keyboard."""

import time

from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from ruggedraft.pictures.keeping import PictureFolder
from ruggedraft.pictures.models import Picture
from ruggedraft.rolls.models import ClipOpening
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import media
from tests.server.world import SHOT

from .case import BrowserCase


class Looking(BrowserCase):
    def fill_card(self) -> None:
        self.blank_card()
        for n, words in enumerate(("mudlark", "hen", "barge"), 1):
            still = media.jpeg(words, SHOT, model="Tern", size=(2400, 1600))
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/AAAA000{n}.JPG", still, SHOT)
        broken = media.jpeg("tide", SHOT, model="Tern")[:9000]
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0004.JPG", broken, SHOT)
        hub.insert("A-01", "slot-1")

    def test_a_roll_is_looked_through_by_keyboard_while_every_drive_is_away(self):
        roll = self.offload()
        wren = self.browser("wren")
        wren.go(f"/heron/tally/{roll.tag}")
        wren.see("[data-hung] img[src*='/small']")
        wren.until(lambda: roll.files.exclude(seen=None).count() == 4, "all were gone through")
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        wren.tab_to("[data-hung] button")
        wren.press(Keys.ENTER)
        wren.see("[data-look-at]", "1 of 4")
        wren.see("[data-look-through]", "Lanternworks Tern")
        wren.see("[data-opened-picture][src*='/large']")
        self.assertEqual(wren.violations(), [])
        for at in (2, 3):
            wren.press(Keys.ARROW_RIGHT)
            wren.see("[data-look-at]", f"{at} of 4")
            wren.until(lambda at=at: ClipOpening.objects.count() == at, "it is noted as opened")
        wren.press(Keys.END)
        wren.see("[data-look-note]", "it cannot be decoded")
        wren.press(Keys.HOME)
        wren.see("[data-look-at]", "1 of 4")
        wren.press(Keys.ESCAPE)
        wren.until(lambda: not wren.all("[data-look-through]"), "it is closed")
        self.assertEqual(ClipOpening.objects.count(), 3, "what nobody could see was not looked at")
        self.assertEqual(wren.console_errors(), [])

    def test_whoever_goes_on_before_a_picture_came_has_opened_neither(self):
        roll = self.offload()
        wren = self.browser("wren")
        wren.go(f"/heron/tally/{roll.tag}")
        wren.until(lambda: roll.files.exclude(seen=None).count() == 4, "all were gone through")
        wren.see("[data-hung] img[src*='/small']")
        lost = Picture.objects.get(kind="large", file__path__endswith="0003.JPG")
        PictureFolder(self.base / "pictures").forget(lost.digest)
        wren.driver.execute_cdp_cmd("Network.enable", {})
        slow = {"offline": False, "latency": 1500, "downloadThroughput": -1, "uploadThroughput": -1}
        wren.tab_to("[data-hung] button")
        wren.press(Keys.ENTER)
        wren.until(lambda: ClipOpening.objects.count() == 1, "the first came up")
        wren.driver.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": True})
        wren.driver.execute_cdp_cmd("Network.emulateNetworkConditions", slow)
        keys = ActionChains(wren.driver)
        keys.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT).perform()
        wren.see("[data-look-at]", "3 of 4")
        time.sleep(4)
        self.assertEqual([one.file.path[-5:] for one in ClipOpening.objects.all()], ["1.JPG"])
