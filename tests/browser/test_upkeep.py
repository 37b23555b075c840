"""Afterwards: what is done by itself, as people ask for it and see it come; and copies that are found again."""

import json
import os
import shutil
from datetime import timedelta
from pathlib import Path

from django.db import connection
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.journal.clock import now
from ruggedraft.offloads.models import Feed
from ruggedraft.standins import drives, hub
from ruggedraft.standins.slow_drive import SHEET
from ruggedraft.stores.probe import device_probe

from .case import Browser, BrowserCase


class Afterwards(BrowserCase):
    def offload(self) -> Browser:
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='well']", "both agree with the card.")
        return wren

    def choose(self, page: Browser, css: str, words: str) -> None:
        page.see(f"{css} [role='combobox']").click()
        page.see("[role='option']", words).click()

    def copy_of(self, store: str) -> Path:
        return self.on_drive(store)

    def test_an_order_is_given_and_what_is_verified_is_brought_by_itself(self):
        wren, sol = self.offload(), self.browser("sol")
        sol.go("/stores")
        sol.see("[data-orders]", "Nothing is brought anywhere by itself.")
        sol.tab_to("[data-give-order]")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-order-to] [role='combobox']")
        sol.press("three", Keys.ENTER)
        self.assertEqual(sol.violations(), [])
        sol.tab_to("[data-order-go]", "Give this order")
        sol.press(Keys.ENTER)
        sol.see("[data-order='three']", "Whatever is verified goes to three")
        sol.see("[data-behind='three']", "nothing is behind")
        wren.go("/tally/A001")
        wren.see("[data-copy='three']", "read back")
        self.assertEqual(
            sorted(one.name for one in self.copy_of("three").rglob("*") if one.is_file()),
            sorted(one.name for one in self.copy_of("one").rglob("*") if one.is_file()),
        )
        wren.go("/stores")
        self.assertTrue(wren.off(wren.see("[data-withdraw='three']")))
        sol.see("[data-withdraw='three']").click()
        sol.see("[data-orders]", "Nothing is brought anywhere by itself.")
        self.assertEqual(sol.console_errors() + wren.console_errors(), [])

    def test_what_waits_for_its_hours_is_told_on_the_tally(self):
        wren, sol = self.offload(), self.browser("sol")
        sol.go("/stores")
        sol.see("[data-give-order]").click()
        self.choose(sol, "[data-order-to]", "three")
        self.choose(sol, "[data-when]", "between")
        hour = (now().hour + 2) % 24
        for css, words in (("[data-from]", f"{hour:02}:00"), ("[data-until]", f"{hour:02}:30")):
            field = sol.see(css)
            field.send_keys(Keys.CONTROL, "a")
            field.send_keys(words)
        self.assertEqual(sol.violations(), [])
        sol.see("[data-order-go]").click()
        sol.see("[data-behind='three']", f"1 roll, 603 kB behind: it waits until {hour:02}:00")
        wren.go("/tally")
        wren.see("[data-behind-line]", f"to three 1 roll, 603 kB behind: it waits until {hour:02}:00")
        self.assertEqual(wren.violations(), [])

    def test_rot_is_found_by_reading_again_and_mended(self):
        wren, sol = self.offload(), self.browser("sol")
        broken = self.copy_of("one") / "DCIM/100AAAAA/AAAA0002.JPG"
        right, times = broken.read_bytes(), broken.stat()
        broken.write_bytes(right[:100] + b"\x00" + right[101:])
        os.utime(broken, ns=(times.st_atime_ns, times.st_mtime_ns))
        with connection.cursor() as cursor:  # time passes
            cursor.execute("UPDATE rolls_reading SET began_at = began_at - %s", [timedelta(days=9)])
        sol.go("/stores")
        sol.see("[data-care='one']", "was read back in the last 30 days")
        sol.see("[data-change-care='one']").click()
        sol.see("[data-reads] input").click()
        sol.see("[data-mends] input").click()
        self.assertEqual(sol.violations(), [])
        sol.see("[data-care-go]").click()
        sol.see("[data-care='one']", "Copies are read again every 7 days, and mended by themselves.")
        sol.go("/log")
        sol.see("ol li", "A001 on 'one' was read again: 3 files agree, 1 does not.")
        sol.see("ol li", "A001 on 'one': 4 files brought from 'two' and read back, all agree.")
        self.assertEqual(broken.read_bytes(), right)
        wren.go("/tally/A001")
        wren.see("[data-copy='one']", "read back")
        self.assertEqual(sol.console_errors() + wren.console_errors(), [])

    def test_a_drive_with_a_renamed_roll_is_adopted_by_keyboard(self):
        wren = self.offload()
        shutil.copytree(self.on_drive("one"), hub.home() / "drives/three/from the van/first")
        (hub.home() / "drives/three/papers").mkdir()
        (hub.home() / "drives/three/papers/budget").write_bytes(b"12345")
        wren.go("/stores")
        wren.tab_to("[data-show-found='three']")
        wren.press(Keys.ENTER)
        wren.see("[data-found='three'] [data-search]", "Nobody had it looked through yet.")
        wren.tab_to("[data-search-store='three']")
        wren.press(Keys.ENTER)
        wren.see("[data-found='three'] [data-found-roll='A001']", "4 files of 4 in from the van/first.")
        wren.see("[data-found='three'] [data-stranger]", "papers: 1 file, 5 B that belong to no roll")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-adopt='A001']", "Adopt it, and read it")
        wren.press(Keys.ENTER)
        wren.see("[data-found='three'] [data-found-roll='A001']", "This is the copy in the ledger.")
        wren.go("/tally/A001")
        wren.see("[data-copy='three']", "read back")
        self.assertEqual(wren.console_errors(), [])

    def test_two_stores_are_compared_and_what_is_missing_is_brought(self):
        wren = self.offload()
        (self.on_drive("one") / "zero.xmp").write_bytes(b"<x/>")
        wren.go("/stores")
        wren.tab_to("[data-left] [role='combobox']")
        wren.press("one", Keys.ENTER)
        self.choose(wren, "[data-right]", "three")
        wren.tab_to("[data-compare-go]", "Compare them")
        wren.press(Keys.ENTER)
        wren.see("[data-compared]", "5 files, 603 kB on the one side, 0 files, 0 B on the other.")
        wren.see("[data-kind='missing']", "5 files missing, 603 kB")
        wren.see("[data-no-roll]", "1 of the missing belongs to no roll: it stays.")
        wren.see("[data-difference]", "zero.xmp")
        self.assertEqual(len(wren.driver.find_elements(By.CSS_SELECTOR, "[data-difference]")), 5)
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-fill]", "Bring three what it lacks of rolls")
        wren.press(Keys.ENTER)
        wren.until(lambda: Feed.objects.filter(end="well").exists(), "it was brought")
        (self.on_drive("one") / "zero.xmp").unlink()
        wren.see("[data-compare-go]").click()
        wren.see("[data-compared]", "Both sides are identical, by names and sizes: 4 files, 603 kB each.")
        still = self.on_drive("three") / "DCIM/100AAAAA/AAAA0002.JPG"
        facts, data = still.stat(), still.read_bytes()
        still.write_bytes(data[:-1] + bytes([data[-1] ^ 1]))
        os.utime(still, ns=(facts.st_atime_ns, facts.st_mtime_ns))
        wren.tab_to("[data-by-content] input")
        wren.press(Keys.SPACE)
        wren.tab_to("[data-compare-go]", "Compare them")
        wren.press(Keys.ENTER)
        wren.see("[data-kind='different']", "1 file different")
        wren.see("[data-compared]", "by content.")
        wren.see("[data-difference]", "AAAA0002.JPG")
        wren.see("[data-doubted]", "The 2 copies with it are being read again, so that the ledger knows it too.")
        self.assertEqual(wren.violations(), [])
        self.assertEqual(wren.console_errors(), [])

    def test_a_store_that_fills_is_told_where_people_decide(self):
        wren, sol = self.offload(), self.browser("sol")
        sheet = hub.home() / "drives/one" / SHEET
        facts = json.loads(sheet.read_text())
        used = facts["capacity"] - device_probe().room(sheet.parent).free
        sheet.write_text(json.dumps(facts | {"capacity": used + 900_000}))
        wren.go("/stores")
        wren.see("[data-foreseen='one']", "full about")
        wren.see("[data-store='one']", "in 8 of 10 cases")
        wren.go("/tally")
        wren.see("[data-soon-full='one']", "full about")
        sol.go("/setup")
        sol.see("[data-plan-sheet] [data-soon-full='one']", "full about")
        self.assertEqual(sol.driver.find_elements(By.CSS_SELECTOR, "[data-plan-sheet] [data-soon-full='three']"), [])
        self.assertEqual(sol.violations() + wren.violations(), [])
        drives.fill(hub.home(), "one", full=True)
        wren.see("[data-soon-full='one']", "has no room for a roll such as the last ones")
        self.assertEqual(sol.console_errors() + wren.console_errors(), [])

    def test_a_store_goes_out_of_service_and_in_again(self):
        self.offload()
        sol = self.browser("sol")
        sol.go("/stores")
        row = "[data-store='two']"
        sol.tab_to(f"{row} [data-say='retire']")
        sol.press(Keys.ENTER)
        sol.see(f"{row} [data-said='retire']").send_keys("its fan is loud")
        sol.see(f"{row} [data-go='retire']").click()
        sol.see(row, "out of service")
        sol.go("/clearing")
        sol.see("[data-card='A-01']", "1 of 2 copies")
        sol.go("/stores")
        sol.see(f"{row} [data-use-again]").click()
        sol.see(f"{row} [data-change-store]").click()
        field = sol.see(f"{row} [data-new-name]")
        field.clear()
        field.send_keys("Cart two")
        self.assertEqual(sol.violations(), [])
        sol.see(f"{row} [data-change-go]").click()
        sol.see("[data-store='Cart two']", "free of")
        self.assertEqual(sol.console_errors(), [])
