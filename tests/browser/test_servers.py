"""A store on a real SFTP server, from its introduction to a copy that counts, and while its server is away."""

import subprocess
import uuid
from pathlib import Path

import asyncssh
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret, objects_client
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.bucket_server import ACCESS_KEY, SECRET_KEY, BucketServer
from ruggedraft.standins.sftp_server import SftpServer
from ruggedraft.standins.webdav_server import PASSWORD, USER, WebdavServer
from ruggedraft.stores.models import Store
from tests.server.world import SHOT

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


class ABucket(BrowserCase):
    def fill_card(self):
        self.server = BucketServer().start()
        self.addCleanup(self.server.stop)
        self.keys = ObjectsSecret(ACCESS_KEY, SECRET_KEY)
        self.name = f"rolls-{uuid.uuid4().hex}"
        self.client = objects_client(ObjectsAddress(self.server.endpoint, "us-east-1", ""), self.keys)
        self.addCleanup(self.client.close)
        self.client.create_bucket(Bucket=self.name)
        self.blank_card()  # one of its names can be no key
        for n in range(3):
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/A{n}.JPG", bytes([n]) * 200_000, SHOT)
        hub.insert("A-01", "slot-1")

    def test_introduced_fed_later_attested_and_checked(self):
        """What was offloaded to drives is brought onward; the server's word is shown as that, until it is read back."""
        sol, wren = self.browser("sol"), self.browser("wren")
        sol.go("/stores")
        sol.see("[data-introduce]").click()
        sol.see("[data-kind-of-server] [role='combobox']").click()
        sol.see("[role='option']", "a bucket").click()
        for css, words in (
            ("[data-endpoint]", self.server.endpoint), ("[data-bucket]", self.name), ("[data-prefix]", "heron"),
            ("[data-access-key]", ACCESS_KEY), ("[data-secret-key]", SECRET_KEY), ("[data-name]", "bucket"),
            ("[data-device]", "the storage"), ("[data-place]", "far shore"), ("[data-reason]", "its contract"),
        ):  # fmt: skip
            sol.see(css).send_keys(words)
        self.assertEqual(sol.violations(), [])
        sol.see("[data-introduce-server]", "Copies may go to bucket").click()
        sol.see("[data-store='bucket']", "as much as is paid for")
        sol.see("[data-server='bucket']", "Attested by its server; read back when checked.")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='well']", "both agree with the card.")
        wren.go("/stores")
        self.choose(wren, "[data-onward-to]", "bucket")
        wren.see("[data-going='A001']", "from one")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-bring]", "to bucket")
        wren.press(Keys.ENTER)
        wren.see("[data-staying='A001']", "stays: all of it is there")
        wren.go("/tally/A001")
        wren.see("[data-copy='bucket']", "attested")
        held = self.client.list_objects_v2(Bucket=self.name, Prefix="heron/")["Contents"]
        self.assertEqual(
            {Path(one["Key"]).name: one["Size"] for one in held if one["Key"].endswith(".JPG")},
            {file.name: file.stat().st_size for file in self.card_folder.rglob("*.JPG")},
        )
        wren.go("/stores")
        self.choose(wren, "[data-onward-to]", "bucket")
        wren.see("[data-staying='A001']")
        wren.go("/tally/A001")
        wren.see("button", "Check bucket").click()
        wren.see("[data-copy='bucket']", "read back")
        self.assertEqual(sol.console_errors() + wren.console_errors(), [])

    def choose(self, page: Browser, css: str, words: str) -> None:
        page.see(f"{css} [role='combobox']").click()
        page.see("[role='option']", words).click()


class OnWebdav(BrowserCase):
    def test_introduced_by_keyboard(self):
        server = WebdavServer(self.base / "webdav").start()
        self.addCleanup(server.stop)
        (server.folder / "rolls").mkdir()
        sol = self.browser("sol")
        sol.go("/stores")
        sol.tab_to("[data-introduce]")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-kind-of-server] [role='combobox']")
        sol.press(Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ENTER)
        for css, words in (
            ("[data-url]", f"{server.url}/rolls"), ("[data-user]", USER), ("[data-password]", PASSWORD),
            ("[data-name]", "dav"), ("[data-device]", "the box"), ("[data-place]", "office"),
            ("[data-reason]", "it stands on a shelf"),
        ):  # fmt: skip
            sol.tab_to(css).send_keys(words)
        self.assertEqual(sol.violations(), [])
        sol.tab_to("[data-introduce-server]", "Copies may go to dav")
        sol.press(Keys.ENTER)
        sol.see("[data-server='dav']", "Read back over the network. It keeps no times")
        self.assertNotIn(PASSWORD, sol.driver.page_source)
        sol.go("/stores")
        sol.see("[data-onward-to] [role='combobox']").click()
        sol.see("[role='option']", "dav")
        self.assertEqual(sol.console_errors(), [])
