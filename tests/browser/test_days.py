"""The day's account in the browser: handed over, later facts marked, its paper held against the ledger and the disk."""

from selenium.webdriver.common.keys import Keys

from ruggedraft.days.models import FrozenDay
from ruggedraft.rolls.models import RollFile
from tests.server.test_labels import words_on

from .case import BrowserCase


class TheDay(BrowserCase):
    reader_rate = 10**9

    def test_a_day_is_handed_over_and_what_comes_later_is_marked(self):
        self.offload()
        wren, sol = self.browser("wren"), self.browser("sol", 390, 844)
        wren.go("/heron/handover")
        wren.tab_to("[data-hand-over]")
        wren.press(Keys.ENTER)
        wren.see("main", "Wren handed over")
        wren.press("l")
        wren.tab_to("[data-days-link]")
        wren.press(Keys.ENTER)
        wren.see("[data-which]", "As things are now")
        wren.tab_to("[data-day='2026-05-14']")
        wren.press(Keys.ENTER)
        wren.see("[data-day-roll='A001'][data-state='safe']", "safe")
        size = sum(RollFile.objects.values_list("size", flat=True))
        self.assertEqual(size, self.on_disk("one"))
        self.assertEqual(size, self.on_disk("two"))
        self.assertIn(f"{size:,} bytes", self.titles(wren))
        paper = " ".join(words_on(wren.fetched("[data-paper='pdf']")).split())
        self.assertIn("Heron, day 1, 2026-05-14", paper)
        self.assertIn("2 verified: one, two", paper)
        self.assertIn(f"{size / 1e3:.0f} kB", paper)
        today = FrozenDay.objects.latest("pk").day.isoformat()
        self.sign()
        sol.go(f"/heron/days/{today}")
        sol.see("[data-happened='cleared'] [data-later]")
        sol.see("[data-edition]").click()
        sol.see("[role='option']", "Handed over by Wren").click()
        sol.see("[data-which]", "As it was when Wren handed over")
        sol.see("[data-happened='cleared']", "No card was cleared on this day.")
        for browser in (wren, sol):
            self.assertEqual(browser.violations(), [])
            self.assertEqual(browser.console_errors(), [])

    def on_disk(self, store: str) -> int:
        return sum(one.stat().st_size for one in self.on_drive(store).rglob("*") if one.is_file())

    @staticmethod
    def titles(browser) -> str:
        return " ".join(one.get_dom_attribute("title") or "" for one in browser.all("[data-day-roll] [title]"))
