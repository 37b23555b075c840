"""A job is divided among discs, a folder is made, and the disc is read when it comes back; by keyboard."""

import shutil
import subprocess

from selenium.webdriver.common.keys import Keys

from ruggedraft.standins.drives import make_drive

from .case import BrowserCase


class Divided(BrowserCase):
    reader_rate = 10**9

    def test_a_job_is_divided_and_a_disc_of_it_is_read_back(self):
        self.offload()
        staging = make_drive(self.base / "staging", identity="staging", capacity=10**11)
        sol = self.browser("sol")
        sol.go("/heron/deliveries")
        sol.tab_to("[data-sets-link]")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-divide] input")
        sol.press(*"A001", Keys.ENTER)
        sol.tab_to("[data-divide-go]")
        sol.press(Keys.ENTER)
        sol.see("[data-set='SET01']", "1 medium, Blu-ray, 25 GB")
        sol.see("[data-volume='SET01-01']", "A001 (4 files)")
        sol.tab_to("[data-open-volume='SET01-01']")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-volume='SET01-01'] [data-folder]")
        sol.press(*str(staging), Keys.ENTER)
        sol.see("[data-closed]", "nothing more goes onto it")
        self.assertEqual(sol.violations(), [])
        made = staging / "SET01-01"
        sol.until(lambda: (made / ".raft-store").is_file(), "the folder is made")
        self.assertIn(b"A001/zero", (made / "INDEX.csv").read_bytes())
        index = sol.fetched("[data-index]").decode("utf-8-sig")
        self.assertEqual(index.count("SET01-01"), 4)
        self.assertTrue(sol.fetched("[data-labels]").startswith(b"%PDF"))
        disc = make_drive(self.base / "disc", identity="disc", capacity=25 * 10**9)
        shutil.copytree(made, disc / "SET01-01")
        done = subprocess.run(["xxhsum", "-c", "A001.xxh128"], cwd=disc / "SET01-01", capture_output=True)
        self.assertNotIn(b"FAILED", done.stdout)
        sol.tab_to("[data-returned] [data-folder]")
        sol.press(*str(disc))
        sol.tab_to("[data-medium-place]")
        sol.press(*"vault, shelf 3", Keys.ENTER)
        sol.see("[data-being-read]")
        sol.go("/heron/tally/A001")
        sol.see("[data-copy='SET01-01']", "read back")
        sol.see("[data-copy='SET01-01']", "vault, shelf 3")
        self.assertEqual(sol.violations() + sol.console_errors(), [])
