"""In the browser: a delivery by link, opened by somebody who has nothing else, fetched in halves, received, revoked."""

import shutil
import subprocess
import tempfile
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PIL import Image
from selenium.webdriver.common.keys import Keys

from ruggedraft.rolls.models import RollFile

from .case import Browser, BrowserCase

_HAS_PICTURE = "return document.querySelector('header img.emblem')?.naturalWidth > 0"
TWO = "DCIM/100AAAAA/AAAA0002.JPG"


class ByLink(BrowserCase):
    reader_rate = 10**9

    def stranger(self, width: int = 390, height: int = 844) -> Browser:
        """Somebody who is not signed in anywhere."""
        browser = Browser(f"http://127.0.0.1:{self.port}", width, height)
        self.addCleanup(browser.close)
        return browser

    def curl(self, *words: object, into: Path) -> int:
        done = subprocess.run(["curl", "-sS", "--fail", *map(str, words)], cwd=into, capture_output=True)
        return done.returncode

    def test_a_client_fetches_it_in_two_halves_and_then_the_link_is_revoked(self):
        self.offload()
        self.hold("roll", "A001", "until the client has it", ends="delivered")
        wren, client = self.browser("wren"), self.stranger()
        wren.go("/heron/tally/A001")
        wren.tab_to("[data-deliver-roll]")
        wren.press(Keys.ENTER)
        wren.see("[data-to]").send_keys("Broadcaster")
        wren.press(Keys.ENTER)
        address = wren.see("[data-address] code").text
        wren.see("[data-delivery='Broadcaster'] [data-link]", "opens until")
        self.assertEqual(wren.violations(), [])
        self.show_emblem(wren)
        client.driver.get(address)
        client.see("h1", "Heron")
        client.until(lambda: client.driver.execute_script(_HAS_PICTURE), "the page shows the production's picture")
        client.see("[data-roll='A001']", "4 files")
        self.assertEqual(client.violations(), [])
        self.assertLessEqual(client.driver.execute_script("return document.body.scrollWidth"), 390)
        home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.fetch_in_two_halves(client, home)
        wren.see("[data-delivery='Broadcaster'] [data-went-out]", "1 of 4")
        self.fetch_all_at_once(client)
        wren.see("[data-delivery='Broadcaster'] [data-went-out]", "4 of 4")
        client.driver.find_element("name", "name").send_keys("Nell Ferry")
        client.driver.find_element("name", "checked").click()
        client.driver.find_element("css selector", "form button").click()
        client.see(".said", "Nell Ferry said")
        wren.see("[data-receipt]", "Nell Ferry has it and compared the checksums")
        wren.go("/heron/tally/A001")
        wren.see("[data-delivered]", "Broadcaster")
        wren.go("/heron/deliveries")
        wren.see("[data-withdraw]").click()
        wren.see("[data-withdrawn]")
        client.driver.get(address)
        client.see("h1", "There is nothing here")
        self.assertNotEqual(self.curl("-O", f"{address}files/A001/{TWO}", into=home), 0)
        client.driver.get(f"http://127.0.0.1:{self.port}/heron/tally")
        client.see("[type='password']")
        self.assertEqual(wren.console_errors(), [])

    def show_emblem(self, wren: Browser) -> None:
        with tempfile.NamedTemporaryFile(suffix=".png") as file:
            Image.new("RGBA", (600, 200), (10, 90, 70, 255)).save(file, "PNG")
            file.flush()
            wren.see("[data-emblem-file]").send_keys(file.name)
            wren.see("[data-emblem] .shown img")
        self.assertEqual(wren.violations(), [])

    def fetch_all_at_once(self, client: Browser) -> None:
        """Many at a time, each of whom reads for a while, and the ledger answers others meanwhile."""
        links = [one.get_attribute("href") for one in client.all("[data-file]")]
        with ThreadPoolExecutor(60) as many:
            fetched = many.map(urllib.request.urlopen, links * 30)  # of our own page
            sizes = [len(one.read()) for one in fetched]
        self.assertEqual(sum(sizes), 30 * sum(RollFile.objects.values_list("size", flat=True)))

    def fetch_in_two_halves(self, client: Browser, home: Path) -> None:
        link = client.see(f"a[href$='{TWO}']").get_attribute("href")
        place = home / "A001" / TWO
        place.parent.mkdir(parents=True)
        self.assertEqual(self.curl("-r", "0-299999", "-o", place, link, into=home), 0)
        self.assertEqual(place.stat().st_size, 300_000)
        self.assertEqual(self.curl("-C", "-", "-o", place, link, into=home), 0)
        self.assertEqual(place.stat().st_size, RollFile.objects.get(path=TWO).size)
        listed = client.see("a[href$='/checksums']").get_attribute("href")
        self.assertEqual(self.curl("-o", "list", listed, into=home), 0)
        lines = (home / "list").read_bytes().splitlines(keepends=True)
        mine = [line for line in lines if line.rstrip().endswith(TWO.encode())]
        (home / "mine").write_bytes(b"".join(mine))
        self.assertEqual(len(mine), 1)
        subprocess.run([shutil.which("xxhsum") or "xxhsum", "-c", "mine"], cwd=home, check=True, capture_output=True)
