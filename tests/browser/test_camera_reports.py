"""A camera report in the browser: taken in, its columns said, and what does not agree named."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.standins import card_maker
from tests.server.world import SHOT

from .case import BrowserCase

REPORT = "Reel;File;Scene;Take;Notes\nA001;1;12;3;soft from 03:10\n;2;12;4;\n;7;13;1;<b>last</b>\n"


class CameraReports(BrowserCase):
    reader_rate = 10**9

    def fill_card(self):
        for n in (1, 2, 8):
            card_maker.add_file(self.card_folder, f"CLIPS/A001_C00{n}.MOV", bytes([n]) * 90, SHOT)

    def test_what_a_report_has_and_the_card_has_not_is_named(self):
        self.offload()
        pip = self.browser("pip")
        pip.see("nav").find_element(By.LINK_TEXT, "Tally").click()
        pip.tab_to("[data-reports-link]")
        pip.press(Keys.ENTER)
        pip.see("[data-no-report]")
        big = self.base / "big.csv"
        big.write_bytes(b"x" * 1_000_001)
        pip.see("[data-report-file]").send_keys(str(big))
        pip.see("[data-too-large]", "at most 1,000,000 are read")
        no_csv = self.base / "no.csv"
        no_csv.write_bytes(b"PK\x03\x04")
        pip.see("[data-report-file]").send_keys(str(no_csv))
        pip.see("[data-said-no]", "a spreadsheet or an archive, and no CSV")
        report = self.base / "day-1.csv"
        report.write_text(REPORT)
        pip.see("[data-report-file]").send_keys(str(report))
        pip.see("[data-column='Reel']", "Roll")
        pip.see("[data-column='Notes']", "Remark")
        pip.tab_to("[data-take-in]")
        self.assertEqual(pip.violations(), [])
        pip.press(Keys.ENTER)
        pip.see("[data-report='day-1.csv']", "2 of 3 lines fit a clip")
        pip.see("[data-mismatch]", "The report has clip 7, A001 has not.")
        pip.see("[data-mismatch]", "A001 has A001_C008, the report has not.").find_element(By.TAG_NAME, "a").click()
        pip.see("[data-roll-report]", "soft from 03:10")
        pip.see("[data-reported='7']", "<b>last</b>")
        self.assertEqual(pip.violations() + pip.console_errors(), [])
