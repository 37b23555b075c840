"""A store on a WebDAV server, through the ledger: introduced, offloaded to, checked, away; its password stays shut."""

import json
import tempfile
from pathlib import Path

from django.db import connection
from django.test import TestCase

from ruggedraft.core.evidence import Evidence
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.webdav_server import PASSWORD, USER, WebdavServer
from ruggedraft.stores import servers
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import store_facts, stores

from .world import SHOT, World


class OnWebdav(World, TestCase):
    def setUp(self):
        super().setUp()
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.home = Path(home.name)
        self.server = WebdavServer(self.home).start()
        self.addCleanup(lambda: self.server.stop())
        servers.forget_lines()
        self.addCleanup(servers.forget_lines)
        self.there = self.server.folder / "rolls"
        self.there.mkdir()

    def introduce(self, **words):
        given = {
            "name": "dav", "url": f"{self.server.url}/rolls", "user": USER, "password": PASSWORD, "device": "the box",
            "medium": "network", "place": "office", "reason": "it stands on a shelf there",
        }  # fmt: skip
        return self.post("stores/webdav", given | words, self.sol)

    def row(self) -> dict:
        sight_stores(self.station)
        return next(one for one in self.get("stores") if one["name"] == "dav")

    def test_a_card_goes_there_is_read_back_and_counts(self):
        self.assertEqual(self.introduce().status_code, 200)
        row = self.row()
        self.assertEqual((row["online"], row["kind"], row["attests"]), (True, "webdav", False))
        self.assertEqual((self.there / ".raft-store").read_text(), str(Store.objects.get(name="dav").uuid))
        self.blank_card()  # one of its names can be no part of an address
        for n in range(1, 4):
            card_maker.add_file(self.card_folder, f"DCIM/100AAAAA/AAAA000{n}.JPG", bytes([n]) * 200_000, SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.plan.stores.set(Store.objects.filter(name__in=("one", "dav")))
        roll = self.offload()
        (standing,) = roll_standings([roll.pk]).values()
        self.assertEqual([(one.facts.whole, one.facts.level) for one in standing.copies],
                         [(True, Evidence.READ_BACK)] * 2)  # fmt: skip
        for file in (path for path in self.card_folder.rglob("*") if path.is_file() and not path.name.startswith(".")):
            copy = self.there / "Heron/2026-05-14/A001" / file.relative_to(self.card_folder)
            self.assertEqual(copy.read_bytes(), file.read_bytes())
        rotten = next(self.there.rglob("AAAA0001.JPG"))
        rotten.write_bytes(rotten.read_bytes()[:-1] + b"!")
        self.check(roll, "dav")
        (standing,) = roll_standings([roll.pk]).values()
        self.assertEqual([one.facts.whole for one in standing.copies], [True, False])

    def test_away_it_counts_for_nothing_that_needs_it_and_back_it_is_the_same(self):
        self.introduce()
        self.assertTrue(self.row()["online"])
        port = self.server.port
        self.server.stop()
        row = self.row()
        self.assertFalse(row["online"])
        self.assertIn("does not answer", row["trouble"])
        self.server = WebdavServer(self.home, port=port).start()
        self.assertTrue(self.row()["online"])
        (self.there / ".raft-store").unlink()
        self.assertIn("bears no mark", self.row()["trouble"])

    def test_a_mount_of_the_same_server_is_the_same_device(self):
        self.introduce()
        self.assertIn("server 127.0.0.1", store_facts(stores().get(name="dav")).devices)

    def test_what_is_refused_leaves_nothing(self):
        for words, status in (
            ({"url": "ftp://x/y"}, 409), ({"url": "http://files.example/dav"}, 409), ({"password": "wrong"}, 409),
            ({"url": f"{self.server.url}/none"}, 409), ({"reason": ""}, 409), ({"attests": True}, 409),
            ({"url": "http://127.0.0.1:1/dav"}, 409), ({"url": f"{self.server.url}/../etc"}, 409),
            ({"name": "one"}, 409),
        ):  # fmt: skip
            with self.subTest(words):
                answer = self.introduce(**words)
                self.assertEqual(answer.status_code, status, answer.content)
        self.assertFalse(Store.objects.filter(name="dav").exists())
        self.assertEqual(list(self.there.iterdir()), [])
        given = {"name": "dav", "url": self.server.url, "user": USER, "password": PASSWORD, "device": "b",
                 "medium": "network", "place": "office", "reason": "r"}  # fmt: skip
        self.assertEqual(self.post("stores/webdav", given, self.wren).status_code, 403)

    def test_its_password_is_in_no_table_no_answer_and_no_sentence_and_another_is_tried_first(self):
        self.introduce()
        with connection.cursor() as cursor:
            for table in connection.introspection.table_names():
                cursor.execute(f'SELECT t::text FROM "{table}" t')  # noqa: S608
                for (row,) in cursor.fetchall():
                    self.assertNotIn(PASSWORD, row, table)
        told = json.dumps(
            [self.get("stores"), self.get("log"), *JournalEntry.objects.values_list("sentence", flat=True)]
        )
        self.assertNotIn(PASSWORD, told)
        wrong = self.post("stores/dav/credentials", {"user": USER, "password": "x", "reason": "r"}, self.sol, "put")
        self.assertEqual(wrong.status_code, 409)
        self.assertTrue(self.row()["online"])
        right = self.post(
            "stores/dav/credentials", {"user": USER, "password": PASSWORD, "reason": "r"}, self.sol, "put"
        )
        self.assertEqual(right.status_code, 200)
