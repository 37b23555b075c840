"""A store on a real SFTP server, from its introduction to a copy that counts, and while its server is away."""

import subprocess
from pathlib import Path

import asyncssh
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.standins.sftp_server import SftpServer
from ruggedraft.stores.models import Store

from .case import Browser, BrowserCase


class OnAServer(BrowserCase):
    def fill_card(self):
        self.server = SftpServer(self.base / "sshd").start()
        self.addCleanup(self.server.stop)
        self.folder = self.base / "sshd" / "rolls"
        self.folder.mkdir()

    def write(self, page: Browser, css: str, words: str) -> None:
        """Into the field that the keyboard comes to."""
        field = page.tab_to(css)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words)

    def introduce(self, page: Browser) -> None:
        page.go("/stores")
        page.tab_to("[data-introduce]", "Introduce a server")
        page.press(Keys.ENTER)
        self.write(page, "[data-host]", "127.0.0.1")
        self.write(page, "[data-port] input", str(self.server.port))
        page.tab_to("[data-ask-host-key]")
        page.press(Keys.ENTER)
        shown = page.see("[data-fingerprint] code").text
        said = subprocess.run(["ssh-keygen", "-lf", self.server.home / "host_key.pub"], capture_output=True, text=True)
        self.assertEqual(shown, said.stdout.split()[1])
        for css, words in (
            ("[data-user]", self.server.user), ("[data-folder]", str(self.folder)),
            ("[data-key]", self.server.client_key),
            ("[data-name]", "array"), ("[data-device]", "the array"), ("[data-place]", "office"),
            ("[data-reason]", "it hums under the stairs"),
        ):  # fmt: skip
            self.write(page, css, words)
        self.assertEqual(page.violations(), [])
        page.tab_to("[data-introduce-server]", "Copies may go to array")
        page.press(Keys.ENTER)
        page.see("[data-store='array']", "free of")

    def test_introduced_by_keyboard_offloaded_to_and_away(self):
        sol, wren = self.browser("sol"), self.browser("wren")
        self.introduce(sol)
        self.assertNotIn("PRIVATE", sol.driver.page_source)
        sol.see("[data-server='array']", "Read back over the network.")
        self.plan.stores.set(Store.objects.filter(name__in=("one", "array")))
        wren.go("/")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='well']", "read back: both agree with the card.")
        copy = next(path for path in self.folder.rglob("A001") if path.is_dir())
        subprocess.run(["diff", "-r", self.card_folder, copy], check=True)
        listed = next(self.folder.rglob("*.xxh128"))
        subprocess.run(["xxhsum", "-c", "--quiet", listed.name], cwd=listed.parent, check=True)
        wren.go("/clearing")
        wren.see("[data-card='A-01']", "SIGN?")
        self.server.stop()
        sol.see("[data-store='array'] [data-trouble]", "see to")
        sol.see("[data-store='array']", "not connected")
        self.server.start()
        sol.see("[data-store='array']", "free of")
        self.assertEqual(sol.console_errors() + wren.console_errors(), [])

    def test_what_does_not_open_it_is_refused_and_changes_nothing(self):
        sol = self.browser("sol")
        self.introduce(sol)
        before = Store.objects.get(name="array").address
        sol.see("[data-credentials='array']").click()
        stranger = asyncssh.generate_private_key("ssh-ed25519").export_private_key().decode()
        sol.see("[data-server='array'] [data-key]").send_keys(stranger)
        sol.see("[data-server='array'] [data-why]").send_keys("somebody left")
        sol.see("[data-server='array'] button", "Try it, and keep it").click()
        sol.see("[data-server='array'] [role='alert']", "does not accept our key")
        field = sol.see("[data-server='array'] [data-key]")
        field.clear()
        field.send_keys(self.server.client_key)
        sol.see("[data-server='array'] button", "Try it, and keep it").click()
        sol.until(lambda: not sol.driver.find_elements(By.CSS_SELECTOR, "[data-server='array'] form"), "it was kept")
        self.assertEqual(Store.objects.get(name="array").address, before)
        self.assertTrue(Path(self.folder / ".raft-store").exists())
        sol.go("/log")
        sol.see("ol li", "What opens the server of 'array' was given anew: somebody left.")
