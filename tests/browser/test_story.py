"""Whole stories in headless Chromium, with the real worker, the real database and a card with real media."""

import socket
import subprocess
import time

from django.contrib.sessions.models import Session
from django.db import connection
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance
from ruggedraft.core.evidence import Evidence
from ruggedraft.intake.watching import look
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import card_maker, hub
from tests.server.world import SHOT

from .case import BrowserCase

SCREENS = {
    "/": "[data-next]", "/tally": "[data-roll]", "/tally/A001": "[data-copy]", "/clearing": "[data-card='A-02']",
    "/log": "ol li", "/legend": "[data-plank]", "/cards": "[data-card='A-01']", "/cards/A-01": "[data-record]",
    "/deliveries": "[data-deliver]", "/sets": "[data-divide]",
    "/find": "[data-none]", "/room": "[data-none]", "/returns": "[data-look-into]",
    "/stores": "[data-if-place]", "/handover": "[data-to-hand-over]",
    "/parts": "[data-part-of=checkbox]", "/setup": "[data-part=plans]",
}  # fmt: skip


class CardToClearance(BrowserCase):
    reader_rate = 600_000

    def setUp(self):
        super().setUp()
        card_maker.add_clips(self.card_folder, reel="A001", first=1, count=2, start=SHOT, seconds=1)
        card_maker.add_stills(self.card_folder, prefix="AAAA", first=10, count=2, start=SHOT, camera="Tern")
        card_maker.add_sound(self.card_folder, day="SOUND", first=1, count=1, start=SHOT)
        hub.remove("slot-1")
        time.sleep(0.5)
        hub.insert("A-01", "slot-1")

    def test_the_whole_story_by_keyboard_alone_while_an_assistant_watches(self):
        pip, wren = self.browser("pip", 390, 844), self.browser("wren")
        pip.go("/clearing")
        pip.see("[data-card='A-01']", "NOT CLEAR")
        wren.see("[data-slot='slot 1']", "not offloaded")
        wren.see("[data-tag]", "A001")
        wren.see("[data-contents]", "4 stills, 2 video clips, 1 sound take")
        wren.tab_to("[data-next]", "Offload A001")
        wren.press(Keys.ENTER)
        wren.see("[data-store='one'][data-state='running'] [data-words]", "read back")
        wren.see("[data-part='runs']", "1 run under way")
        wren.see("[data-outcome='well']", "read back: both agree with the card.")
        self._both_copies_equal_the_card()
        wren.press("t")
        wren.see("[data-roll='A001'][data-state='safe']", "card A-01 is not cleared")
        pip.see("[data-card='A-01']", "SIGN?")
        wren.press("c")
        wren.tab_to("[data-sign]", "Sign A001")
        wren.press(Keys.ENTER)
        wren.see("[role=dialog]", "A001 lives on these stores alone")
        wren.press("a002", Keys.ENTER)
        self.assertEqual(Clearance.objects.count(), 0, "another tag signs nothing")
        wren.press(*[Keys.BACKSPACE] * 4, *"a001", Keys.ENTER)
        wren.see("[data-card='A-01']", "CLEAR")
        wren.see("[data-card='A-01']", "Cleared just now by Wren")
        pip.see("[data-card='A-01'][data-standing='cleared']", "CLEAR")
        self.assertEqual(Clearance.objects.get().roll.tag, "A001")
        self.assertEqual({check.level for check in Reading.objects.all()}, {Evidence.READ_BACK})
        self.assertEqual(wren.console_errors() + pip.console_errors(), [])

    def _both_copies_equal_the_card(self):
        for store in ("one", "two"):
            copy = self.on_drive(store)
            subprocess.run(["diff", "-r", self.card_folder, copy], check=True)
            compared = subprocess.run(
                ["rsync", "-nric", "--delete", f"{self.card_folder}/", f"{copy}/"], capture_output=True, check=True
            )
            self.assertEqual(compared.stdout, b"")

    def test_a_worker_killed_in_the_middle_is_followed_by_one_that_finishes(self):
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-store='one'][data-state='running'] [data-words]", "read back")
        self.kill_station()
        self.assertEqual((Reading.objects.count(), Offload.objects.get().finished_at), (0, None), "nothing was claimed")
        self.assertFalse(self.on_drive("one").with_name("A001.xxh128").exists())
        wren.press("c")
        wren.see("[data-card='A-01']", "WAIT")
        self.start_station()
        wren.see("[data-card='A-01']", "SIGN?")
        self._both_copies_equal_the_card()


class Refusals(BrowserCase):
    def test_a_store_that_is_too_small_is_refused_before_copying_with_a_sentence(self):
        small = self.drive("small", capacity=400_000)
        self.plan.stores.set([self.drives["one"], small])
        look(self.station)
        wren = self.browser("wren")
        wren.see(".next [data-refusal]", "kB too small: it has")
        self.assertTrue(wren.off(wren.see("[data-next]", "Offload A001")))
        wren.press("o")
        time.sleep(0.5)
        self.assertEqual(Offload.objects.count(), 0)

    def test_an_assistant_finds_no_act_that_works(self):
        pip = self.browser("pip")
        self.assertTrue(pip.off(pip.see("[data-next]", "Offload A001")))
        pip.tab_to("[data-next]", "Offload A001")
        pip.see(".next [data-why-not]", "signed in as camera assistant, and may not start or stop an offload")
        pip.press(Keys.ENTER, "o")
        time.sleep(0.5)
        self.assertEqual(Offload.objects.count(), 0)

    def test_a_pulled_card_leaves_its_slot_at_once_and_trouble_is_named(self):
        (self.card_folder / "escape").symlink_to("/etc/passwd")
        wren = self.browser("wren")
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")
        hub.insert("A-01", "slot-1")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='trouble']", "links are not followed")
        wren.press("c")
        wren.see("[data-card='A-01']", "1 file on this card is in no copy")


class EveryScreen(BrowserCase):
    def test_axe_finds_nothing_in_daylight_or_at_night(self):
        self._two_cards()
        wren = self.browser("wren")
        self._every_screen_in_both_themes(wren, SCREENS)
        self.assertEqual(wren.console_errors(), [])

    def test_nor_on_a_tablet_held_upright(self):
        self._two_cards()
        self._every_screen_in_both_themes(self.browser("wren", 768, 1024), SCREENS)

    def test_on_a_phone_nothing_scrolls_sideways_and_axe_finds_nothing(self):
        self._two_cards()
        self._every_screen_in_both_themes(self.browser("pip", 390, 844), SCREENS)

    def _every_screen_in_both_themes(self, page, screens) -> None:
        for path, css in screens.items():
            page.go(path)
            page.see(css)
            page.open_every_part()
            for theme in ("daylight", "night"):
                with self.subTest(path, theme=theme):
                    page.see(f":root[data-theme='{theme}']")
                    self.assertEqual(page.violations(), [])
                page.driver.execute_script("document.activeElement.blur()")  # a box that one types into keeps its keys
                page.press("n")
            page.see(":root[data-theme='daylight']")
            with self.subTest(path):
                over = "return document.querySelector('.above').scrollWidth - innerWidth"
                self.assertLessEqual(page.driver.execute_script(over), 0)

    def _two_cards(self):
        self.offload()
        self.new_card("A-02", {"DCIM/100AAAAA/AAAA0009.JPG": b"new"})
        hub.insert("A-02", "slot-2")

    def test_dialogs_and_the_way_in_pass_axe_too(self):
        self.offload()
        wren = self.browser("wren")
        wren.press("?")
        wren.see("[role=dialog]", "Keys")
        self.assertEqual(wren.violations(), [])
        wren.press(Keys.ESCAPE)
        wren.go("/clearing")
        wren.see("[data-sign]").click()
        wren.see("[role=dialog] [data-type-tag]")
        self.assertEqual(wren.violations(), [])
        wren.press(Keys.ESCAPE)
        wren.see("[aria-label='Sign out']").click()
        wren.see("input[type=password]")
        self.assertEqual(wren.violations(), [])

    def test_every_mark_shows_every_state(self):
        wren = self.browser("wren")
        wren.go("/legend")
        wren.see("[data-plank='lost']")
        count = "return document.querySelectorAll(arguments[0]).length"
        self.assertEqual(wren.driver.execute_script(count, "[data-plank]"), 9)
        self.assertEqual(wren.driver.execute_script(count, "[data-raft]"), 7)
        self.assertEqual(wren.driver.execute_script(count, "[data-verdict]"), 12)
        shapes = wren.driver.execute_script(
            "return [...document.querySelectorAll('[data-plank] td:nth-child(2) svg')].map(svg =>"
            " svg.innerHTML.replace(/(hatch|dots)-[^\"\\)]+/g, '$1').replace(/class=\"[^\"]*\"/g, ''))"
        )
        self.assertEqual(len(set(shapes)), 9, "no two states have the same shape: colour is not what tells them apart")
        self.assertEqual(wren.driver.execute_script(count, "[data-holding-mark]"), 6)
        self.assertEqual(wren.driver.execute_script(count, "[data-bar]"), 7)
        held = wren.driver.execute_script(
            "return [...document.querySelectorAll('[data-holding-mark] svg:first-child')].map(svg => svg.innerHTML)"
        )
        self.assertEqual(len(set(held)), 6)
        lashed = "return document.querySelectorAll('[data-raft] .lashings').length"
        self.assertEqual(wren.driver.execute_script(lashed), 4, "lashed only where the rule is met, at both sizes")

    def test_a_scanned_label_leads_to_its_card_from_any_screen(self):
        wren = self.browser("wren")
        wren.go("/log")
        wren.see("ol li")
        wren.driver.execute_script(
            "for (const key of ['a', '-', '0', '1', 'Enter'])"
            " document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))"
        )
        wren.see(".scanned[data-card='A-01']")

    def test_what_is_scanned_never_acts_as_shortcuts_and_leads_to_a_roll_too(self):
        """A slow scanner on the Bench, where O starts an offload: what it sends is known by its end."""
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001")
        self.scan(wren, "roll-1")
        wren.see("[data-unknown]", "Nothing here is called roll-1")
        self.assertEqual((Offload.objects.count(), wren.driver.current_url.endswith("/heron/")), (0, True))
        self.offload()
        wren.go("/log")
        wren.see("ol li")
        self.scan(wren, "a001")
        wren.see("h1", "A001")
        self.assertEqual(wren.see("[data-copy]", "one").get_attribute("data-copy"), "one")
        wren.press("b")
        wren.see("[data-next]", "On to Clearing")

    def scan(self, wren, code: str) -> None:
        for key in (*code, Keys.ENTER):
            wren.press(key)  # a tenth of a second each: no hand scanner is that slow

    def test_a_session_that_ends_asks_over_the_page_and_goes_on_where_it_was(self):
        wren = self.browser("wren")
        wren.go("/log")
        wren.see("ol li")
        self.post(
            "setup/rule", {"copies": 2, "reason": "so that who is signed in is asked anew"}, self.sol, method="patch"
        )
        Session.objects.all().delete()  # the stream of what is live ends with it, and nobody has to press anything
        wren.see("[data-session-ended]", "Sign in to go on where you were")
        self.assertIn("/log", wren.driver.current_url)
        wren.see("ol li")  # what was there is there, behind it
        self.assertEqual(wren.violations(), [])
        wren.see("input[type='password']").send_keys("wren-password", Keys.ENTER)
        wren.until(lambda: not wren.driver.find_elements(By.CSS_SELECTOR, "[data-session-ended]"), "signed in again")
        self.assertIn("/log", wren.driver.current_url)
        wren.see("button", "Prove the log").click()
        wren.see("main", "Every entry is as it was written")
        look(self.station)  # and what is live is heard again
        self.new_card("Z-01", {"1.MOV": b"1"})
        hub.insert("Z-01", "slot-4")
        wren.see("ol li", "Z-01")

    def test_a_server_that_is_away_leaves_the_last_of_it_on_screen_with_its_age(self):
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']")
        self.stop_web()
        wren.see("[data-line='cut']", "The server cannot be reached: what you see is from just now")
        self.assertTrue(wren.see(".above.old [data-slot='slot 1']").is_displayed())
        self.start_web()
        wren.until(lambda: not wren.driver.find_elements(By.CSS_SELECTOR, "[data-line='cut']"), "it is heard again")
        hub.remove("slot-1")
        wren.see("[data-slot='slot 1']", "empty")

    def test_pages_that_were_left_hold_no_connection(self):
        """A browser opens six connections to a host; every page left behind used to keep one."""
        wren = self.browser("wren")
        for _ in range(8):
            wren.go("/log")
            wren.see("ol li")

    def test_many_open_screens_do_not_use_up_the_database(self):
        """Live streams never end: thirty of them, more than there are pooled connections, must leave room for work."""
        wren = self.browser("wren")
        cookie = wren.driver.get_cookie("sessionid")["value"]
        held = [socket.create_connection(("127.0.0.1", self.port)) for _ in range(30)]
        for screen in held:
            self.addCleanup(screen.close)
            lines = ["GET /api/live HTTP/1.1", f"Host: 127.0.0.1:{self.port}", f"Cookie: sessionid={cookie}", "", ""]
            screen.sendall("\r\n".join(lines).encode())
            self.assertIn(b"200 OK", screen.recv(200))
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM pg_stat_activity WHERE datname = current_database()")
            self.assertLess(cursor.fetchone()[0], 30)

    def test_nothing_is_fetched_from_anywhere_else(self):
        wren = self.browser("wren")
        wren.see("[data-next]")
        names = wren.driver.execute_script("return performance.getEntriesByType('resource').map(e => e.name)")
        self.assertEqual([name for name in names if not name.startswith(wren.address)], [])
        fonts = "return document.fonts.ready.then(() => [...document.fonts].filter(f => f.status === 'loaded').length)"
        self.assertGreaterEqual(wren.driver.execute_script(fonts), 2)
