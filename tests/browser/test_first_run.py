"""From an empty ledger to a card that is clear, on real file systems, with every act of the person counted."""

import time
from unittest import skipUnless

from django.conf import settings
from django.core.management import call_command
from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance
from ruggedraft.crew.models import Person
from ruggedraft.productions.models import Production
from ruggedraft.standins import card_maker
from ruggedraft.stores.models import Store
from tests.server.machine import Machine, can_pretend
from tests.server.world import SHOT

from .case import Browser, BrowserCase

TOKEN = "told-in-the-terminal"
MOST_ACTS = 25


class CountedBrowser(Browser):
    """Counts what a hand does: a field that is written, a key that is pressed, a thing that is clicked."""

    def __init__(self, address: str) -> None:
        super().__init__(address)
        self.acts = 0

    def write(self, css: str, words: str) -> None:
        self.acts += 1
        field = self.see(css)
        field.clear()
        field.send_keys(words)

    def click(self, css: str, words: str = "") -> None:
        self.acts += 1
        self.see(css, words).click()

    def key(self, key: str) -> None:
        self.acts += 1
        self.press(key)


@skipUnless(can_pretend(), "needs root, loop devices and namespaces")
class FirstRun(BrowserCase):
    def setUp(self):
        self.machine: Machine | None = None
        super().setUp()

    def fill_card(self) -> None:
        """In place of the small world of the other tests: nothing, and a machine with drives."""
        call_command("flush", interactive=False, verbosity=0)
        self.before_the_station.clear()
        self.machine = Machine(self.base)
        self.addCleanup(self.machine.end)
        self.drives = {
            "Shuttle": self.machine.disk("Shuttle", "ext4", 64, serial="SHUTTLE-1"),
            "Brick": self.machine.disk("Brick", "xfs", 320, serial="BRICK-7"),
        }
        self.locked = self.machine.disk("Locked", "ext4", 16, serial="LOCKED-3")
        for drive in self.drives.values():
            drive.mount()
        self.locked.mount(None, "-o", "ro")
        self.new_one = self.machine.disk("Card", "exfat", 64, serial="READER-1")
        self.fill_new_card()
        self.apart = self.machine.inside(settings.ROOT)
        self.more_env = {"RAFT_BEGIN_TOKEN": TOKEN, "RAFT_TESTING": "", "RAFT_STANDINS": "",
                         "RAFT_MOUNT_CARDS": "1"}  # fmt: skip

    def test_from_an_empty_ledger_to_a_clear_card(self):
        wren = CountedBrowser(f"http://127.0.0.1:{self.port}")
        self.addCleanup(wren.close)
        wren.go("/")
        wren.see("[data-not-begun]", "Nobody has begun")
        wren.go("/begin#something-else")
        wren.see("[data-said-no]", "Only whoever started it")
        self.assertTrue(wren.console_errors(), "it was refused, and says so")
        began = time.monotonic()
        wren.driver.get(f"{wren.address}/begin?again#{TOKEN}")
        wren.acts += 1
        wren.write("[data-name]", "Wren")
        wren.write("[data-password]", "a raft of nine planks")
        wren.write("[data-production-name]", "Heron")
        for name in self.drives:
            wren.click(f"[data-volume$='/{name}'] .ticked")
        wren.see("[data-volume$='/Locked'] [data-against]", "read-only")
        self.assertEqual(wren.violations(), [])
        wren.see("[data-rule]", "2 copies on 2 devices, each read back")
        wren.click("[data-begin]")
        wren.see(".empty", "Put a card into a reader")
        self.new_one.put_into_reader()
        wren.acts += 1
        wren.see("[data-slot]", "WHOSE?")
        wren.write("form input[maxlength='40']", "A-01")
        wren.click("[data-introduce-camera] [role='combobox'], [data-introduce-camera]")
        wren.click("[role='option']", "A: Camera A")
        wren.click("[data-introduce]")
        wren.see("[data-next]", "Offload A001")
        wren.key("o")
        wren.see("[data-outcome='well']", "both agree with the card")
        wren.see("[data-next]", "On to Clearing")
        wren.key("o")
        wren.click("[data-sign]")
        wren.write("[data-type-tag]", "A001")
        wren.key(Keys.ENTER)
        wren.see("[data-card='A-01'][data-standing='cleared']", "CLEAR")
        self.assertLessEqual(wren.acts, MOST_ACTS)
        self.assertLess(time.monotonic() - began, 600)
        self.assertEqual(Clearance.objects.get().roll.tag, "A001")
        self.assertEqual(wren.console_errors(), [])
        self.a_second_beginning_is_refused(wren)
        self.a_drive_is_found_elsewhere(wren)
        self.a_magazine_that_passes_for_a_disk_is_a_card(wren)
        self.assertEqual([one for one in self.mounted_cards() if " ro,nosuid,nodev" not in one], [], "read-only")

    def fill_new_card(self) -> None:
        place = self.new_one.mount()
        made = self.base / "made"
        made.mkdir()
        card_maker.add_stills(made, prefix="HERN", first=1, count=3, start=SHOT)
        self.machine.run("cp", "-r", "--preserve=timestamps", *map(str, made.iterdir()), str(place))
        self.new_one.unmount()

    def a_second_beginning_is_refused(self, wren: Browser) -> None:
        wren.driver.get(f"{wren.address}/begin?twice#{TOKEN}")
        wren.see("[data-name]").send_keys("Somebody")
        wren.see("[data-password]").send_keys("a raft of nine planks")
        wren.see("[data-production-name]").send_keys("Bittern")
        wren.see("[data-begin]").click()
        wren.see("[data-said-no]", "was begun already")
        self.assertEqual((Person.objects.count(), Production.objects.count(), Store.objects.count()), (1, 1, 2))

    def a_drive_is_found_elsewhere(self, wren: Browser) -> None:
        """Under another mount point it is the same drive; a mark that was copied to another one is not."""
        shuttle = self.drives["Shuttle"]
        marker = self.machine.run("cat", str(shuttle.place / ".raft-store"))
        shuttle.unmount()
        wren.go("/setup")
        wren.click("[data-part='drives'] .part-head")
        wren.see("[data-store-row='Shuttle']", "not connected")
        self.machine.run("mount", "-o", "remount,rw", str(self.locked.place))
        self.machine.run("sh", "-c", f"printf {marker} > '{self.locked.place}/.raft-store'")
        time.sleep(3)
        self.assertIn("not connected", wren.see("[data-store-row='Shuttle']").text)
        shuttle.mount(shuttle.place.with_name("somewhere else"))
        wren.see("[data-store-row='Shuttle']", "somewhere else")
        wren.see("[data-store-row='Shuttle']", "free of")

    def a_magazine_that_passes_for_a_disk_is_a_card(self, wren: Browser) -> None:
        """As CFexpress readers and magazines do: nobody but a person knows."""
        magazine = self.machine.disk("Magazine", "ext4", 16, serial="MAG-1")
        place = magazine.mount()
        wren.see(f"[data-card-at='{place}']", "It is a card").click()
        wren.see(f"[data-volume='{place}']", "hangs on the Bench")
        wren.go("/")
        wren.until(
            lambda: len(wren.driver.find_elements("css selector", "[data-slot]")) == 2, "it hangs beside the card"
        )
        wren.see("[data-slot]", "WHOSE?")

    def mounted_cards(self) -> list[str]:
        """Lines of the mount table of what the station has mounted."""
        return [one for one in self.machine.run("cat", "/proc/self/mountinfo").splitlines() if "/cards/" in one]
