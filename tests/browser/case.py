"""The real thing: web server and station worker as processes of their own, Chromium, a real database and folders."""

import base64
import socket
import time
import urllib.request
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from django.test import TransactionTestCase
from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.wait import WebDriverWait

from tests.server.processes import PATIENCE, Processes

AXE = Path(settings.ROOT) / "web" / "node_modules" / "axe-core" / "axe.min.js"
_FLAGS = (
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--hide-scrollbars",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage",
)  # fmt: skip

_RUN_AXE = """
const done = arguments[0]
const runOnly = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
const told = (rule) => rule.id + ': ' + rule.nodes.map((node) => node.html).join(' | ').slice(0, 400)
axe.run(document, { runOnly }).then((result) => done(result.violations.map(told)))
"""

_FETCH = """
const done = arguments[arguments.length - 1]
fetch(arguments[0]).then((answer) => answer.arrayBuffer()).then((made) => {
  let text = ''
  for (const byte of new Uint8Array(made)) text += String.fromCharCode(byte)
  done(btoa(text))
})
"""


class Browser:
    """One person at one screen."""

    def __init__(self, address: str, width: int = 1280, height: int = 800) -> None:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in (*_FLAGS, f"--window-size={width},{height}"):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        service = webdriver.ChromeService("/usr/bin/chromedriver")
        self.driver = webdriver.Chrome(options=options, service=service)
        size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 600}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
        self.address = address

    def go(self, path: str) -> None:
        self.driver.get(self.address + path)

    def see(self, css: str, words: str = "", patience: float = PATIENCE) -> WebElement:
        """The first element that matches and shows these words, once there is one. patience: in seconds"""

        def look(driver):
            return next((e for e in driver.find_elements(By.CSS_SELECTOR, css) if words in e.text), None)

        try:
            return WebDriverWait(self.driver, patience, 0.1, ignored_exceptions=[Exception]).until(look)
        except Exception as error:
            body = self.driver.find_element(By.TAG_NAME, "body").text
            raise AssertionError(f"{css} with '{words}' did not appear. The screen says:\n{body}") from error

    def all(self, css: str) -> list[WebElement]:
        return list(self.driver.find_elements(By.CSS_SELECTOR, css))

    def fetched(self, css: str) -> bytes:
        """What a link that is to be seen leads to, as this person gets it."""
        address = self.see(css).get_attribute("href")
        return base64.b64decode(self.driver.execute_async_script(_FETCH, address))

    def until(self, holds: Callable[[], object], words: str) -> None:
        WebDriverWait(self.driver, PATIENCE, 0.1, ignored_exceptions=[Exception]).until(lambda _: holds(), words)

    def press(self, *keys: str) -> None:
        """Type on whatever has the focus, as a person without a mouse does."""
        for key in keys:
            webdriver.ActionChains(self.driver).send_keys(key).perform()
            time.sleep(0.08)

    def scan(self, code: str) -> None:
        """What a slow hand scanner types: a tenth of a second each, kept by the browser's driver and not by a test."""
        keys = webdriver.ActionChains(self.driver)
        for key in (*code, Keys.ENTER):
            keys.send_keys(key).pause(0.1)
        keys.perform()

    def tab_to(self, css: str, words: str = "") -> WebElement:
        """Press Tab until the wanted control has the focus. Fails if it cannot be reached that way."""
        self.see(css, words)
        for _ in range(250):
            with suppress(StaleElementReferenceException):  # what is live may be drawn anew under the keyboard
                here = self.driver.switch_to.active_element
                if (
                    here.tag_name != "body"
                    and words in here.text
                    and here in self.driver.find_elements(By.CSS_SELECTOR, css)
                ):
                    return here
            self.press(Keys.TAB)
        raise AssertionError(f"{css} with '{words}' cannot be reached by keyboard")

    def sign_in(self, name: str, place: str = "Bench") -> None:
        """place: of the first that they see."""
        self.go("/")
        self.see("input[autocomplete=username]")
        self.press(name, Keys.TAB, f"{name}-password", Keys.ENTER)
        self.see("nav", place)

    def clear_card(self, label: str, tag: str) -> None:
        """Sign for it by keyboard, from any place; tag: of the roll on it."""
        self.press("c")
        self.tab_to("[data-sign]", f"Sign {tag}")
        self.press(Keys.ENTER)
        self.see("[role=dialog]", f"{tag} lives on these stores alone")
        self.press(*tag.lower(), Keys.ENTER)
        self.see(f"[data-card='{label}']", "CLEAR")

    def open_every_part(self) -> None:
        """Unfold whatever is folded on this page, so that nothing of it goes unseen."""
        for head in self.driver.find_elements(By.CSS_SELECTOR, ".part-head[aria-expanded=false]"):
            head.click()
        self.until(
            lambda: not self.driver.find_elements(By.CSS_SELECTOR, ".part-head[aria-expanded=false]"), "all is open"
        )

    def violations(self) -> list[str]:
        """What axe finds against WCAG 2.2 A and AA, with the elements."""
        self.driver.execute_script(AXE.read_text())
        found = self.driver.execute_async_script(_RUN_AXE)
        return list(found)

    @staticmethod
    def off(button: WebElement) -> bool:
        """Whether an act's button does nothing at present. It can be come to all the same, and says why."""
        return button.get_attribute("aria-disabled") == "true"

    def console_errors(self) -> list[str]:
        """What the page complained of; that somebody is signed out, or was refused, is an answer and no error."""
        answers = ("401 (Unauthorized)", "409 (Conflict)")
        entries = self.driver.get_log("browser")
        return [e["message"] for e in entries if e["level"] == "SEVERE" and not any(a in e["message"] for a in answers)]

    def close(self) -> None:
        self.driver.quit()


class BrowserCase(Processes, TransactionTestCase):
    def fill_card(self) -> None:
        """What else is on card A-01; before the station starts, which would miss files that it saw half written."""

    def setUp(self):
        super().setUp()
        self.fill_card()
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.launch_web()
        self.start_station()
        self._wait_for_web()

    def launch_web(self) -> None:
        words = ["uvicorn", "ruggedraft.project.asgi:application", "--port", str(self.port), "--log-level", "warning"]
        self.launch("web", ["-m", *words])

    def stop_web(self) -> None:
        self.processes["web"].kill()
        self.processes["web"].wait()

    def start_web(self) -> None:
        self.launch_web()
        self._wait_for_web()

    def browser(self, name: str, width: int = 1280, height: int = 800, *, place: str = "Bench") -> Browser:
        browser = Browser(f"http://127.0.0.1:{self.port}", width, height)
        self.addCleanup(browser.close)
        browser.sign_in(name, place)
        return browser

    def _wait_for_web(self) -> None:
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/session", timeout=2)
                return
            except OSError:
                time.sleep(0.1)
        raise AssertionError("the web server did not come up")
