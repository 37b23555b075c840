"""In the browser: signing waits for a look, a card that left its reader is out, files gone from a card are news."""

import shutil

from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance
from ruggedraft.intake.models import GoneAnswer
from ruggedraft.standins import card_maker, hub

from .case import BrowserCase


class Verdicts(BrowserCase):
    def test_signing_looks_first_and_a_card_that_left_its_reader_is_out(self):
        wren = self.browser("wren")
        wren.tab_to("[data-next]", "Offload A001")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome='well']", "both agree with the card")
        wren.go("/clearing")
        wren.tab_to("[data-card='A-01'] [data-sign]")
        wren.press(Keys.ENTER)
        wren.see("[data-type-tag]")
        shutil.move(self.on_drive("two"), self.base / "away")
        wren.press("a001", Keys.ENTER)
        wren.see("[role=alert]", "1 of 2 copies that count")
        self.assertEqual(Clearance.objects.count(), 0)
        self.assertEqual(wren.violations(), [])
        wren.press(Keys.ESCAPE)
        wren.see("[data-card='A-01'] .verdict", "NOT CLEAR")
        shutil.move(self.base / "away", self.on_drive("two"))
        wren.go("/tally/A001")
        wren.tab_to("[data-copy='two'] button", "Check two")
        wren.press(Keys.ENTER)
        wren.see("[data-copy='two']", "whole, agrees with the card")
        wren.go("/clearing")
        wren.tab_to("[data-card='A-01'] [data-sign]")
        wren.press(Keys.ENTER)
        wren.see("[data-type-tag]")
        wren.press("a001", Keys.ENTER)
        wren.see("[data-card='A-01'] .verdict", "CLEAR")
        wren.see("[data-card='A-01'] [data-since]", "copies looked at just now")
        hub.remove("slot-1")
        wren.see("[data-card='A-01'] .verdict", "OUT")
        self.assertEqual(wren.console_errors(), [])

    def test_the_remedy_is_a_button_and_what_it_does_is_seen_until_the_card_may_be_signed(self):
        wren = self.browser("wren")
        wren.go("/clearing")
        wren.tab_to("[data-group='needs work'] [data-to-bench]", "Offload A-01 on the Bench")
        wren.press(Keys.ENTER)
        wren.tab_to("[data-next]", "Offload A001")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome='well']", "both agree with the card")
        file = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        file.unlink()
        wren.go("/tally/A001")
        wren.tab_to("[data-copy='two'] button", "Check two")
        wren.press(Keys.ENTER)
        wren.see("[data-fault]", "DCIM/100AAAAA/AAAA0001.JPG")
        wren.go("/clearing")
        wren.see("[data-group='needs work'] [data-card='A-01'] .verdict", "NOT CLEAR")
        wren.tab_to("[data-card='A-01'] [data-step='mend']", "Mend A001 on two")
        wren.press(Keys.ENTER)
        wren.see("[data-group='sign now'] [data-card='A-01'] .verdict", "SIGN?")
        self.assertTrue(file.is_file())
        self.assertEqual(wren.violations(), [])
        self.assertEqual(wren.console_errors(), [])

    def test_files_gone_from_a_card_are_named_until_somebody_answers(self):
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']", "not offloaded")
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")
        card_maker.format_card(self.card_folder)
        hub.insert("A-01", "slot-1")
        wren.see("[data-slot='slot 1']", "files gone")
        wren.see("[data-gone]", "DCIM/100AAAAA/AAAA0001.JPG")
        wren.see("[data-part='waiting']", "A-01")
        wren.go("/clearing")
        wren.see("[data-card='A-01'] .verdict", "FILES GONE")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-gone-reason]")
        wren.press("camera tests", Keys.ENTER)
        wren.see("[data-card='A-01'] .verdict", "EMPTY")
        self.assertEqual(GoneAnswer.objects.get().reason, "camera tests")
        self.assertEqual(wren.console_errors(), [])

    def test_tabs_of_one_browser_share_one_connection_and_the_next_takes_over(self):
        wren = self.browser("wren")
        first = wren.driver.current_window_handle
        wren.see("[data-slot='slot 1']", "not offloaded")
        wren.driver.switch_to.new_window("tab")
        wren.go("/clearing")
        wren.see("[data-card='A-01']", "in slot 1 now")
        wren.until(lambda: self.locks(wren) == {"held": 1, "pending": 1}, "one of two listens")
        hub.remove("slot-1")
        wren.until(lambda: "slot 1" not in wren.see("[data-card='A-01']").text, "it was taken out")
        second = wren.driver.current_window_handle
        wren.driver.switch_to.window(first)
        wren.see("[data-slot='slot 1']", "empty")
        wren.until(lambda: self.listens(wren), "the tab that is looked at listens itself")
        wren.until(lambda: self.locks(wren) == {"held": 1, "pending": 1}, "and still only one does")
        wren.driver.close()
        wren.driver.switch_to.window(second)
        wren.until(lambda: self.locks(wren) == {"held": 1, "pending": 0}, "this tab listens now")
        hub.insert("A-01", "slot-1")
        wren.see("[data-card='A-01']", "in slot 1 now")
        self.assertEqual(wren.console_errors(), [])

    @staticmethod
    def listens(browser) -> bool:
        """Whether this very tab holds the lock."""
        asked = (
            "const done = arguments[0]; navigator.locks.request('me', async (lock) => {"
            " const all = await navigator.locks.query();"
            " const me = all.held.find((one) => one.name === 'me').clientId;"
            " done(all.held.some((one) => one.name === 'raft-live' && one.clientId === me)) })"
        )
        return browser.driver.execute_async_script(asked)

    @staticmethod
    def locks(browser) -> dict[str, int]:
        asked = "const done = arguments[0]; navigator.locks.query().then((all) => done(all))"
        found = browser.driver.execute_async_script(asked)
        return {
            kind: len([lock for lock in found[kind] if lock["name"] == "raft-live"]) for kind in ("held", "pending")
        }
