"""README's story, on the demo that README starts, by keyboard alone."""

from datetime import timedelta

from django.core.management import call_command
from django.utils import timezone
from selenium.webdriver.common.keys import Keys

from ruggedraft.clearing.models import Clearance
from ruggedraft.crew.models import Person
from ruggedraft.rolls.models import LeftBehind, ReadingResult
from ruggedraft.standins import hub
from ruggedraft.standins.bucket_server import Storage
from ruggedraft.standins.demo import set_up_demo
from ruggedraft.standins.sftp_server import office

from .case import Browser, BrowserCase


class ReadmeStory(BrowserCase):
    reader_rate = 6_000_000

    def fill_card(self) -> None:
        """In place of the small world of the other tests."""
        call_command("flush", interactive=False, verbosity=0)
        self.before_the_station.clear()
        set_up_demo(timezone.now() - timedelta(hours=3))
        self.addCleanup(office(hub.home()).start().stop)
        self.addCleanup(Storage(hub.home()).start().stop)
        for name in ("wren", "pip", "ida"):
            person = Person.objects.get(username=name)
            person.set_password(f"{name}-password")
            person.save()

    def enter(self, wren: Browser, css: str, words: str = "") -> None:
        wren.tab_to(css, words)
        wren.press(Keys.ENTER)

    def hub(self, wren: Browser, *acts: str) -> None:
        """With the drawer: these buttons, one after the other."""
        self.enter(wren, "[data-hub-tab]")
        for act in acts:
            self.enter(wren, f"[data-hub] button[aria-label='{act}'], [data-hub] button[data-format='{act}']")
        self.enter(wren, "[data-hub-tab]")

    def slot(self, wren: Browser, number: int, *words: str) -> None:
        wren.press(str(number))
        for part in words:
            wren.see(f"[data-slot='slot {number}'].chosen", part)

    def test_readmes_story_by_keyboard_alone(self):
        wren = self.browser("wren")
        self.offloaded_signed_and_handed_out(wren)
        self.refused_before_copying(wren)
        self.half_held_and_pulled(wren)
        self.a_clock_that_is_wrong(wren)
        self.a_part_is_taken(wren)
        self.a_rig_is_uneven(wren)
        self.brought_above_the_line(wren)
        self.rot_is_found_by_comparing(wren)
        self.files_are_gone(wren)
        self.one_picture_for_the_crew(wren)
        self.assertEqual(wren.console_errors(), [])

    def offloaded_signed_and_handed_out(self, wren: Browser) -> None:
        wren.see("[data-next]", "Offload A003")
        self.enter(wren, "[data-next]", "Offload A003")
        wren.see("[data-outcome='well']", "both agree with the card")
        wren.see("[data-next]", "On to Clearing")
        wren.press("o")
        self.enter(wren, "[data-sign]", "Sign A003")
        wren.see("[role=dialog]", "A003 lives on these stores alone")
        wren.press(*"a003", Keys.ENTER)
        wren.see("[data-card='A-03'][data-standing='cleared']", "CLEAR")
        self.assertTrue(Clearance.objects.filter(roll__tag="A003").exists())
        self.hub(wren, "Take out A-03")
        wren.see("[data-card='A-03'][data-standing='handed back']", "OUT")

    def refused_before_copying(self, wren: Browser) -> None:
        wren.press("b")
        wren.see("[data-slot='slot 2']")
        self.slot(wren, 2)
        wren.see("[data-refusal]", "too small")
        self.assertTrue(wren.off(wren.see("[data-next]", "Offload C001")))

    def half_held_and_pulled(self, wren: Browser) -> None:
        self.hub(wren, "Put S-02 into slot 4")
        self.slot(wren, 4, "S-02")
        wren.see("[data-held]", "10 files already held, 68 not")
        wren.see("[data-next]", "Offload S")
        wren.press("o")
        wren.see("[data-store][data-state='running'] [data-words]", "read back")
        self.hub(wren, "Take out S-02")
        wren.see("[data-pulled='S-02']", "left in the middle")
        self.enter(wren, "[data-acknowledge]")
        wren.see("[data-slot='slot 4']", "empty")

    def a_clock_that_is_wrong(self, wren: Browser) -> None:
        self.hub(wren, "Put S-03 into slot 4")
        self.slot(wren, 4, "S-03")
        wren.see("[data-finding='future']", "in the future")
        showed = wren.tab_to("[data-showed]")
        was = wren.see("[data-was]").get_attribute("value")
        wren.press(f"{int(was[:4]) + 5}{was[4:]}")
        self.assertEqual(showed.get_attribute("value")[4:], was[4:])
        wren.see("[data-ahead]", "This moves the times shown of")
        wren.press(Keys.ENTER)
        wren.see("[data-clock], .findings", "clock put right")

    def a_part_is_taken(self, wren: Browser) -> None:
        wren.tab_to("[data-until]")
        shown = wren.see(".sheet .soft", "Shot ").text
        wren.press(shown.split(" to ")[0][-5:] + ":59", Keys.ENTER)
        wren.see("[data-taken]", "behind, by name")
        wren.press(Keys.ESCAPE)
        self.enter(wren, "[data-next]")
        wren.see("[data-outcome='well']")
        self.assertTrue(LeftBehind.objects.exists())
        wren.press("s")
        self.enter(wren, "[data-plan='Stills']")
        wren.tab_to("[data-names-template]")
        wren.press("{roll}_{name}")
        wren.see("[data-example] [data-kept]", "_SKR_")

    def a_rig_is_uneven(self, wren: Browser) -> None:
        self.enter(wren, "nav a", "Bench")
        self.hub(wren, "Take out S-03", "Take out C-01", "Take out B-02", "Put R1-02 into slot 1",
                 "Put R2-01 into slot 2", "Put R3-01 into slot 3", "Put R4-01 into slot 4")  # fmt: skip
        self.slot(wren, 3, "R3-01")
        wren.see("[data-rig-odd]", "R3")
        wren.see("[data-rig-panel]", "R4")

    def brought_above_the_line(self, wren: Browser) -> None:
        wren.press("t")
        wren.see("[data-part='below'] [data-roll='Q001']", "Below the line")
        self.enter(wren, "[data-roll='Q001'] [data-step='copy']", "Copy Q001 to Office array")
        wren.see("[data-roll='Q001'][data-state='safe']")

    def rot_is_found_by_comparing(self, wren: Browser) -> None:
        wren.go("/stores")
        wren.see("[data-store='Cart SSD 1']")
        self.hub(wren, "let a bit rot: Cart SSD 1")
        wren.tab_to("[data-left] [role='combobox']")
        wren.press("the ledger", Keys.ENTER)
        wren.tab_to("[data-right] [role='combobox']")
        wren.press("Cart SSD 1", Keys.ENTER)
        wren.tab_to("[data-by-content] input")
        wren.press(Keys.SPACE)
        self.enter(wren, "[data-compare-go]", "Compare them")
        wren.see("[data-kind='different']", "1 file different")
        wren.see("[data-difference]", "different")
        wren.see("[data-doubted]", "The copy with it is being read again")
        wren.until(lambda: ReadingResult.objects.filter(result="differs").exists(), "the ledger knows it too")

    def files_are_gone(self, wren: Browser) -> None:
        wren.press("b")
        wren.see("[data-slot='slot 1']")
        self.hub(wren, "Take out R1-02", "B-02", "Put B-02 into slot 1")
        self.slot(wren, 1, "FILES GONE")
        wren.see("[data-gone]", "is not on it any more, and in no copy")
        wren.tab_to("[data-gone-reason]")
        wren.press("formatted on purpose: a test clip", Keys.ENTER)
        wren.until(lambda: not wren.driver.find_elements("css selector", "[data-gone]"), "somebody answered")

    def one_picture_for_the_crew(self, wren: Browser) -> None:
        pip = self.browser("pip", 390, 844)
        pip.go("/tidewrack/cards/A-02")
        self.enter(pip, "[data-mine]", "I have it")
        pip.see("[data-holder]", "Pip Osier has it")
        self.enter(pip, "[data-write-note]")
        pip.tab_to("[data-note-words]")
        pip.press("door sticks", Keys.ENTER)
        pip.see("[data-note]", "door sticks")
        wren.press("/")
        wren.see("[data-where-is]")
        wren.press("where is card 2?")
        wren.see("[data-found-thing='A-02']", "with Pip Osier")
        wren.press(Keys.ESCAPE)
        wren.go("/tidewrack/handover")
        self.enter(wren, "[data-hand-over]", "Hand over")
        wren.see("[data-to-take] [data-matter]", "A-02, with Pip Osier")
        ida = self.browser("ida")
        ida.go("/tidewrack/handover")
        self.enter(ida, "[data-take-all]")
        ida.see("[data-nothing-open]")
        ida.go("/tidewrack/cards")
        self.enter(ida, "[data-labels]")
        ida.see("[data-make-labels]", "Make the PDF")
