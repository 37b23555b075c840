"""Roles, journal, live messages, concurrency: what holds whoever asks and however many at once."""

import contextlib
import threading

from django.db import DatabaseError, connection, connections, transaction
from django.test import Client, TestCase, TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.clearing.acts.sign_clearance import sign_clearance
from ruggedraft.core.errors import ActRefused
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import latest_listing, present_insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.journal.writing import find_broken_seal, write
from ruggedraft.live.messages import Changed, Topic
from ruggedraft.live.notify import CHANNEL, changed, send
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.standins import card_maker, hub

from .world import FILES, SHOT, World, address


class Roles(World, TestCase):
    def test_an_assistant_sees_everything_and_does_nothing(self):
        roll = self.offload()
        copy = Copy.objects.filter(roll=roll).first()
        for path in ("bench", "tally", "tally/rolls/A001", "clearing", "log", "waterline"):
            self.assertEqual(
                self.client_for(self.pip).get(address(path), headers={"host": "localhost"}).status_code, 200
            )
        acts = JournalEntry.objects.exclude(act="refused act")
        before = acts.count()
        for path, body in (
            (f"bench/cards/{self.card.pk}/offload", {"tag": "A001"}),
            (f"bench/cards/{self.card.pk}/read", {}),
            (f"runs/{Offload.objects.get().pk}/cancel", {}),
            (f"copies/{copy.pk}/check", {}),
            (f"clearing/cards/{self.card.pk}/sign", {"tag": "A001", "digest": "x"}),
            (f"clearing/cards/{self.card.pk}/waive", {"path": "zero", "reason": "x"}),
            (f"clearing/cards/{self.card.pk}/refuse", {"digest": "x", "reason": "x"}),
            (f"clearing/cards/{self.card.pk}/revoke", {"reason": "x"}),
            (f"clearing/cards/{self.card.pk}/hand-back", {}),
            (f"clearing/cards/{self.card.pk}/aside", {"kind": "quarantined", "reason": "x"}),
            (f"clearing/cards/{self.card.pk}/trust", {"reason": "x", "seen": []}),
            ("clearing/holds", {"on": "roll", "name": roll.tag, "reason": "x"}),
            ("tally/deliveries", {"tags": [roll.tag], "to": "x"}),
            (f"tally/rolls/{roll.tag}/drops", {"paths": ["zero"], "reason": "x"}),
            (f"bench/cards/{self.card.pk}/compare", {}),
            ("bench/cameras/A/clock", {"ahead_s": 5}),
        ):
            with self.subTest(path):
                answer = self.post(path, body, self.pip)
                self.assertEqual(answer.status_code, 403)
                self.assertIn("you are camera assistant here", answer.json()["title"])
        self.assertEqual(acts.count(), before)

    def test_nothing_but_the_question_who_is_there_is_answered_to_strangers(self):
        stranger = Client()
        for path in ("bench", "tally", "tally/rolls/A001", "clearing", "log", "waterline", "live", "standins/cards"):
            with self.subTest(path):
                self.assertEqual(stranger.get(address(path), headers={"host": "localhost"}).status_code, 401)
        self.assertIsNone(stranger.get("/api/session", headers={"host": "localhost"}).json())

    def test_signing_in_and_out_is_in_the_journal_and_a_wrong_password_is_a_sentence(self):
        client = Client(headers={"host": "localhost"})
        words = {"content_type": "application/json"}
        wrong = client.post("/api/session", {"username": "wren", "password": "guess"}, **words)
        self.assertEqual((wrong.status_code, "do not belong together" in wrong.json()["title"]), (409, True))
        right = client.post("/api/session", {"username": "wren", "password": "wren-password"}, **words)
        self.assertIn("sign", right.json()["productions"][0]["may"])
        client.delete("/api/session")
        self.assertEqual(list(JournalEntry.objects.values_list("act", flat=True)[:2]), ["sign out", "sign in"])

    def test_changes_need_the_token_that_other_sites_do_not_have(self):
        client = Client(enforce_csrf_checks=True, headers={"host": "localhost"})
        client.force_login(self.wren, backend="django.contrib.auth.backends.ModelBackend")
        answer = client.post(
            address(f"bench/cards/{self.card.pk}/offload"), {"tag": "A001"}, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(Offload.objects.count(), 0)


class Journal(World, TestCase):
    def test_rows_cannot_be_changed_or_deleted_and_other_tampering_shows(self):
        self.offload()
        row = JournalEntry.objects.last()
        for tamper in (lambda: JournalEntry.objects.filter(pk=row.pk).update(sentence="x"), row.delete):
            with self.assertRaisesRegex(DatabaseError, "append-only"), transaction.atomic():
                tamper()
        self.assertIsNone(find_broken_seal())
        with connection.cursor() as cursor:
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            cursor.execute("ALTER TABLE journal_journalentry DISABLE TRIGGER journal_append_only")
            cursor.execute("UPDATE journal_journalentry SET sentence = 'x' WHERE id = %s", [row.pk])
            cursor.execute("ALTER TABLE journal_journalentry ENABLE TRIGGER journal_append_only")
        self.assertEqual(find_broken_seal().entry_id, row.pk)

    def test_every_act_leaves_a_row(self):
        self.offload()
        self.sign()
        acts = set(JournalEntry.objects.values_list("act", flat=True))
        self.assertLessEqual({"introduce store", "insert", "start offload", "finish offload", "sign", "clear"}, acts)


class AtOnce(World, TransactionTestCase):
    def test_two_cards_started_at_the_same_moment_never_get_one_number(self):
        other, _ = self.new_card("A-02", FILES)
        hub.insert("A-02", "slot-2")
        look(self.station)
        outcomes = self._at_once(*(lambda card=card: self._start_next(card) for card in (self.card, other)))
        self.assertEqual(sorted(Roll.objects.values_list("tag", flat=True)), sorted({o for o in outcomes if o}))
        self.assertGreaterEqual(len([o for o in outcomes if o]), 1)

    def test_one_card_started_twice_at_the_same_moment_runs_once(self):
        self._at_once(*[lambda: self._start_next(self.card)] * 4)
        self.assertEqual((Offload.objects.count(), Roll.objects.count()), (1, 1))
        jobs = ProcrastinateJob.objects.filter(args={"run_id": Offload.objects.get().pk})
        self.assertEqual(jobs.count(), 1)

    def test_a_listing_and_a_signature_at_the_same_moment_never_clear_what_is_new(self):
        self.offload()
        stay, digest = present_insertion(self.card), latest_listing(self.card).digest
        card_maker.add_file(self.card_folder, "NEW.MOV", b"new", SHOT)
        fresh = Card.objects.select_related("camera").get(pk=self.card.pk)

        def sign():
            with contextlib.suppress(ActRefused):
                sign_clearance(self.wren, fresh, tag="A001", digest=digest)

        self._at_once(sign, lambda: read_card(stay))
        self.assertFalse(self.standing()["may_go_back"])
        self.assertEqual(latest_listing(self.card).files, len(FILES) + 1)

    def test_a_listing_waits_for_what_is_being_decided(self):
        stay = present_insertion(self.card)
        card_maker.add_file(self.card_folder, "NEW.MOV", b"new", SHOT)

        def list_again():
            read_card(stay)
            connections.close_all()

        reading = threading.Thread(target=list_again)
        with transaction.atomic():
            Production.objects.select_for_update().get(pk=self.production.pk)
            reading.start()
            reading.join(0.5)
            self.assertTrue(reading.is_alive())
            self.assertEqual(latest_listing(self.card).files, len(FILES))
        reading.join()
        self.assertEqual(latest_listing(self.card).files, len(FILES) + 1)

    def _start_next(self, card: Card) -> str | None:
        for tag in ("A001", "A002"):
            try:
                fresh = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=card.pk)
                return start_offload(self.wren, fresh, tag).roll.tag
            except ActRefused:
                continue
        return None

    def _at_once(self, *acts) -> list:
        barrier, outcomes = threading.Barrier(len(acts)), []

        def go(act):
            barrier.wait()
            try:
                outcomes.append(act())
            finally:
                connections.close_all()

        threads = [threading.Thread(target=go, args=(act,)) for act in acts]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return outcomes

    def test_messages_leave_with_the_commit_and_not_at_all_after_a_rollback(self):
        words = connection.get_connection_params()
        import psycopg

        with psycopg.connect(
            dbname=words["dbname"], user=words["user"], password=words["password"], host=words["host"],
            port=words["port"], autocommit=True,
        ) as listener:  # fmt: skip
            listener.execute(f"LISTEN {CHANNEL}")
            with self.assertRaises(ActRefused), transaction.atomic():
                changed(Topic.ROLLS)
                raise ActRefused("no")
            with transaction.atomic():
                changed(Topic.CARDS, cards=["A-01"], production=self.production.pk)
                self.assertEqual(list(listener.notifies(timeout=0.2)), [])
            heard = [message.payload for message in listener.notifies(timeout=1, stop_after=1)]
        said = f'{{"kind":"changed","topic":"cards","names":["A-01"],"production":{self.production.pk}}}'
        self.assertEqual(heard, [said])

    def test_a_message_that_cannot_travel_is_an_error_here_and_not_silence_there(self):
        with self.assertRaises(ValueError):
            send(Changed(topic=Topic.CARDS, names=["x" * 8000]))

    def test_a_journal_row_needs_the_transaction_of_its_act(self):
        with self.assertRaises(transaction.TransactionManagementError):
            write("x", "x", "x", person=None)
