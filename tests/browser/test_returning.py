"""A working file that was deleted, renamed or damaged comes back, by keyboard."""

import shutil
import subprocess

from selenium.webdriver.common.keys import Keys

from ruggedraft.intake.models import Card, Insertion
from ruggedraft.pictures.models import Picture
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.drives import make_drive
from tests.recorder import recorded
from tests.server.world import SHOT

from .case import BrowserCase

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Returning(BrowserCase):
    def fill_card(self) -> None:
        for n in (3, 4):
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/AAAA000{n}.JPG", bytes([n]) * 5000, SHOT)

    def test_what_is_not_as_it_was_is_seen_and_brought_back(self):
        roll = self.offload()
        edit = make_drive(self.base / "edit", identity="edit", capacity=10**9) / "barge"
        shutil.copytree(self.on_drive("one", roll), edit / "A001")
        (edit / "A001" / "zero").unlink()
        (edit / "A001" / ONE).rename(edit / "best take.jpg")
        (edit / "A001" / TWO).write_bytes(b"edited by somebody")
        wren = self.browser("wren")
        wren.press("f")
        wren.tab_to("[data-returns-link]")
        wren.press(Keys.ENTER)
        wren.tab_to("[data-folder]")
        wren.press(*str(edit), Keys.ENTER)
        wren.see("[data-standing]", "6 files belong here: 3 of them as they were, everything was read.")
        wren.see("[data-row=moved]", "was moved or renamed to best take.jpg")
        wren.see("[data-row=different]", "is another file than was taken")
        wren.see("[data-row=missing]", "A001/zero")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-bring-all]", "Bring back 1 missing file")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome]", "1 file of A001")
        wren.see("[data-row=missing]", "came back")
        self.assertFalse(wren.all("[data-bring-all]"), "nothing is missing any more")
        self.assertEqual((edit / "A001" / "zero").read_bytes(), b"")
        wren.tab_to(f"[data-bring='A001/{TWO}']")
        wren.press(Keys.ENTER)
        wren.see("[data-row=different]", "came back")
        self.assertEqual((edit / "A001" / TWO).read_bytes(), (self.card_folder / TWO).read_bytes())
        aside = [path.read_bytes() for path in edit.rglob("*") if path.is_file() and ".raft-set-aside" in path.parts]
        self.assertEqual(aside, [b"edited by somebody"])
        self.assertEqual(wren.console_errors(), [])

    def test_copies_to_work_with_are_made_and_match(self):
        words = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=25:d=1", "-c:v", "mjpeg", "-timecode", "10:00:00:00")
        card_maker.add_file(self.card_folder, "CLIPS/C001.MOV", recorded("a.mov", *words), SHOT)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.until(lambda: not Insertion.objects.filter(removed_at=None).exists(), "the card is out")
        hub.insert("A-01", "slot-1")
        self.offload()
        edit = make_drive(self.base / "edit", identity="edit", capacity=5 * 10**9)
        wren.go("/heron/tally/A001")
        wren.tab_to("[data-bring-roll]")
        wren.press(Keys.ENTER)
        wren.tab_to("[data-to-folder] [data-folder]")
        wren.press(*str(edit))
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-make-go]")
        wren.press(Keys.ENTER)
        wren.see("[data-making] [data-outcome]", "1 of 1 recording has one that matches and decodes")
        [made] = edit.rglob("*.mov")
        self.assertEqual(str(made.relative_to(edit)), "A001_prores_proxy/CLIPS/C001.mov")
        said = ["ffprobe", "-v", "error", "-show_entries", "stream=codec_name:stream_tags=timecode", "-of", "csv", made]
        told = subprocess.run(said, check=True, capture_output=True, text=True).stdout
        self.assertIn("prores", told)
        self.assertIn("10:00:00:00", told)
        self.assertEqual(wren.console_errors(), [])

    def test_what_is_taken_away_opens_anywhere_without_us(self):
        pictures = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=25:d=1", "-c:v", "mjpeg")
        card_maker.add_file(self.card_folder, "CLIPS/C001.MOV", recorded("a.mov", *pictures), SHOT)
        hub.remove("slot-1")
        wren = self.browser("wren")
        wren.until(lambda: not Insertion.objects.filter(removed_at=None).exists(), "the card is out")
        hub.insert("A-01", "slot-1")
        roll = self.offload()
        wren.until(lambda: Picture.objects.filter(file__roll=roll, kind="light").exists(), "it can be played")
        stick = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        wren.go("/heron/returns?tag=A001")
        wren.tab_to("[data-to-folder] [data-folder]")
        wren.press(*str(stick))
        wren.tab_to("[data-take-away-go]")
        wren.press(Keys.ENTER)
        wren.see("[data-taken-away] [data-outcome]", "Open index.html.")
        self.assertEqual(wren.violations() + wren.console_errors(), [])
        [made] = stick.rglob("index.html")
        self.stop_web()
        wren.driver.get(made.as_uri())
        wren.see("h1", "Roll A001")
        wren.tab_to("input")
        wren.press(*"c001")
        wren.until(lambda: len([one for one in wren.all("li") if one.is_displayed()]) == 1, "it is narrowed")
        play = "const v = document.querySelector('video'); v.muted = true; v.play(); return v.readyState"
        wren.until(lambda: wren.driver.execute_script(play) >= 2, "it plays")

    def test_a_clip_that_was_found_is_brought_to_any_folder(self):
        self.offload()
        stick = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        wren = self.browser("wren")
        wren.go("/heron/find?text=aaaa0001")
        wren.tab_to("[data-bring-back]")
        wren.press(Keys.ENTER)
        wren.see("[data-to-folder]", "AAAA0001.JPG of A001, to a folder")
        wren.tab_to("[data-folder]")
        wren.press(*str(stick))
        wren.tab_to("[data-bring-there]")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome]", "1 file of A001")
        self.assertEqual((stick / "A001" / ONE).read_bytes(), (self.card_folder / ONE).read_bytes())
        self.assertEqual(wren.violations(), [])

    def test_a_folder_of_finals_is_shown_on_the_bench_and_is_no_card(self):
        finals = self.base / "finals"
        finals.mkdir()
        (finals / "harbour_v3.mov").write_bytes(b"final" * 1000)
        sol = self.browser("sol")
        sol.go("/heron/returns")
        sol.tab_to("[data-finals] [data-folder]")
        sol.press(*str(finals), Keys.ENTER)
        sol.see("[data-finals-shown]")
        self.assertEqual(sol.violations(), [])
        sol.until(lambda: Insertion.objects.filter(kind="finals", removed_at=None).exists(), "the station sees it")
        stay = Insertion.objects.get(kind="finals", removed_at=None)
        self.post(f"bench/insertions/{stay.pk}/introduce", {"label": "Finals 1", "camera": "A"})
        self.offload(Card.objects.get(label="Finals 1"))
        sol.go("/heron/cards/Finals%201")
        sol.see("main", "set of finals")
        sol.see("main", "nothing of it is cleared or removed")
        self.assertFalse(sol.all("[data-sign]"))
        sol.go("/heron/clearing")
        sol.see("main")
        self.assertFalse(sol.all("[data-card='Finals 1']"), "nobody is asked to sign for it")
        self.assertEqual(sol.console_errors(), [])
