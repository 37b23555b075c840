"""In the browser: the Tally is narrowed, walked over by keyboard, and what a roll lacks is mended from it."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.standins import card_maker, hub
from tests.server.world import SHOT

from .case import BrowserCase


class Tally(BrowserCase):
    def setUp(self):
        super().setUp()
        self.page = self.browser("wren")
        self.offload("A001")
        hub.remove("slot-1")
        _, folder = self.new_card("A-02", {})
        card_maker.add_stills(folder, prefix="SKR_", first=1, count=3, start=SHOT, kinds=["JPG"])
        hub.insert("A-02", "slot-1")
        self.page.see("[data-slot='slot 1']", "A-02")
        self.offload("A002")

    def offload(self, tag: str) -> None:
        self.page.tab_to("[data-next]", f"Offload {tag}")
        self.page.press(Keys.ENTER)
        self.page.see("[data-outcome='well']", "both agree with the card")

    def tags(self) -> list[str]:
        return [
            row.get_attribute("data-roll") for row in self.page.driver.find_elements(By.CSS_SELECTOR, "[data-roll]")
        ]

    def focused(self) -> str:
        return self.page.driver.switch_to.active_element.get_attribute("aria-label") or ""

    def test_it_is_narrowed_by_keyboard_and_stays_so_while_another_screen_is_looked_at(self):
        self.page.go("/tally")
        self.page.see("[data-count]", "2 rolls")
        self.page.tab_to("[data-search]")
        self.page.press("a-02")
        self.page.see("[data-count]", "1 roll")
        self.assertEqual(self.tags(), ["A002"])
        self.page.tab_to("nav a", "Clearing")
        self.page.press(Keys.ENTER)
        self.page.see("[data-card='A-02']")
        self.page.tab_to("nav a", "Tally")
        self.page.press(Keys.ENTER)
        self.page.see("[data-count]", "1 roll")
        self.page.tab_to("[data-store] [role='combobox']")
        self.page.press(Keys.SPACE, "n", Keys.ENTER)  # none read on one
        self.page.see("[data-none]", "No roll is like that.")
        self.assertEqual(self.page.violations(), [])
        self.page.tab_to("[data-none] button", "Show all")
        self.page.press(Keys.ENTER)
        self.page.see("[data-count]", "2 rolls")
        self.assertEqual(self.page.console_errors(), [])

    def test_a_view_is_kept_and_what_changed_since_the_last_look_is_told(self):
        self.page.go("/tally")
        self.page.tab_to("[data-begin-looking]")
        self.page.press(Keys.ENTER)
        self.page.see("[data-nothing]", "no roll's state")
        self.page.tab_to("[data-search]")
        self.page.press("a-02")
        self.page.see("[data-count]", "1 roll")
        self.page.tab_to("[data-name-view]")
        self.page.press(Keys.ENTER)
        self.page.tab_to("[data-view-name]")
        self.page.press(*"mine", Keys.ENTER)
        self.page.see("[data-view='mine'] [aria-pressed='true']", "mine")
        self.page.tab_to("[data-all]")
        self.page.press(Keys.ENTER)
        self.page.see("[data-count]", "2 rolls")
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.page.see("[data-became='short again']", "A001 and A002")
        self.assertEqual(self.page.violations(), [])
        self.page.tab_to("[data-view='mine'] button")
        self.page.press(Keys.ENTER)
        self.page.see("[data-count]", "1 roll")
        self.page.see("[data-show-changed]").click()
        self.page.see("[data-changed]", "not as I last saw it")
        self.page.tab_to("[data-looked]")
        self.page.press(Keys.ENTER)
        self.page.see("[data-nothing]")
        self.page.driver.refresh()  # it is kept by the server, for whoever it is of
        self.page.see("[data-view='mine']")
        self.page.see("[data-nothing]")
        self.assertEqual(self.page.console_errors(), [])

    def test_arrows_move_over_the_marks_and_the_details_stand_beside_them(self):
        self.page.go("/tally")
        self.page.tab_to("[data-roll='A002'] [data-mark]")
        self.assertIn("A002 on one: whole, agrees with the card", self.focused())
        self.page.see("[data-details]", "3 files")
        self.page.press(Keys.ARROW_DOWN)
        self.assertIn("A001 on one", self.focused())
        self.page.press(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        self.assertIn("A001 on three: nothing of it was ever written there", self.focused())
        self.assertEqual(self.page.violations(), [])
        self.page.press(Keys.ESCAPE)
        self.assertEqual(self.page.driver.find_elements(By.CSS_SELECTOR, "[data-details]"), [])
        self.page.press(Keys.HOME, Keys.ARROW_UP, Keys.ENTER)
        self.page.see("h1", "A002")
        self.assertEqual(self.page.console_errors(), [])

    def test_what_a_roll_lacks_stands_at_its_end_with_the_act_that_helps(self):
        self.post("stores/two/lost", {"reason": "fell into the creek"})
        self.page.go("/tally")
        self.page.see("[data-part='short'] [data-roll='A002'] [data-lacks]", "1 of 2 copies that count")
        self.page.tab_to("[data-roll='A002'] [data-step='copy']", "Copy A002 to three")
        self.page.press(Keys.ENTER)
        self.page.see("[data-day] [data-roll='A002'][data-state='safe']")
        self.page.see("[data-day] th", "2 rolls")
        self.page.see("[data-day] th", "1 of them is not safe and stands above")
        self.assertEqual(self.page.console_errors(), [])
