"""Looking through a roll: pictures while the drives are away, by keyboard."""

import time

from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from ruggedraft.choosing.models import Mark
from ruggedraft.core.cards.media.timecode import frame_number, timecode
from ruggedraft.intake.models import Insertion
from ruggedraft.pictures.keeping import PictureFolder
from ruggedraft.pictures.models import Picture
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.rolls.models import ClipOpening, Waiver
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import media
from tests.recorder import recorded
from tests.server.world import SHOT

from .case import Browser, BrowserCase

PICTURES = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=30000/1001:d=2")
"""Two seconds at 29.97 frames a second."""


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
        hung = "return document.querySelector('[data-hung]').getBoundingClientRect().height"
        wren.until(lambda: wren.driver.execute_script(hung) > 100, "pictures hang in their full height")
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

    def test_two_people_mark_clips_and_see_each_others_marks_at_once(self):
        roll = self.offload()
        wren, sol = self.browser("wren"), self.browser("sol")
        for one in (wren, sol):
            one.go(f"/heron/tally/{roll.tag}")
            one.see("[data-spot='AAAA0001.JPG']", "first")
            one.tab_to("[data-hung] button")
            one.press(Keys.ENTER)
            one.see("[data-look-at]", "1 of 4")
        wren.press("k")
        sol.see("[data-said]", "keep")
        sol.press("d")
        for one in (wren, sol):
            one.see("[data-contested]", "another drops it")
        self.assertEqual(wren.violations(), [])
        wren.press("m")
        wren.see("[data-trouble]")
        wren.press(Keys.TAB, *"10:00:01:99k", Keys.ENTER)
        wren.see("[data-look-through] [role=alert]", "is no timecode")
        wren.press(Keys.BACKSPACE, Keys.ENTER)
        sol.see("[data-said]", "10:00:01:99")
        wren.press(Keys.ESCAPE)
        wren.see("[data-hung] .said", "keep, drop, out of focus")
        wren.see("[data-spot='AAAA0001.JPG']", "trouble marked")
        wren.tab_to("[data-spots] button", "AAAA0004.JPG")
        wren.press(Keys.ENTER)
        wren.see("[data-look-at]", "4 of 4")
        wren.press(Keys.ARROW_LEFT, "k")
        wren.see("[data-look-at]", "3 of 4")
        wren.until(lambda: Mark.objects.filter(file__path__endswith="0003.JPG", kind="keep").exists(), "marked")
        self.assertEqual(wren.console_errors() + sol.console_errors(), [])

    def test_what_is_chosen_is_backed_up_and_what_was_dropped_is_waived_by_whoever_dropped_it(self):
        RedundancyRule.objects.update(chosen_only=True)
        roll = self.offload()
        wren = self.browser("wren")
        wren.go(f"/heron/tally/{roll.tag}")
        wren.see("[data-spot='AAAA0001.JPG']")
        wren.tab_to("[data-hung] button")
        wren.press(Keys.ENTER)
        wren.see("[data-look-at]", "1 of 4")
        wren.press("k", Keys.ARROW_RIGHT)
        wren.see("[data-look-at]", "2 of 4")
        wren.press("d")
        wren.see("[data-said]", "drop")
        wren.press(Keys.ESCAPE)
        wren.see("[data-choice-counts]", "1 clip kept, 1 dropped")
        wren.tab_to("[data-waive-mine]", "Waive the clip that you dropped")
        wren.press(Keys.ENTER)
        wren.see("[data-choice-counts]", "1 dropped and waived")
        self.assertEqual(Waiver.objects.get().person, self.wren)
        wren.tab_to("[data-copy-to] [role=combobox]")
        wren.press(Keys.ENTER, *"three", Keys.ENTER)
        wren.tab_to("[data-copy-to] button")
        wren.press(Keys.ENTER)
        wren.see("[data-copy='three']", "whole, agrees with the card; read back")
        there = sorted(path.name for path in self.on_drive("three", roll).rglob("*.JPG"))
        self.assertEqual(there, ["AAAA0001.JPG", "AAAA0003.JPG", "AAAA0004.JPG"])
        self.assertEqual(wren.violations() + wren.console_errors(), [])

    def test_a_roll_is_decoded_when_somebody_asks(self):
        whole = media.movie("mov", SHOT, seconds=2.0)
        card_maker.add_file(self.card_folder, "CLIPS/AAAA0009.MOV", whole, SHOT)
        broken = whole[: len(whole) // 2]
        card_maker.add_file(self.card_folder, "CLIPS/AAAA0010.MOV", broken, SHOT)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.until(lambda: not Insertion.objects.filter(removed_at=None).exists(), "the card is out")
        hub.insert("A-01", "slot-1")
        roll = self.offload()
        wren.go(f"/heron/tally/{roll.tag}")
        wren.tab_to("[data-ask-decoding]")
        wren.press(Keys.ENTER)
        wren.see("[data-decoding].trouble", "The decoder complains of 1")
        wren.see("[data-spot='AAAA0010.MOV']", "the decoder complains")
        wren.tab_to("[data-spots] button", "AAAA0010.MOV")
        wren.press(Keys.ENTER)
        wren.see("[data-decoded='breaks']")
        wren.press(Keys.ARROW_LEFT)
        wren.see("[data-decoded='whole']", "frames of it decode")
        sol = self.browser("sol")
        sol.press("c")
        sol.tab_to("[data-sign]", f"Sign {roll.tag}")
        sol.press(Keys.ENTER)
        sol.see("[role=dialog] [data-against]", f"{roll.tag} The decoder complains of 1 clip: AAAA0010.MOV.")
        sol.see("[role=dialog]", f"{roll.tag} lives on these stores alone")
        self.assertEqual(wren.violations() + wren.console_errors() + sol.violations(), [])

    def test_a_recording_is_played_by_timecode_and_marked_where_it_stands(self):
        """Once more than 29.97 frames a second are counted as thirty, numbers are left out at each minute."""
        start, frames_per_s = "10:00:59;25", 30
        self.blank_card()
        card_maker.add_file(
            self.card_folder,
            "CLIPS/AAAA0001.MOV",
            recorded("a.mov", *PICTURES, "-timecode", start, "-c:v", "mjpeg"),
            SHOT,
        )
        card_maker.add_file(self.card_folder, "CLIPS/AAAA0002.WAV", media.wave(SHOT), SHOT)
        hub.insert("A-01", "slot-1")
        self.look_at_everything()
        roll = self.offload()
        wren = self.browser("wren")
        wren.go(f"/heron/tally/{roll.tag}")
        wren.tab_to("[data-hung] button")
        wren.press(Keys.ENTER)
        wren.see("[data-play]")
        self.assertEqual(wren.violations(), [])
        first = frame_number(start, frames_per_s)
        for n in range(1, 9):
            with_shift(wren, Keys.ARROW_RIGHT)
            wren.see("[data-clock]", timecode(first + n, frames_per_s, drop=True))
        with_shift(wren, Keys.ARROW_LEFT)
        wren.see("[data-clock]", "10:01:00;04")
        wren.press(" ")
        wren.see("[data-play-it]", "stop")
        wren.until(lambda: ClipOpening.objects.filter(file__path__endswith="1.MOV").exists(), "it was looked at")
        wren.see("[data-play-it]", "play")
        wren.tab_to("[data-play] [role=slider]")
        wren.press(Keys.HOME)
        wren.see("[data-clock]", start)
        wren.press(Keys.ARROW_RIGHT)
        wren.see("[data-clock]", timecode(first + 1, frames_per_s, drop=True))
        wren.see("[data-look-at]", "1 of 2")
        wren.tab_to("[data-play-it]")
        wren.press("m")
        wren.see("[data-trouble]")
        wren.press(Keys.TAB, Keys.TAB, *"soft", Keys.ENTER)
        wren.see("[data-said]", timecode(first + 1, frames_per_s, drop=True))
        wren.tab_to("[data-play-it]")
        wren.press(Keys.ARROW_RIGHT)
        wren.see("[data-look-at]", "2 of 2")
        wren.see("[data-play]")
        self.assertEqual([one.is_displayed() for one in wren.all("[data-play] video")], [False])
        wren.press(" ")
        wren.until(lambda: ClipOpening.objects.count() == 2, "it was listened to")
        self.assertEqual(wren.violations() + wren.console_errors(), [])

    def test_two_stills_are_compared_pixel_for_pixel_by_keyboard(self):
        roll = self.offload()
        wren = self.browser("wren")
        wren.go(f"/heron/tally/{roll.tag}")
        wren.tab_to("[data-hung] button")
        wren.press(Keys.ENTER)
        wren.see("[data-look-at]", "1 of 4")
        wren.press("b", Keys.ARROW_RIGHT)
        wren.see("[data-held]", "held beside: AAAA0001.JPG")
        wren.press("p")
        wren.until(lambda: len(self.windows(wren)) == 2, "both are seen")
        wren.see("[data-look-through]", "As it was recorded, from a verified copy. Magnified 1 times.")
        self.assertEqual({shown for _, shown in self.windows(wren)}, {(960, 540)})
        self.assertEqual(wren.violations(), [])
        with_shift(wren, Keys.ARROW_RIGHT)
        wren.until(lambda: all("x=0.7000&y=0.5000" in at for at, _ in self.windows(wren)), "both moved")
        wren.press("+")
        wren.see("[data-look-through]", "Magnified 2 times")
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        with_shift(wren, Keys.ARROW_LEFT)
        wren.see("[data-no-pixels]", "Connect a drive with a verified copy")
        wren.press("b", Keys.END, "p")
        wren.see("[data-look-at]", "4 of 4")
        wren.until(lambda: not wren.all("[data-pixels]"), "all of it is shown")
        self.assertEqual(wren.violations(), [])

    def windows(self, browser: Browser) -> list[tuple[str, tuple[int, int]]]:
        """What is asked for, and how many pixels came."""
        shown = [one for one in browser.all("[data-pixels-shown]") if one.get_property("naturalWidth")]
        return [
            (one.get_property("src"), (one.get_property("naturalWidth"), one.get_property("naturalHeight")))
            for one in shown
        ]


def with_shift(browser: Browser, key: str) -> None:
    ActionChains(browser.driver).key_down(Keys.SHIFT).send_keys(key).key_up(Keys.SHIFT).perform()
