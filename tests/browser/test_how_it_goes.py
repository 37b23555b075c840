"""Pictures of how it goes, each with its answer and its figures; and one-time codes, by a phone's camera."""

import base64
import time
from io import BytesIO
from urllib.parse import parse_qs, urlsplit

import zxingcpp
from PIL import Image
from selenium.webdriver.common.keys import Keys

from tests.server.test_one_time_codes import code_at

from .case import BrowserCase


class HowItGoes(BrowserCase):
    def test_each_picture_answers_its_question_and_has_its_figures_beside_it(self):
        wren = self.browser("wren")
        wren.go("/heron/trends")
        wren.see("[data-nothing]", "Nothing was offloaded yet")
        self.offload()
        wren.see("[data-trend='waiting'] [data-answer]", "1 of 1 card")
        wren.see("[data-trend='ages'] [data-answer]", "0 of 2 copies were not read back")
        wren.see("[data-trend='waiting'] canvas")
        self.assertEqual(wren.see("[data-trend='ages'] [role=img]").get_attribute("aria-label")[:11], "0 of 2 copi")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-trend='ages'] summary", "The figures")
        wren.press(Keys.ENTER)
        wren.see("[data-trend='ages'] td", "in the last 24 hours")
        self.assertEqual(wren.console_errors(), [])
        phone = self.browser("pip", 390, 844)
        phone.go("/heron/trends")
        phone.see("[data-trend='ages'] canvas")
        wide = phone.driver.execute_script("return document.documentElement.scrollWidth")
        self.assertLessEqual(wide, 390)


class OneTimeCodes(BrowserCase):
    def test_a_phone_reads_them_and_signing_in_asks_for_one(self):
        wren = self.browser("wren")
        wren.see("[data-account]").click()
        wren.see("[data-own-password] input, input[data-own-password]").send_keys("wren-password")
        wren.tab_to("[data-begin-codes]")
        wren.press(Keys.ENTER)
        shown = wren.see("[data-codes-begun] img")
        time.sleep(0.5)
        (read,) = zxingcpp.read_barcodes(Image.open(BytesIO(shown.screenshot_as_png)))
        told = parse_qs(urlsplit(read.text).query)
        self.assertEqual((told["issuer"], told["digits"], told["period"]), (["Rugged Raft"], ["6"], ["30"]))
        typed = wren.see("[data-secret]").text
        self.assertEqual(told["secret"], [typed])
        self.assertEqual(wren.violations(), [])
        secret = base64.b32decode(typed)
        wren.see("[data-first-code]").send_keys(code_at(secret, time.time() - 30))
        wren.see("[data-confirm-codes]").click()
        wren.see("[data-end-codes]", "Ask for no codes any more")
        wren.press(Keys.ESCAPE)
        wren.see("button[aria-label='Sign out']").click()
        wren.see("input[autocomplete=username]").click()
        wren.press("wren", Keys.TAB, "wren-password", Keys.ENTER)
        wren.see("[data-said-no]", "Type the code that your phone shows")
        self.assertEqual(wren.driver.switch_to.active_element, wren.see("[data-code]"))
        wren.press(code_at(secret, time.time()), Keys.ENTER)
        wren.see("nav", "Bench")
