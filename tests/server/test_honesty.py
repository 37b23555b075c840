"""The ledger's own honesty: what the application's role may do, the journal's anchors, and who is let in."""

import asyncio
import io
import json
import threading
from pathlib import Path
from unittest.mock import patch

import psycopg
from asgiref.sync import async_to_sync
from axes.models import AccessAttempt
from django.core.management import call_command
from django.db import connection, connections
from django.test import Client, RequestFactory, TestCase, TransactionTestCase, override_settings

from ruggedraft.clearing.models import Clearance
from ruggedraft.journal.models import JournalEntry
from ruggedraft.live import stream
from ruggedraft.live.messages import Changed, Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import RuleChange
from ruggedraft.project.clients import client_address
from ruggedraft.project.roles import append_only_tables
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import hub
from ruggedraft.stores.models import Store

from .processes import PASSWORD, app_role
from .world import World, address

HOST = {"host": "localhost"}


class Role(World, TransactionTestCase):
    """Tried as the very role that web server and stations connect as."""

    def test_it_may_add_evidence_and_neither_change_nor_delete_nor_empty_it(self):
        self.offload()
        self.assertTrue(self.sign().json()["cleared"])
        self.app_role = app_role()
        words = connection.get_connection_params()
        reach = {"host": words["host"], "port": words["port"], "dbname": words["dbname"]}
        with psycopg.connect(user=self.app_role, password=PASSWORD, autocommit=True, **reach) as app:
            for table in append_only_tables():
                app.execute(f"SELECT count(*) FROM {table}")  # noqa: S608  names of our own tables
                for words in ("UPDATE {} SET id = id", "DELETE FROM {}", "TRUNCATE {} CASCADE", "DROP TABLE {}",
                              "ALTER TABLE {} DISABLE TRIGGER ALL"):  # fmt: skip
                    harm = words.format(table)
                    with self.subTest(harm), self.assertRaises(psycopg.errors.InsufficientPrivilege):
                        app.execute(harm)
            owned = "SELECT count(*) FROM pg_class c JOIN pg_roles r ON r.oid = c.relowner WHERE r.rolname = %s"
            self.assertEqual(app.execute(owned, [self.app_role]).fetchone()[0], 0)
            told = app.execute("SELECT rolsuper, rolcreatedb, rolcreaterole FROM pg_roles WHERE rolname = current_user")
            self.assertEqual(told.fetchone(), (False, False, False))
            with self.assertRaises(psycopg.errors.InsufficientPrivilege):
                app.execute("CREATE FUNCTION public.x() RETURNS int LANGUAGE sql AS 'SELECT 1'")
            app.execute("UPDATE kit_station SET seen_at = now()")  # its daily work it may do
        self.assertEqual((Reading.objects.count(), Clearance.objects.count()), (2, 1))


class Anchors(World, TestCase):
    def verify(self) -> tuple[int, str]:
        out = io.StringIO()
        try:
            call_command("verify_journal", stdout=out)
        except SystemExit as end:
            return int(end.code), out.getvalue()
        return 0, out.getvalue()

    def test_a_journal_cut_or_rewritten_at_its_end_is_found_out_by_the_records_beside_copies(self):
        self.offload()
        record = self.on_drive("one").with_name("A001.record.json")
        head = json.loads(record.read_bytes())["journal"]
        self.assertEqual(JournalEntry.objects.get(pk=head["id"]).seal, head["seal"])
        self.assertEqual(self.verify()[0], 0)
        self.assertIn("2 records on connected stores: agree", self.verify()[1])
        with connection.cursor() as cursor:  # as somebody who owns the database: a shorter, but sound journal
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            cursor.execute("ALTER TABLE journal_journalentry DISABLE TRIGGER journal_append_only")
            cursor.execute("DELETE FROM journal_journalentry WHERE id >= %s", [head["id"]])
            cursor.execute("ALTER TABLE journal_journalentry ENABLE TRIGGER journal_append_only")
        told = self.get("log/seal")
        self.assertIsNone(told["broken_at"], "the chain alone does not tell")
        self.assertEqual((told["agree"], len(told["differ"]), told["unread"]), (0, 2, 0))
        self.assertIn("A001.record.json on 'one'", str(told["differ"]))
        code, said = self.verify()
        self.assertEqual(code, 1)
        self.assertIn("2 of them do not agree", said)

    def test_a_store_that_is_away_is_said_not_to_have_been_asked(self):
        self.offload()
        Path(Store.objects.get(name="two").path).rename(hub.home() / "drives" / "away")
        code, said = self.verify()
        self.assertEqual((code, "Not asked: 'two' is not connected" in said), (0, True))
        told = self.get("log/seal")
        self.assertEqual((told["agree"], told["differ"], told["unread"]), (1, [], 1))


class Rules(World, TestCase):
    def test_a_change_of_the_rule_is_an_act_with_a_reason_and_a_history(self):
        words = {"copies": 3, "reason": "the insurer asks for three"}
        for given, person, code in (
            ({**words, "reason": " "}, self.sol, 409), (words, self.wren, 403),
            ({"reason": "x", "copies": 0}, self.sol, 409),
            ({"reason": "x", "copies": None}, self.sol, 409), ({"reason": "nothing new"}, self.sol, 409),
            ({"reason": "x", "level": 9}, self.sol, 409), (words, self.sol, 200),
        ):  # fmt: skip
            self.assertEqual(self.post("setup/rule", given, person, method="patch").status_code, code, given)
        self.assertIn("2 of the 3 stores", str(self.get("bench")["slots"][0]["proposal"]["short"]))
        self.assertEqual(RuleChange.objects.get().rule["copies"], 3)
        self.assertIn("copies 2 → 3", JournalEntry.objects.filter(act="change rule").get().sentence)


class SigningIn(World, TransactionTestCase):
    def sign_in(self, client: Client, name: str, password: str, **more):
        return client.post("/api/session", {"username": name, "password": password}, content_type="application/json",
                           headers={**HOST, **more})  # fmt: skip

    def test_it_needs_the_token_that_other_sites_do_not_have(self):
        client = Client(enforce_csrf_checks=True)
        self.assertEqual(self.sign_in(client, "wren", "wren-password").status_code, 403)
        client.get("/api/session", headers=HOST)
        token = client.cookies["csrftoken"].value
        self.assertEqual(self.sign_in(client, "wren", "wren-password", **{"X-CSRFToken": token}).status_code, 200)

    def test_a_name_that_is_guessed_at_locks_nobody_else_out_and_not_for_ever(self):
        for _ in range(12):
            self.sign_in(Client(), "wren", "guess")
        self.assertNotEqual(self.sign_in(Client(), "wren", "wren-password").status_code, 200)
        self.assertEqual(self.sign_in(Client(), "sol", "sol-password").status_code, 200, "another name, one address")
        with patch("ruggedraft.project.clients.client_address", lambda request: "10.0.0.9"):
            AccessAttempt.objects.update(ip_address="10.9.9.9")
            self.assertEqual(self.sign_in(Client(), "wren", "wren-password").status_code, 200, "from elsewhere")

    def test_the_address_is_the_proxys_word_only_where_a_proxy_is_configured(self):
        request = RequestFactory().get("/", headers={"X-Forwarded-For": "6.6.6.6, 10.1.1.1"})
        self.assertEqual(client_address(request), "127.0.0.1")
        with override_settings(PROXIES=1):
            self.assertEqual(client_address(request), "10.1.1.1", "what the client wrote itself is not believed")

    def test_names_and_passwords_that_cannot_be_text_get_an_answer(self):
        client = Client(headers=HOST)
        for given in (
            '{"username": "a\\u0000b", "password": "x"}', '{"username": "\\ud800", "password": "x"}',
            json.dumps({"username": "x" * 100_000, "password": "x"}),
            json.dumps({"username": "wren", "password": "y" * 100_000}), '{"username": ["wren"], "password": {}}', "[",
        ):  # fmt: skip
            with self.subTest(given[:40]):
                answer = client.post("/api/session", given, content_type="application/json")
                self.assertIn(answer.status_code, (400, 409, 422))
                self.assertEqual(answer["Content-Type"], "application/problem+json")
        for path in map(address, ("log?before=%00", "tally/rolls/%00", "tally/rolls/a%ff", "log?before=x")):
            answer = self.client_for(self.wren).get(path, headers=HOST)
            self.assertIn(answer.status_code, (400, 404, 409, 422), path)

    def test_sixty_at_once_all_get_in(self):
        self.wren.set_password("slow")
        answers = []

        def go():
            answers.append(self.sign_in(Client(), "sol", "sol-password").status_code)
            connections.close_all()

        threads = [threading.Thread(target=go) for _ in range(60)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(answers, [200] * 60)

    def test_the_description_of_the_api_is_for_people_who_are_signed_in(self):
        self.assertEqual(Client().get("/api/openapi.json", headers=HOST).status_code, 401)
        self.assertEqual(self.client_for(self.wren).get("/api/openapi.json", headers=HOST).status_code, 200)

    def test_an_event_stream_ends_with_its_session(self):
        client = self.client_for(self.wren)
        request = RequestFactory().get("/api/live")
        request.session = client.session

        async def listen() -> list[bytes]:
            heard = []
            events = stream._stream(stream._session(request))
            heard.append(await anext(events))
            await asyncio.to_thread(client.delete, "/api/session", headers=HOST)
            for queue in list(stream._fanout._screens):
                queue.put_nowait(stream._SESSIONS)
            heard += [event async for event in events]
            return heard

        with patch.object(stream._Fanout, "_listen", lambda self: asyncio.sleep(0)):
            heard = async_to_sync(listen)()
        self.assertEqual(heard, [f"data: {stream.RESYNC}\n\n".encode()])

    def test_nobody_hears_of_productions_they_are_not_of(self):
        mine, theirs = self.production.pk, self.production.pk + 1
        with self.assertRaises(ValueError):
            changed(Topic.ROLLS, rolls=["A001"])

        async def listen() -> list[bytes]:
            events = stream._stream(stream._session(request))
            heard = [await anext(events)]
            heard.append(await self._after(events, mine, theirs))
            return heard

        request = RequestFactory().get("/api/live")
        request.session = self.client_for(self.wren).session
        with patch.object(stream._Fanout, "_listen", lambda self: asyncio.sleep(0)):
            _, heard = async_to_sync(listen)()
        self.assertIn(b"A001", heard, "what was said of another production before was passed over")

    @staticmethod
    async def _after(events, mine: int, theirs: int) -> bytes:
        (queue,) = stream._fanout._screens
        for production, tag in ((theirs, "Z999"), (mine, "A001")):
            said = Changed(topic=Topic.ROLLS, names=[tag], production=production)
            queue.put_nowait(stream._heard(said.model_dump_json()))
        return await anext(events)
