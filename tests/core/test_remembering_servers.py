"""A run that goes on with a server: this machine keeps the notes, the server tells whether a file is what it was."""

import uuid
from unittest import TestCase
from unittest.mock import patch

import asyncssh

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.objects import store as objects_module
from ruggedraft.core.stores.remote import RemoteStore
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavLine, WebdavSecret, WebdavStore

from .test_objects import BucketCase
from .test_remembering import FILES, KEY, Memory, Parts
from .test_sftp import SftpCase


class GoingOn:
    """For each kind of server: `server_store` is another of the same store each time. Mixed into `Parts`."""

    def remembering(self) -> RemoteStore:
        beside = self.base / "notes"
        beside.mkdir(exist_ok=True)
        store = self.server_store()
        store.keeps_notes = lambda: LocalStore("notes", beside)
        return store

    def server_store(self) -> RemoteStore:
        raise NotImplementedError

    def change(self, path: str) -> None:
        """Put other bytes of the same size under a name, on the server."""
        raise NotImplementedError

    def touched(self) -> set[str]:
        return FILES.keys() - self.card.read

    def test_only_what_was_not_proven_is_read_off_the_card_and_back(self):
        self.cut_short(self.remembering(), self.store("two"))
        served = self.card.served
        read_back = set()
        store = self.remembering()
        real = store.read_many
        store.read_many = lambda paths, sizes: read_back.update(paths) or real(paths, sizes)
        report = self.run_to(store, self.store("two"))
        self.assertTrue(all(one.as_meant for one in report.stores))
        self.assertEqual([one.since for one in report.stores], [{"then"}] * 2)
        believed = self.touched()
        self.assertGreater(len(believed), 15)
        self.assertFalse(read_back & {f"day/A001/{path}" for path in believed})
        self.assertLess(self.card.served - served, sum(map(len, FILES.values())))
        self.assertEqual(self.run_to(self.server_store(), memory=None).stores[0].agreed, set(FILES))

    def test_what_was_changed_on_the_server_meanwhile_is_read_and_found(self):
        self.cut_short(self.remembering(), at=0.9)
        self.change("day/A001/A/003.JPG")
        report = self.run_to(self.remembering())
        self.assertIn("A/003.JPG", self.card.read)
        self.assertFalse(report.verified)
        self.assertEqual([one.path for one in report.stores[0].failed], ["A/003.JPG"])

    def test_without_a_place_for_notes_everything_is_read(self):
        self.cut_short(self.server_store())
        self.assertTrue(all(one.as_meant for one in self.run_to(self.server_store()).stores))
        self.assertEqual(self.card.read, set(FILES))

    def test_another_run_that_is_alive_keeps_its_notes_to_itself_and_lets_them_go_in_the_end(self):
        self.cut_short(self.remembering())
        other = self.remembering()
        self.assertTrue(other.notes("day/A001").read())
        self.run_to(self.remembering())
        self.assertEqual(self.card.read, set(FILES))
        other.let_notes_go()
        self.run_to(self.remembering(), memory=Memory(KEY, "last"))
        self.assertLess(len(self.card.read), len(FILES))

    def test_forgotten_notes_are_gone(self):
        self.cut_short(self.remembering())
        self.remembering().notes("day/A001").forget()
        self.assertEqual(list(self.base.glob("notes/**/*.proven")), [])
        self.run_to(self.remembering())
        self.assertEqual(self.card.read, set(FILES))


class Sftp(SftpCase, GoingOn, Parts):
    def setUp(self):
        super().setUp()
        self.make_store()

    def server_store(self):
        return self.another()

    def change(self, path):
        file = self.folder / path
        file.write_bytes(bytes(file.stat().st_size))

    def test_of_a_server_that_does_not_sync_nothing_is_believed(self):
        """Its power may be what cut the run short: what it said it had may not be there any more."""
        unsupported = asyncssh.SFTPOpUnsupported("no such thing here")
        with patch.object(asyncssh.SFTPClientFile, "fsync", side_effect=unsupported):
            self.cut_short(self.remembering())
        self.assertTrue(self.run_to(self.remembering()).verified)
        self.assertEqual(self.card.read, set(FILES))


class Bucket(BucketCase, GoingOn, Parts):
    def setUp(self):
        super().setUp()
        self.first = self.bucket()

    def server_store(self):
        return objects_module.ObjectsStore("bucket", self.client, self.address, "mark-of-it")

    def change(self, path):
        key = f"rolls/{path}"
        size = self.client.head_object(Bucket=self.address.bucket, Key=key)["ContentLength"]
        self.client.put_object(Bucket=self.address.bucket, Key=key, Body=bytes(size))

    def test_what_the_server_attested_stays_attested_and_no_more(self):
        self.cut_short(self.remembering())
        report = self.run_to(self.remembering())
        self.assertEqual(report.stores[0].level, Evidence.ATTESTED)
        self.assertTrue(self.touched())

    def test_many_are_listed_and_few_are_asked_for(self):
        self.cut_short(self.remembering(), at=0.9)
        for few in (0, 1000):
            with self.subTest(few), patch.object(objects_module, "_FEW", few):
                store = self.server_store()
                store.open()
                stamps = store.stamps(["day/A001/A/000.JPG", "day/A001/A/001.JPG", "day/A001/none"])
                store.close()
                self.assertEqual((stamps[0][0], stamps[1][0], stamps[2]), (3000, 3001, None))

    def test_what_has_no_tag_cannot_be_told(self):
        store = self.server_store()
        store.note_tag("x", 3, None)
        store.begin_threads()
        self.addCleanup(store.close)
        self.assertEqual(store.stamps(["x"]), [None])


class Webdav(TestCase):
    def test_nothing_is_noted_of_servers_that_do_not_say_what_they_have_on_their_disks(self):
        store = WebdavStore("dav", WebdavLine(WebdavSecret("u", "p")), WebdavAddress("http://127.0.0.1:9/x"))
        store.keeps_notes = lambda: self.fail(f"nothing is to be kept {uuid.uuid4()}")
        self.assertIsNone(store.notes("day/A001"))
