"""The Log: its days, what can be asked of it, and where its rows lead."""

from selenium.webdriver.common.keys import Keys

from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.standins import hub

from .case import BrowserCase


class Log(BrowserCase):
    def setUp(self):
        super().setUp()
        self.offload()
        for _ in range(3):
            hub.remove("slot-1")
            look(self.station)
            hub.insert("A-01", "slot-1")
            look(self.station)
        self.page = self.browser("wren")
        self.page.go("/log")
        self.page.see("ol li")

    def rows(self) -> list[str]:
        words = "return [...document.querySelectorAll('ol li')].map((row) => row.innerText)"
        return self.page.driver.execute_script(words)

    def test_comings_and_goings_are_one_row_that_opens_and_rows_lead_to_what_they_are_about(self):
        fold = self.page.see("[data-folded] summary", "comings and goings of cards: A-01")
        fold.click()
        self.page.see("[data-folded]", "Card A-01 was taken out of slot 1.")
        self.page.see("ol li a", "A001").click()
        self.page.see("h1", "A001")
        self.page.driver.back()
        self.page.see("[data-folded] summary").click()
        self.page.see("[data-folded] a", "A-01").click()
        self.page.see(".scanned[data-card='A-01']")

    def test_by_keyboard_it_is_narrowed_to_a_kind_a_person_and_words_and_letters_are_no_shortcuts(self):
        everything = len(self.rows())
        self.page.tab_to("[data-kind] [role='combobox']")
        self.page.press(Keys.ENTER)
        self.page.see("[role='option']", "set-up")
        self.assertEqual(self.page.violations(), [])
        self.page.press("c", "o", "p")
        self.page.press(Keys.ENTER)
        self.page.until(lambda: len(self.rows()) < everything, "fewer rows")
        self.assertIn("/log", self.page.driver.current_url)  # C leads to Clearing, and O offloads, elsewhere
        self.assertTrue(all("offload" in row.lower() for row in self.rows()), self.rows())
        self.page.tab_to("[data-who] [role='combobox']")
        self.page.press(Keys.ENTER)
        self.page.see("[role='option']", "Wren")
        self.page.press("w", Keys.ENTER)
        self.page.until(lambda: len(self.rows()) == 1, "only what wren did")
        self.page.see("ol li", "Offload of card A-01")
        self.page.see("[data-search]").send_keys("no such words")
        self.page.see("[data-none]", "Nothing in the log is like that")
        self.page.see("button", "Show everything").click()
        self.page.until(lambda: len(self.rows()) == everything, "everything again")
        self.assertEqual(self.page.console_errors(), [])

    def test_older_entries_come_as_they_are_scrolled_to(self):
        first = JournalEntry.objects.earliest("id").sentence
        for n in range(130):
            self.post("setup/rule", {"copies": 2 + n % 2, "reason": f"reason {n}"}, self.sol, method="patch")
        self.page.go("/log")
        self.page.see("ol li", "reason 129")
        self.assertFalse(any(first in row for row in self.rows()))
        to_the_end = "document.querySelector('[data-more]')?.scrollIntoView()"
        self.page.until(
            lambda: self.page.driver.execute_script(to_the_end) or any(first in row for row in self.rows()),
            "the first entry of all",
        )
