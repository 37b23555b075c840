"""Cards that are put in, looked at and taken out again: one held in part, one whose camera's clock is wrong."""

from datetime import timedelta

from selenium.webdriver.common.keys import Keys

from ruggedraft.offloads.models import Offload
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import traps
from tests.server.world import SHOT

from .case import BrowserCase

YEARS_AHEAD = 1826


class LookingAtACard(BrowserCase):
    def test_a_half_held_card_is_put_in_looked_at_and_taken_out(self):
        self.blank_card()
        card_maker.add_stills(self.card_folder, prefix="SKR_", first=1, count=3, start=SHOT)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']", "empty")
        hub.insert("A-01", "slot-1")
        wren.see("[data-contents]", "3 stills")
        self.offload()
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")
        card_maker.add_stills(self.card_folder, prefix="SKR_", first=4, count=2, start=SHOT + timedelta(hours=1))
        card_maker.add_file(self.card_folder, "DCIM/100SKERR/SKR_0001.JPG", b"not the picture it was", SHOT)
        hub.insert("A-01", "slot-1")
        wren.see("[data-held]", "5 files already held, 5 not")
        for holding, count in (("held", "2 already held"), ("new", "2 new"), ("changed", "1 changed")):
            wren.see(f"[data-pick='{holding}']", count)
        wren.see("[data-clip='SKR_0004'] img")
        self.assertEqual(self.shown(wren), ["changed", "held", "held", "new", "new"])
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-pick='new']")
        wren.press(Keys.ENTER)
        self.assertEqual(self.shown(wren), ["new", "new"])
        wren.press(Keys.ENTER)
        wren.tab_to("[data-sheet]")
        wren.press(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        wren.see(".one", "DCIM/100SKERR/SKR_0002")
        wren.see("[data-turn]", "as a list").click()
        wren.see("[role=row], tr, [data-list]", "SKR_0005")
        self.assertEqual(wren.violations(), [])
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")
        wren.until(lambda: not wren.driver.find_elements("css selector", "[data-clip]"), "its clips left the screen")
        self.assertEqual(wren.console_errors(), [])

    def shown(self, browser) -> list[str]:
        return browser.driver.execute_script(
            "return [...document.querySelectorAll('[data-clip]')]"
            ".sort((a, b) => a.dataset.clip.localeCompare(b.dataset.clip)).map(clip => clip.dataset.holding)"
        )

    def test_a_wrong_clock_is_named_put_right_and_the_files_stay_as_they_are(self):
        self.blank_card()
        wrong = SHOT + timedelta(days=YEARS_AHEAD)
        card_maker.add_stills(self.card_folder, prefix="SKR_", first=9998, count=4, start=wrong)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']", "empty")
        hub.insert("A-01", "slot-1")
        wren.see("[data-finding='future']", "4 clips dated in the future, up to 2031-05-14")
        wren.see("[data-finding='wrapped counter']", "SKR_0001 is the first after it")
        self.assertEqual(len(wren.driver.find_elements("css selector", ".flag[d*='h11']")), 4)
        self.assertEqual(wren.violations(), [])
        times = {file: file.stat().st_mtime_ns for file in self.card_folder.rglob("*.DNG")}
        wren.tab_to("[data-showed]")
        wren.press(*"20310514090000")
        wren.tab_to("[data-was]").send_keys(Keys.CONTROL + "a")
        wren.press(*"20260514090000")
        wren.see("[data-ahead]", f"It is {YEARS_AHEAD:,} d ahead.")
        wren.see("[data-ahead]", "This moves the times shown of A-01; the files stay as they are.")
        wren.see("[data-ahead]", "A-01 from 2031-05-14 to 2026-05-14")
        wren.press(Keys.ENTER)
        wren.see("section, main", "Times are shown with camera A\u2019s clock put right.")
        wren.until(lambda: not wren.driver.find_elements("css selector", "[data-finding='future']"), "no finding")
        wren.see(".ribbon", "2026-05-14")
        wren.see("main", "Heron/2026-05-14/A001")
        self.assertEqual({file: file.stat().st_mtime_ns for file in times}, times)
        self.assertEqual(Offload.objects.count(), 0)
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")

    def test_a_reader_that_shows_a_folder_inside_a_card_reads_the_whole_one_on_request(self):
        self.blank_card()
        card_maker.add_m4root(self.card_folder, count=1, start=SHOT)
        (hub.hub() / "slot-2").symlink_to(self.card_folder / "PRIVATE" / "M4ROOT" / "CLIP")
        wren = self.browser("wren")
        wren.see("[data-slot='slot 2']", "A-01")
        wren.tab_to("[data-next]", "Read the whole card")
        wren.press(Keys.ENTER)
        wren.see("[data-next]", "Offload A001")
        wren.see("[data-contents]", "Layout: M4ROOT")

    def test_a_card_of_thousands_of_pictures_draws_only_what_is_on_the_screen(self):
        self.blank_card()
        traps.add_many_stills(self.card_folder, count=3000, start=SHOT)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']", "empty")
        hub.insert("A-01", "slot-1")
        wren.see("[data-contents]", "3,000 stills")
        wren.see("[data-clip='SKR_0001'] img")
        drawn = "return document.querySelectorAll('[data-clip]').length"
        self.assertLess(wren.driver.execute_script(drawn), 120)
        wren.tab_to("[data-sheet]")
        wren.press(Keys.END)
        wren.see("[data-clip='SKR_3000']")
        self.assertLess(wren.driver.execute_script(drawn), 120)


class Strangers(BrowserCase):
    def test_an_unknown_card_is_said_to_be_none_of_ours_and_may_be_after_all(self):
        stranger, _ = self.new_card("X-01", {"f": b"somebody else's"})
        stranger.serials.all().delete()
        stranger.delete()
        wren = self.browser("wren")
        hub.insert("X-01", "slot-2")
        wren.see("[data-slot='slot 2']", "WHOSE?").click()
        wren.see("[data-part='waiting']", "unknown in slot 2")
        wren.tab_to("[data-not-ours]")
        wren.press(Keys.ENTER)
        wren.see("[data-said-not-ours]", "This card is not ours, says Wren.")
        wren.see("[data-slot='slot 2'] [data-verdict]", "NOT OURS")
        wren.until(lambda: "unknown" not in wren.see("[data-part='waiting']").text, "nobody waits for it")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-ours-after-all]")
        wren.press(Keys.ENTER)
        wren.see("[data-identity]")
        wren.see("[data-part='waiting']", "unknown in slot 2")
        self.assertEqual(wren.console_errors(), [])
