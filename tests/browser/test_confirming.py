"""In the browser: rules and their effect, two people, holds, a card's life, what a loss would do, shared cards."""

import subprocess
import sys
import tempfile
from pathlib import Path

from django.conf import settings
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance, Removal
from ruggedraft.productions.models import Production, RedundancyRule
from ruggedraft.standins import card_maker, hub
from tests.server.test_labels import words_on
from tests.server.world import SHOT

from .case import Browser, BrowserCase


class Acting(BrowserCase):
    def offloaded(self, browser: Browser, tag: str = "A001") -> None:
        browser.tab_to("[data-next]", f"Offload {tag}")
        browser.press(Keys.ENTER)
        browser.see("[data-outcome]", "agree")

    def say(self, browser: Browser, name: str, words: str) -> None:
        """By keyboard: open the act, say the words, do it."""
        browser.tab_to(f"[data-say='{name}']")
        browser.press(Keys.ENTER)
        browser.see(f"[data-said='{name}']").send_keys(words)
        browser.press(Keys.ENTER)

    def sign(self, browser: Browser, tag: str = "a001") -> None:
        browser.tab_to("[data-card='A-01'] [data-sign]")
        browser.press(Keys.ENTER)
        browser.see("[data-type-tag]")
        browser.press(*tag, Keys.ENTER)


class Signing(Acting):
    def test_two_people_clear_a_card_and_the_second_is_told_what_changed_since_the_first(self):
        RedundancyRule.objects.update(signers=2)
        self.plan.stores.set(self.drives.values())
        wren, sol = self.browser("wren"), self.browser("sol")
        self.offloaded(wren)
        wren.go("/clearing")
        self.sign(wren)
        sol.go("/clearing")
        sol.see("[data-card='A-01']", "Signed by Wren")
        self.post("stores/three/lost", {"reason": "overboard"})
        sol.see("[data-card='A-01'] [data-void]", "the copy of A001 on 'three' does not count any more")
        sol.tab_to("[data-card='A-01'] [data-sign]")
        sol.press(Keys.ENTER)
        sol.see("[role=dialog] [data-changed]", "'three' does not count any more")
        self.assertEqual(sol.violations(), [])
        sol.press(*"a001", Keys.ENTER)
        wren.see("[data-card='A-01']", "Signed by Sol")
        self.assertFalse(Clearance.objects.exists(), "Wren signed for something else")
        self.sign(wren)
        sol.see("[data-card='A-01'] .verdict", "CLEAR")
        people = {one["name"] for one in Clearance.objects.get().evidence["signatures"]}
        self.assertEqual(people, {"Wren", "Sol"})
        self.assertEqual(wren.console_errors() + sol.console_errors(), [])

    def test_whoever_will_not_sign_says_why_and_the_card_stays(self):
        wren, sol = self.browser("wren"), self.browser("sol")
        self.offloaded(wren)
        sol.go("/clearing")
        sol.tab_to("[data-card='A-01'] [data-sign]")
        sol.press(Keys.ENTER)
        self.say(sol, "refuse", "the sound was not copied")
        wren.go("/clearing")
        wren.see("[data-card='A-01'] .verdict", "NOT CLEAR")
        wren.see("[data-card='A-01'] [data-hold]", "Sol would not sign: the sound was not copied")
        self.say(sol, "lift", "it was")
        wren.see("[data-card='A-01'] .verdict", "SIGN?")

    def test_a_clearance_taken_back_after_the_card_went_out_is_an_alarm_on_every_screen(self):
        wren = self.browser("wren")
        self.offloaded(wren)
        wren.go("/clearing")
        self.sign(wren)
        wren.see("[data-card='A-01'] .verdict", "CLEAR")
        hub.remove("slot-1")
        wren.see("[data-card='A-01'] .verdict", "OUT")
        self.say(wren, "hand-back", "Kit Marsh")
        wren.see("[data-card='A-01'] [data-since]", "handed to Kit Marsh")
        wren.go("/cards/A-01")
        self.say(wren, "revoke", "one copy is of another take")
        wren.see("[data-sentence]", "Call Kit Marsh")
        wren.press("b")
        wren.see("[data-part='recalled']", "1 card out as cleared, and recalled")
        hub.insert("A-01", "slot-1")
        wren.until(lambda: not wren.driver.find_elements(By.CSS_SELECTOR, "[data-part='recalled']"), "it came home")


class Confirming(Acting):
    def test_a_hold_until_delivery_and_the_delivery(self):
        wren = self.browser("wren")
        self.offloaded(wren)
        wren.go("/tally/A001")
        wren.tab_to("[data-say='hold-roll']")
        wren.press(Keys.ENTER)
        wren.see("[data-said='hold-roll']").send_keys("the client has to see it")
        wren.see(".say form [role=combobox]").click()
        wren.see("[role=option]", "it is delivered").click()
        wren.tab_to("[data-go='hold-roll']")
        wren.press(Keys.ENTER)
        wren.see("[data-hold]", "Until it is delivered")
        self.assertEqual(wren.violations(), [])
        wren.press("c")
        wren.see("[data-card='A-01']", "on hold by Wren until it is delivered: the client has to see it")
        wren.go("/tally/A001")
        self.say(wren, "deliver", "the broadcaster")
        wren.see("[data-delivered]", "Delivered to the broadcaster")
        wren.press("c")
        wren.see("[data-card='A-01'] .verdict", "SIGN?")
        self.assertEqual(wren.console_errors(), [])

    def test_a_card_followed_from_new_to_handed_back_to_formatted(self):
        wren = self.browser("wren")
        card, folder = self.new_card("A-02", {})
        wren.press("k")
        wren.see("[data-card='A-02'][data-life='new']", "never in a reader here")
        self.assertEqual(wren.violations(), [])
        card_maker.add_stills(folder, prefix="SKR_", first=1, count=3, start=SHOT, kinds=["JPG"])
        hub.insert("A-02", "slot-2")
        wren.see("[data-card='A-02'][data-life='in a reader']", "slot 2")
        wren.go("/?card=A-02")
        wren.see("[data-slot='slot 2']").click()
        self.offloaded(wren)
        wren.press("k")
        wren.see("[data-seek]").send_keys("a001")
        wren.see("[data-count]", "1 card")
        wren.see("[data-card='A-02'] a").click()
        wren.see("[data-roll='A001']", "safe, not cleared")
        wren.see("[data-record]", "Filled 1 time")
        wren.tab_to("a.act", "Sign A001")
        wren.press(Keys.ENTER)
        wren.see("[data-type-tag]")
        wren.press(*"a001", Keys.ENTER)
        wren.see("[data-card='A-02'] .verdict", "CLEAR")
        hub.remove("slot-2")
        wren.see("[data-card='A-02'] .verdict", "OUT")
        wren.see("[data-card='A-02'] a").click()
        self.say(wren, "hand-back", "Kit Marsh")
        wren.see("[data-cleared]", "Kit Marsh has had it since")
        wren.see("[data-clearance]").click()
        wren.see("[data-asked]", "2 copies on 2 devices")
        wren.see("[data-copy-evidence='one']", "Counted.")
        wren.see("[data-signed]", "Signed by Wren")
        self.checked_by_others(wren)
        self.assertEqual(wren.violations(), [])
        card_maker.format_card(folder)
        hub.insert("A-02", "slot-2")
        wren.press("k")
        wren.see("[data-card='A-02'][data-life='formatted'] .verdict", "EMPTY")
        self.assertEqual((card.rolls.count(), wren.console_errors()), (1, []))

    def checked_by_others(self, wren):
        """The certificate, as somebody checks it who has the script alone; and its paper."""
        made = wren.fetched("[data-certificate] a[href$='.jsonl']")
        key = wren.see("[data-fingerprint]").text
        home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name, content in (("made", made), ("bent", made.replace(b"A-02", b"A-03"))):
            (home / name).write_bytes(content)
            script = [sys.executable, Path(settings.ROOT, "docs", "check_certificate.py"), home / name, key]
            done = subprocess.run(script, capture_output=True, text=True)
            self.assertEqual((done.returncode == 0, "card A-02 (A001)" in done.stdout), (name == "made",) * 2)
        paper = " ".join(words_on(wren.fetched("[data-certificate] a[href$='.pdf']")).split())
        self.assertIn(key, paper)
        self.assertIn("Heron: clearance of card A-02 (A001)", paper)

    def test_a_rule_for_one_camera_says_what_it_would_do_and_then_does_it(self):
        sol = self.browser("sol")
        self.offloaded(sol)
        sol.go("/setup")
        sol.see("[data-part=rule] .part-head").click()
        sol.tab_to("[data-exception-name] [role=combobox]")
        sol.press(Keys.ENTER)
        sol.see("[role=option]", "A")
        sol.press(Keys.ARROW_DOWN, Keys.ENTER)
        sol.see("[data-exception-part='copies'] input").send_keys(Keys.ARROW_UP)
        sol.see("[data-rule-exceptions] [data-falls]", "A001")
        sol.see("[data-rule-exceptions] [data-card-change='A-01']", "not clear")
        self.assertEqual(sol.violations(), [])
        self.say(sol, "exception", "the launch happens once")
        sol.see("[data-exception='A']", "3 copies on 2 devices")
        sol.see("[data-rule-history]", "the launch happens once")
        sol.press("c")
        sol.see("[data-card='A-01']", "2 of 3 copies that count")
        self.assertEqual(sol.console_errors(), [])

    def test_what_if_a_drive_dies_and_what_helps_now(self):
        wren = self.browser("wren")
        self.offloaded(wren)
        wren.press("t")
        wren.see("[data-survives]", "survives the loss of 1 device")
        wren.press("d")
        wren.tab_to("[data-if-device='one']")
        wren.press(Keys.ENTER)
        wren.see("[data-what-if] [data-below]", "1 roll would fall below the rule")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-hurt='A001'] [data-step='copy']", "Copy A001 to three")
        wren.press(Keys.ENTER)
        wren.see("[data-what-if] [data-nothing]", "No roll would fall below its rule")
        self.assertEqual(wren.console_errors(), [])


class WornCards(Acting):
    def fill_card(self) -> None:
        sheet = card_maker.CardSheet("SNA-01", "A-01", "SD", 64 * 10**9, worn=["AAAA0002.JPG"])
        card_maker.make_card(hub.home(), sheet)

    def test_read_errors_propose_quarantine_and_the_card_is_kept(self):
        wren = self.browser("wren")
        self.offloaded(wren)
        wren.go("/cards/A-01")
        wren.see("[data-doubts]", "it gave read errors in 1 file")
        self.assertEqual(wren.violations(), [])
        self.say(wren, "quarantine", "read errors")
        wren.see("header .verdict", "KEEP")
        wren.press("c")
        wren.see("[data-card='A-01']", "Quarantined by Wren: read errors")
        wren.go("/cards/A-01")
        self.say(wren, "use-again", "its contacts were cleaned")
        wren.see("[data-doubts]", "it gave read errors in 1 file")
        self.say(wren, "trust", "it was the contacts")
        wren.see("header .verdict", "SIGN?")
        self.assertEqual(wren.console_errors(), [])


class SharedCards(BrowserCase):
    def fill_card(self) -> None:
        self.blank_card()
        card_maker.add_stills(self.card_folder, prefix="SKR_", first=1, count=3, start=SHOT, kinds=["JPG"])
        card_maker.add_file(self.card_folder, "HOLIDAY/PIC1.JPG", b"somebody else's", SHOT)
        hub.insert("A-01", "slot-1")
        Production.objects.update(removal_allowed=True)

    def test_only_our_files_are_taken_off_a_shared_card(self):
        wren = self.browser("wren")
        wren.see("[data-contents]")
        ours = [f"DCIM/100SKERR/SKR_000{n}.JPG" for n in (1, 2, 3)]
        words = {"tag": "A001", "take": {"picked": ours}}
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/offload", words).status_code, 200)
        wren.see("[data-outcome]", "agree")
        wren.go("/cards/A-01")
        wren.see("[data-take-off]", "3 files")
        wren.see("[data-take-off]", "Staying as they are: 1 file")
        self.post(f"clearing/cards/{self.card.pk}/look")
        wren.tab_to("[data-open-take-off]")
        wren.press(Keys.ENTER)
        self.assertEqual(wren.violations(), [])
        wren.see("[data-take-off-tag]").send_keys("a001")
        wren.until(lambda: self.all_looked_at(), "copies were looked at")
        wren.press(Keys.ENTER)
        wren.see("[data-last-removal]", "3 files taken off card A-01")
        left = [f.name for f in self.card_folder.rglob("*") if f.is_file()]
        self.assertEqual((left, Removal.objects.get().end), (["PIC1.JPG"], "well"))
        self.assertEqual(wren.console_errors(), [])

    def all_looked_at(self) -> bool:
        return all(plank["looked_at"] for plank in self.standing()["planks"])
