"""The crew at work: a wrangler at the cart, an assistant with a phone, a supervisor in the office, a shared screen."""

import time

from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance
from ruggedraft.crew.acts.shared_screen import set_pin
from ruggedraft.crew.models import Role
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.models import Custody
from ruggedraft.notes.models import Note
from ruggedraft.shifts.models import Matter
from ruggedraft.standins import hub

from .case import BrowserCase

PIN = "4071"


class OnePicture(BrowserCase):
    reader_rate = 2_000_000

    def test_one_card_from_its_reader_to_its_camera_before_three_people(self):
        """What one does is seen by the others without their asking."""
        wren, pip, sol = self.browser("wren"), self.browser("pip", 390, 844), self.browser("sol")
        pip.go("/heron/cards/A-01")
        pip.see("h1", "A-01")
        sol.go("/heron/tally")
        wren.see("[data-slot='slot 1']", "not offloaded")
        wren.tab_to("[data-next]", "Offload A001")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome='well']", "read back: both agree with the card.")
        sol.see("[data-roll='A001'][data-state='safe']", "card A-01 is not cleared")
        pip.see("main", "Sign A001")
        wren.clear_card("A-01", "A001")
        sol.see("[data-roll='A001']", "card A-01 was cleared")
        hub.remove("slot-1")
        self.until_out()
        pip.see("[data-mine]").click()  # the assistant takes it to the camera
        pip.see("[data-holder]", "Pip has it")
        wren.press("k")
        wren.see("[data-card='A-01']", "with Pip")
        sol.press("/")
        sol.see("[data-where-is]")
        sol.press("where is card 1?")
        sol.see("[data-found-thing='A-01']", "with Pip")
        self.assertEqual(Custody.objects.get().holder, self.pip)
        for browser in (wren, pip, sol):
            self.assertEqual(browser.violations(), [])
            self.assertEqual(browser.console_errors(), [])

    def until_out(self) -> None:
        deadline = time.monotonic() + 30
        while Insertion.objects.filter(removed_at=None).exists():
            self.assertLess(time.monotonic(), deadline, "the station sees that it is out")
            time.sleep(0.2)

    def test_a_shift_hands_over_with_a_note_and_the_next_takes_it_over(self):
        self.person("ida", Role.LEAD)
        wren, ida = self.browser("wren"), self.browser("ida", 390, 844)
        wren.go("/heron/cards/A-01")
        wren.tab_to("[data-write-note]")
        wren.press(Keys.ENTER)
        wren.tab_to("[data-note-words]")
        wren.press("@ida, the door sticks", Keys.ENTER)
        wren.see("[data-note]", "the door sticks")
        self.assertEqual([one.username for one in Note.objects.get().mentions.all()], ["ida"])
        ida.go("/heron/cards")
        ida.see("[data-note-on='A-01']", "the door sticks")
        ida.go("/heron/handover")
        ida.see("[data-nothing-open]")
        wren.go("/heron/handover")
        wren.see("[data-to-hand-over] [data-matter]", "A-01, in slot 1.")
        wren.tab_to("[data-more-words]")
        wren.press("slot 3 is loose")
        wren.tab_to("[data-hand-over]")
        wren.press(Keys.ENTER)
        ida.see("[data-to-take] [data-matter]", "A-01, in slot 1.")
        ida.see("[data-take-all]", "take it over (2)").click()
        ida.see("[data-nothing-open]")
        wren.see("[data-nothing-open]")
        self.assertEqual({one.accepted_by.username for one in Matter.objects.all()}, {"ida"})
        wren.go("/heron/log")
        wren.see("main", "Ida took over 2 things")
        self.assertEqual(wren.violations() + ida.violations(), [])

    def test_a_shared_screen_shows_all_does_nothing_and_asks_who_acts(self):
        set_pin(self.wren, "wren-password", PIN)
        cart = self.browser("sol")
        cart.tab_to("[data-account]")
        cart.press(Keys.ENTER)
        cart.see("[data-screen-name]").send_keys("port side", Keys.ENTER)
        cart.see(".who", "port side, shared screen")
        cart.see("[data-slot='slot 1']", "not offloaded")
        cart.go("/heron/cards/A-01")
        cart.see("[data-say='hold-card']").click()
        cart.see("[data-said='hold-card']").send_keys("until the editor has seen it", Keys.ENTER)
        cart.see("[data-who-acts]")
        self.assertFalse(JournalEntry.objects.filter(act="hold").exists())
        cart.see("[data-acting] [role='combobox']").click()
        cart.see("[role='option']", "Wren").click()
        cart.see("[data-acting-pin]").send_keys("9999", Keys.ENTER)
        cart.see("[data-refused]", "4 more tries before it is locked")
        self.assertEqual(cart.violations(), [])
        cart.see("[data-acting-pin]").send_keys(PIN, Keys.ENTER)
        cart.see("main", "until the editor has seen it")
        self.assertEqual(JournalEntry.objects.get(act="hold").person, self.wren)
        cart.see("[data-sign-in]").click()
        cart.see("[data-session-ended], input[autocomplete=username]")
        cart.press("sol", Keys.TAB, "sol-password", Keys.ENTER)
        cart.see("[data-account]", "Sol")
        cart.see("[aria-label='Sign out']").click()
        cart.see(".who", "port side, shared screen")

    def test_one_signs_at_a_shared_screen_with_ones_pin_once(self):
        """Looking at what one would sign for asks nobody; signing goes on until all was looked at, as one act."""
        self.offload()
        set_pin(self.wren, "wren-password", PIN)
        cart = self.browser("sol")
        cart.see("[data-account]").click()
        cart.see("[data-screen-name]").send_keys("cart", Keys.ENTER)
        cart.see(".who", "cart, shared screen")
        cart.go("/heron/clearing")
        cart.see("[data-sign]", "Sign A001").click()
        cart.see("[role=dialog]", "A001 lives on these stores alone")
        self.assertEqual(cart.all("[data-who-acts]"), [])
        cart.see("[data-type-tag]").send_keys("a001", Keys.ENTER)
        cart.see("[data-who-acts]")
        cart.see("[data-acting] [role='combobox']").click()
        cart.see("[role='option']", "Wren").click()
        cart.see("[data-acting-pin]").send_keys(PIN, Keys.ENTER)
        cart.see("[data-card='A-01']", "Cleared just now by Wren")
        self.assertEqual(Clearance.objects.get().evidence["signatures"][0]["by"], "wren")
        self.assertEqual(cart.all("[data-who-acts]"), [])

    def test_the_code_of_a_drives_label_leads_to_the_drive_from_any_screen(self):
        wren = self.browser("wren")
        wren.see("[data-slot='slot 1']")
        wren.scan("three")
        wren.see("[data-store='three'].named")

    def test_who_is_here_is_seen_as_they_come_and_go(self):
        wren, pip = self.browser("wren"), self.browser("pip", 390, 844)
        wren.see("[data-who-is-here]", "2")
        wren.tab_to("[data-who-is-here]")
        wren.press(Keys.ENTER)
        wren.see("[data-here='Pip']", "camera assistant")
        wren.see("[data-here-station='cart']", "is there")
        self.assertEqual(wren.violations(), [])
        pip.driver.get("about:blank")
        wren.until(lambda: not wren.all("[data-here='Pip']"), "Pip left")
        wren.press(Keys.ESCAPE)
        wren.see("[data-who-is-here]", "1")
        self.assertEqual(wren.console_errors(), [])

    def test_a_client_sees_what_is_safe_and_nothing_of_the_cart(self):
        self.person("moss", Role.CLIENT)
        self.offload()
        client = self.browser("moss", place="Tally")
        client.see("[data-roll='A001']", "card A-01 is not cleared")
        for place in ("stores", "wall", "days", "news", "reports", "handover"):
            client.go(f"/heron/{place}")
            client.see("[data-roll='A001']")
            self.assertTrue(client.driver.current_url.endswith("/heron/tally"), place)
        self.assertEqual([link.text for link in client.all("nav a")], ["Tally", "Clearing"])
        self.assertEqual(client.console_errors(), [])
