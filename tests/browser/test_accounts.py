"""In the browser: the account of a roll and of a day, made, put on paper, and held against the ledger and the disk."""

import csv
import io
import json
import subprocess

from selenium.webdriver.common.keys import Keys

from ruggedraft.core.sources import from_ledger
from ruggedraft.rolls.models import RollFile
from tests.server.test_labels import words_on

from .case import PATIENCE, BrowserCase


class Accounts(BrowserCase):
    reader_rate = 10**9

    def test_the_account_of_a_roll_says_what_the_disk_and_the_ledger_say(self):
        self.offload()
        wren, pip = self.browser("wren"), self.browser("pip", 390, 844)
        wren.go("/heron/tally/A001")
        wren.tab_to("[data-make-account]")
        wren.press(Keys.ENTER)
        wren.see("[data-edition-of='1']", "Wren")
        table = wren.fetched("[data-edition-of='1'] a[href$='csv']").decode("utf-8-sig")
        rows = {row["kept_as"]: row for row in csv.DictReader(io.StringIO(table, newline=""))}
        files = RollFile.objects.filter(roll__tag="A001")
        self.assertEqual(len(rows), files.count())
        folder = self.on_drive("one")
        for name, row in rows.items():
            told = subprocess.run(["xxhsum", "-H2", folder / from_ledger(name)], capture_output=True)
            self.assertIn(row["checksum"].encode(), told.stdout)
            self.assertEqual(int(row["bytes"]), (folder / from_ledger(name)).stat().st_size)
            self.assertEqual((row["held_by"], row["verified_copies"]), ("one; two", "2"))
        wren.tab_to("[data-on-paper]")
        wren.press(Keys.ENTER)
        wren.see("[data-account-paper]", patience=3 * PATIENCE)  # a process of its own has to start for it
        words = words_on(wren.fetched("[data-account-paper]"))
        for checksum in files.values_list("checksum", flat=True):
            self.assertIn(checksum, words)
        wren.see("[data-make-account]").click()
        wren.until(lambda: len(wren.all("[data-edition-of]")) == 1, "the same facts are the same edition")
        self.hold("roll", "A001", "the lab has not called")
        wren.until(lambda: self.made_anew(wren), "another edition")
        told = json.loads(wren.fetched("[data-edition-of='2'] a[href$='json']"))
        self.assertEqual([one["words"] for one in told["account"]["rolls"][0]["holds"]], ["the lab has not called"])
        pip.go("/heron/days/2026-05-14")
        pip.see("[data-make-account]").click()
        told = json.loads(pip.fetched("[data-edition-of='1'] a[href$='json']"))
        self.assertEqual([roll["tag"] for roll in told["account"]["rolls"]], ["A001"])
        size = sum(RollFile.objects.values_list("size", flat=True))
        self.assertEqual(sum(one["size"] for one in told["account"]["rolls"][0]["files"]), size)
        for browser in (wren, pip):
            self.assertEqual(browser.violations(), [])
            self.assertEqual(browser.console_errors(), [])

    def made_anew(self, browser) -> bool:
        """Pressed again until it does something: while the press before is under way, the button does not take one."""
        browser.see("[data-make-account]").click()
        return bool(browser.all("[data-edition-of='2']"))
