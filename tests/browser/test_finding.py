"""Finding a clip from anywhere, while every drive is away."""

from selenium.webdriver.common.keys import Keys

from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import media
from tests.server.world import SHOT

from .case import BrowserCase


class Finding(BrowserCase):
    def fill_card(self) -> None:
        self.blank_card()
        for n, words in enumerate(("mudlark", "hen"), 1):
            still = media.jpeg(words, SHOT, model="Tern", size=(1200, 800))
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/AAAA000{n}.JPG", still, SHOT)
        hub.insert("A-01", "slot-1")

    def test_a_clip_is_found_and_looked_at_by_keyboard_while_every_drive_is_away(self):
        roll = self.offload()
        wren = self.browser("wren")
        wren.until(lambda: roll.files.exclude(seen=None).count() == 2, "all were gone through")
        said = {"on": "roll", "name": roll.tag, "words": "the gull lands", "clip": "DCIM/100AAAAA/AAAA0002.JPG"}
        self.assertEqual(self.post("notes", said).status_code, 200)
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        wren.press("f")
        wren.see("[data-none]", "No drive needs to be plugged in")
        wren.press(*"aaaa0001")
        wren.see("[data-found-file] [data-place]", "one: cart, not connected, noted")
        self.assertEqual(len(wren.all("[data-found-file]")), 1)
        self.assertIn("text=aaaa0001", wren.driver.current_url)
        wren.tab_to("[data-name-view]")
        wren.press(Keys.ENTER)
        wren.tab_to("[data-view-name]")
        wren.press(*"the hen", Keys.ENTER)
        wren.see("[data-view='the hen'] [aria-pressed=true]")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-find]")
        wren.press(*(Keys.BACKSPACE for _ in "aaaa0001"), *"gull")
        wren.see("[data-said-line]", "the gull lands")
        wren.see("[data-found-file] .tag", "AAAA0002.JPG")
        wren.tab_to("[data-found-file] button")
        wren.press(Keys.ENTER)
        wren.see("[data-opened-picture][src*='/large']")
        wren.press(Keys.ESCAPE)
        wren.until(lambda: not wren.all("[data-look-through]"), "it is closed")
        self.assertEqual(wren.console_errors(), [])

    def test_what_nothing_is_called_is_looked_for_everywhere_from_the_box_that_is_always_there(self):
        self.offload()
        pip = self.browser("pip", 390, 844)
        pip.press("/")
        pip.see("[data-where-is]")
        pip.press(*"0002 a-01", Keys.ENTER)
        pip.see("[data-found-file] .tag", "AAAA0002.JPG")
        pip.see("[data-count]", "1 file")
        self.assertEqual(pip.violations(), [])
        wide = pip.driver.execute_script("return document.documentElement.scrollWidth - innerWidth")
        self.assertLessEqual(wide, 0, "nothing is pushed off a phone's side")
        pip.go("/heron/tally")
        pip.see("[data-roll]")
        pip.scan("AAAA0001")
        pip.see("[data-unknown]", "Nothing here is called AAAA0001.")
        pip.tab_to("[data-find-scanned]")
        pip.press(Keys.ENTER)
        pip.see("[data-found-file] .tag", "AAAA0001.JPG")
        pip.go("/heron/find?text=nothing+like+it")
        pip.see("[data-none]", "Nothing here holds all of these words")

    def test_something_is_said_of_many_files_at_once_and_they_are_found_by_it(self):
        roll = self.offload()
        wren = self.browser("wren")
        wren.until(lambda: roll.files.exclude(seen=None).count() == 2, "all were gone through")
        wren.press("f")
        wren.see("[data-none]", "No drive needs to be plugged in")
        wren.press(*"aaaa")
        wren.see("[data-found-file]")
        wren.tab_to("[data-choose-all] input")
        wren.press(Keys.SPACE)
        wren.tab_to("[data-words]")
        wren.press(*"Fog, bell buoy", Keys.ENTER)
        wren.see("[data-keywords]", "bell buoy, fog")
        wren.see("[data-say-of] [role=status]", "it changed something of 2 files")
        self.assertEqual(wren.violations(), [])
        beside = self.on_drive("one", roll) / "DCIM/100AAAAA/AAAA0001.xmp"
        wren.until(beside.exists, "the station writes it beside the copies")
        wren.until(lambda: not wren.all("[data-waiting]"), "and that is told")
        wren.go("/heron/find?text=buoy")
        wren.see("[data-found-file='DCIM/100AAAAA/AAAA0002.JPG'] [data-keywords]", "bell buoy")
        wren.tab_to("[data-choose-file='DCIM/100AAAAA/AAAA0002.JPG'] input")
        wren.press(Keys.SPACE)
        wren.see("[data-proposed]", "bell buoy")
        wren.tab_to("[data-words]")
        wren.press(*"fog")
        wren.tab_to("[data-remove]")
        wren.press(Keys.ENTER)
        wren.see("[data-say-of] [role=status]", "it changed something of 1 file")
        wren.see("[data-found-file='DCIM/100AAAAA/AAAA0002.JPG'] [data-keywords]", "bell buoy")
        self.assertEqual(wren.console_errors(), [])
