"""A roll is packed, opened on the Bench, and one clip comes back out of its package."""

import shutil
import subprocess

from selenium.webdriver.common.keys import Keys

from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive

from .case import BrowserCase

TWO = "DCIM/100AAAAA/AAAA0002.JPG"


class Packed(BrowserCase):
    reader_rate = 10**9

    def test_a_roll_is_packed_looked_at_and_a_clip_comes_out_of_it(self):
        self.offload()
        sol = self.browser("sol")
        sol.go("/heron/stores")
        sol.tab_to("[data-keep-packages='three']")
        sol.press(Keys.ENTER)
        sol.see("[data-acts='three packages']")
        sol.go("/heron/tally/A001")
        sol.tab_to("[data-copy-to] [role=combobox]")
        sol.press(Keys.ENTER, *"three", Keys.DOWN, Keys.ENTER)
        sol.tab_to("[data-copy-to] button")
        sol.press(Keys.ENTER)
        sol.see("[data-copy='three packages']", "Sealed package")
        package = hub.home() / "drives/three/packages/Heron/2026-05-14/A001.tar"
        listed = subprocess.run(["tar", "-tf", package], capture_output=True, text=True).stdout
        self.assertIn(f"A001/{TWO}", listed)
        self.assertEqual(sol.violations(), [])
        sol.tab_to("[data-open-package='three packages']")
        sol.press(Keys.ENTER)
        sol.see("[data-identity]", "A sealed package, and no card")
        self.assertEqual(sol.violations(), [])
        self.one_clip_comes_back(sol)
        self.assertEqual(sol.console_errors(), [])

    def one_clip_comes_back(self, sol) -> None:
        edit = make_drive(self.base / "edit", identity="edit", capacity=10**9) / "barge"
        shutil.copytree(self.on_drive("one"), edit / "A001")
        (edit / "A001" / TWO).unlink()
        (hub.home() / "unplugged").mkdir(exist_ok=True)
        for store in ("one", "two"):
            (hub.home() / "drives" / store).rename(hub.home() / "unplugged" / store)
        sol.go("/heron/returns")
        sol.tab_to("[data-folder]")
        sol.press(*str(edit), Keys.ENTER)
        sol.see("[data-row=missing]", f"A001/{TWO}")
        sol.tab_to("[data-bring-all]", "Bring back 1 missing file")
        sol.press(Keys.ENTER)
        sol.see("[data-row=missing]", "came back")
        same = subprocess.run(["cmp", self.card_folder / TWO, edit / "A001" / TWO], capture_output=True)
        self.assertEqual(same.returncode, 0)
