"""WebDAV against wsgidav's server on a real folder; and one that fails in every way one may."""

import io
import os
import random
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

from urllib3 import HTTPResponse

from ruggedraft.core.errors import Conflict, FileRefused, StoreError, StoreFull, StoreVanished
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.stores.remote import MARK
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavLine, WebdavSecret, WebdavStore, sending
from ruggedraft.core.transfer import Target, transfer
from ruggedraft.standins.webdav_server import PASSWORD, USER, WebdavServer

from .faulty_http import FaultsInTurn, FaultyHttp, turned
from .store_contract import StoreContract, T
from .test_faults import FILES, XXH

SECRET = WebdavSecret(USER, PASSWORD)


class WebdavCase(TestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        home = TemporaryDirectory()
        cls.addClassCleanup(home.cleanup)
        cls.server = WebdavServer(Path(home.name), around=cls.around).start()
        cls.addClassCleanup(cls.server.stop)

    @classmethod
    def around(cls, application):
        return application

    def a_store(self, mark: str = "mark-of-it", patience_s: float = 10.0) -> WebdavStore:
        self.name = f"rolls {random.randbytes(6).hex()}"
        self.folder = self.server.folder / self.name
        self.folder.mkdir()
        (self.folder / MARK).write_text(mark)
        self.address = WebdavAddress(f"{self.server.url}/{self.name.replace(' ', '%20')}")
        self.line = WebdavLine(SECRET, patience_s)
        return WebdavStore("dav", self.line, self.address, mark)

    def content_of(self, path):
        there = self.folder / path
        return there.read_bytes() if there.is_file() else None


class Webdav(WebdavCase, StoreContract, TestCase):
    def make_store(self):
        return self.a_store()

    def test_a_large_file_is_sent_while_it_comes_and_seen_when_it_is_whole(self):
        content = random.Random(1).randbytes(9 << 20)
        with patch.object(sending, "_SMALL", 1 << 20):
            pending = self.store.write("roll/big", len(content))
            for start in range(0, len(content), 300_000):
                pending.write(memoryview(content)[start : start + 300_000])
            self.assertIsNone(self.content_of("roll/big"))
            pending.end(T)
        self.assertEqual(self.store.commit([pending]), [None])
        self.assertEqual(self.content_of("roll/big"), content)
        self.assertEqual(self.store.read_at("roll/big", 5_000_000, 1000), content[5_000_000:5_001_000])
        self.assertEqual(self.store.read_at("roll/big", len(content), 10), b"")
        with patch.object(sending, "_SMALL", 1 << 20):
            dropped = self.store.write("roll/other", len(content))
            dropped.write(content)
            dropped.discard()
        self.assertEqual([one.name for one in (self.folder / ".raft-runs").rglob("*") if one.is_file()], [])

    def test_names_as_people_and_cameras_give_them(self):
        for name in ("a b", "100% #1.MOV", "Müller & Söhne", "a+b", "[x]{y}", "ß" * 60, "語.mov", "a%20b"):
            with self.subTest(name):
                self.put(f"roll/{name}", name.encode())
                self.assertEqual(self.content_of(f"roll/{name}"), name.encode())
                self.assertIn(name, self.store.look("roll"))
        with self.assertRaises(FileRefused):
            self.store.write("roll/caf\udce9")

    def test_a_server_that_gives_a_file_another_name_than_it_was_told_is_believed_in_nothing(self):
        """This one takes what follows a question mark in a name for no part of it, however it was written."""
        card = MemorySource({"1?.MOV": b"as the card has it", "2.MOV": b"another"})
        (result,) = transfer(card, list_card(card), [Target(self.store, "roll")], XXH).stores
        self.assertEqual((result.agreed, result.verified), ({"2.MOV"}, False))

    def test_whoever_is_let_in_no_more_is_told_so_and_nothing_is_repeated_of_it(self):
        shut = WebdavStore("dav", WebdavLine(WebdavSecret(USER, "wrong-word")), self.address, "mark-of-it")
        with self.assertRaisesRegex(StoreVanished, "does not accept our user and password") as raised:
            shut.open()
        self.assertNotIn("wrong-word", repr(raised.exception))
        self.assertNotIn(PASSWORD, repr(SECRET))

    def test_another_store_an_empty_folder_and_none_at_all_are_not_it(self):
        other = WebdavStore("dav", self.line, self.address, "another")
        with self.assertRaisesRegex(StoreVanished, "another store"):
            other.look("roll")
        away = WebdavStore("dav", self.line, WebdavAddress(f"{self.server.url}/nothing"), "mark-of-it")
        with self.assertRaisesRegex(StoreVanished, "bears no mark"):
            away.look("roll")
        gone = WebdavStore("dav", self.line, WebdavAddress("http://127.0.0.1:1/dav"), "mark-of-it")
        with self.assertRaisesRegex(StoreVanished, "does not answer"):
            gone.open()

    def test_what_is_moved_goes_over_nothing(self):
        self.put("roll/a", b"a")
        self.put("roll/b", b"b")
        with self.assertRaises(Conflict):
            self.store.move("roll/a", "roll/b")
        aside = self.store.set_aside("roll/a")
        self.assertEqual((self.content_of(aside), self.content_of("roll/a")), (b"a", None))

    def test_runs_that_died_are_cleared_by_the_servers_clock(self):
        dead, alive = self.folder / ".raft-runs" / "dead", self.folder / ".raft-runs" / "alive"
        for folder in (dead, alive):
            folder.mkdir(parents=True)
            (folder / "1").write_bytes(b"half")
        os.utime(dead, (0, 0))
        again = WebdavStore("dav", self.line, self.address, "mark-of-it")
        again.open()
        again.close()
        self.assertEqual((dead.exists(), alive.exists()), (False, True))

    def test_a_run_is_read_back_and_proven(self):
        card = MemorySource({"1.MOV": b"as the card has it", "2.MOV": b"another", "empty": b""})
        (result,) = transfer(card, list_card(card), [Target(self.store, "roll")], XXH).stores
        self.assertEqual((result.agreed, result.level, result.verified), (set(card.files), Evidence.READ_BACK, True))


class Odd(TestCase):
    """Answers of servers that one does not meet every day."""

    def store(self, status: int, body: bytes = b"", headers: dict | None = None) -> WebdavStore:
        store = WebdavStore("dav", WebdavLine(SECRET), WebdavAddress("http://127.0.0.1:9/dav"), "")
        answer = HTTPResponse(io.BytesIO(body), headers or {}, status, preload_content=False)
        patched = patch.object(store._line, "ask", lambda *words, **more: answer)
        patched.start()
        self.addCleanup(patched.stop)
        return store

    def listed(self, href: str, size: str = "<getcontentlength>3</getcontentlength>") -> bytes:
        return (
            f'<multistatus xmlns="DAV:"><response><href>{href}</href><propstat><prop><resourcetype/>{size}</prop>'
            "<status>HTTP/1.1 200 OK</status></propstat></response></multistatus>"
        ).encode()

    def test_what_they_mean(self):
        cases = [(401, StoreVanished), (403, StoreVanished), (412, Conflict), (413, FileRefused), (423, FileRefused),
                 (507, StoreFull), (500, StoreVanished), (503, StoreVanished), (301, StoreVanished)]  # fmt: skip
        for status, expected in cases:
            with self.subTest(status), self.assertRaises(expected):
                self.store(status).withdraw("roll/a")

    def test_listings_that_lead_elsewhere_or_cannot_be_read_are_believed_in_nothing(self):
        bomb = b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><x>&b;</x>'
        for body in (self.listed("/etc/passwd"), self.listed("/dav/../x"), self.listed("/dav/a", ""), b"<", bomb,
                     self.listed("/davros/a"), self.listed("/dav/%2e%2e/x")):  # fmt: skip
            with self.subTest(body[:60]), self.assertRaises(StoreError):
                self.store(207, body).look("")

    def test_hrefs_may_be_whole_addresses_and_absent_properties_come_with_another_status(self):
        body = self.listed("http://127.0.0.1:9/dav/a%20b").replace(
            b"</response>",
            b"<propstat><prop><getlastmodified/></prop><status>HTTP/1.1 404 Not Found</status></propstat></response>",
        )
        self.assertEqual(self.store(207, body).look(""), {"a b": (3, None)})

    def test_a_server_that_knows_no_ranges_is_read_from_the_start_and_one_that_gives_others_is_refused(self):
        self.assertEqual(self.store(200, b"0123456789").read_at("a", 4, 3), b"456")
        with self.assertRaises(StoreVanished):
            self.store(206, b"0123", {"Content-Range": "bytes 0-3/10"}).read_at("a", 4, 3)
        with self.assertRaises(StoreVanished):
            self.store(206, b"0123456", {"Content-Range": "bytes 4-10/20"}).read_at("a", 4, 3)

    def test_quotas(self):
        body = (
            b'<multistatus xmlns="DAV:"><response><href>/dav/</href><propstat><prop><quota-available-bytes>70'
            b"</quota-available-bytes><quota-used-bytes>30</quota-used-bytes></prop><status>HTTP/1.1 200 OK</status>"
            b"</propstat></response></multistatus>"
        )
        room = self.store(207, body).room()
        self.assertEqual((room.free, room.total), (70, 100))


STATUS = {"500": "500 Internal Server Error", "503": "503 Service Unavailable", "expired": "401 Unauthorized",
          "full": "507 Insufficient Storage", "locked": "423 Locked"}  # fmt: skip


class Faulty(FaultyHttp):
    answers = tuple(STATUS)
    hows = {
        "PUT": (*STATUS, "done and broken off", "other bytes kept", "fewer bytes kept"),
        "MOVE": (*STATUS, "done and broken off", "said and not done"),
        "MKCOL": (*STATUS, "done and broken off"),
        "GET": ("500", "503", "expired", "truncated", "flipped"),
        "PROPFIND": ("500", "503", "expired", "truncated"),
    }

    def __call__(self, environ, start_response):
        how = self.strikes(environ["REQUEST_METHOD"])
        if how in STATUS:
            environ["wsgi.input"].read()
            start_response(STATUS[how], [("Content-Length", "0")])
            return [b""]
        if how == "said and not done":
            start_response("201 Created", [("Content-Length", "0")])
            return [b""]
        if how in ("other bytes kept", "fewer bytes kept"):
            self.keep_others(environ, how)
        return self.told(environ, start_response, how)

    def keep_others(self, environ, how: str) -> None:
        content = environ["wsgi.input"].read()
        kept = content[:-1] if how == "fewer bytes kept" else turned(content)
        environ["wsgi.input"], environ["CONTENT_LENGTH"] = io.BytesIO(kept), str(len(kept))
        environ.pop("HTTP_TRANSFER_ENCODING", None)
        environ.pop("wsgi.input_terminated", None)


class AServersFaults(WebdavCase, FaultsInTurn):
    @classmethod
    def around(cls, application):
        return Faulty(application)

    def run_to(self, drive: Path, **words):
        self.other = MemoryStore("other")
        store = WebdavStore("dav", self.line, self.address, "mark-of-it")
        targets = [Target(store, "day/A001"), Target(self.other, "day/A001")]
        return transfer(self.card, list_card(self.card), targets, XXH, **words)

    def on(self, drive: Path, path: str) -> bytes | None:
        return self.content_of(f"day/A001/{path}")

    def left_behind(self, drive: Path) -> list[str]:
        whole = {f"day/A001/{path}" for path in FILES} | {MARK}
        there = {str(one.relative_to(self.folder)) for one in self.folder.rglob("*") if one.is_file()}
        return [f"{one} was left behind" for one in there - whole if not one.startswith(".raft-runs/")]

    def test_each_fault_at_each_request(self):
        self.a_store(patience_s=2.0)
        Faulty.from_now_on(None)
        good = self.run_to(self.base)
        self.assertEqual((good.stores[0].agreed, good.stores[0].verified), (set(FILES), True), good.stores)
        self.try_each(Faulty, lambda: self.a_store(patience_s=2.0), 30)
