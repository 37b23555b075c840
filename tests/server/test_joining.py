"""Stations on other machines: how one joins, what its role in the database may do, and how it is turned away."""

import json
import time
from collections.abc import Callable
from datetime import timedelta
from unittest.mock import patch

import psycopg
from django.db import connection
from django.test import TransactionTestCase, override_settings

from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.core.evidence import Evidence
from ruggedraft.crew.accounts import new_secret
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.acts.join_station import Entry, join_station
from ruggedraft.kit.acts.make_ticket import make_ticket
from ruggedraft.kit.acts.turn_away import turn_away
from ruggedraft.kit.models import Station, StationTicket
from ruggedraft.kit.stations import is_running
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import hub
from ruggedraft.stores.models import StoreSighting

from .processes import PATIENCE, Processes

FINGERPRINT = "5a" * 32
LISTENING = override_settings(DOOR="8641 /nowhere", CERTIFICATE_SHA256=FINGERPRINT)


@LISTENING
class Stations(Processes, TransactionTestCase):
    def join(self, name: str = "second") -> Entry:
        secret, _, fingerprint = make_ticket(self.sol).partition(".")
        self.assertEqual(fingerprint, FINGERPRINT)
        return join_station(secret, name, origin="192.0.2.7")

    def until(self, holds: Callable[[], object]) -> None:
        deadline = time.monotonic() + PATIENCE
        while not holds():
            self.assertLess(time.monotonic(), deadline)
            time.sleep(0.1)

    def connect(self, entry: Entry) -> psycopg.Connection:
        words = connection.settings_dict
        return psycopg.connect(
            host=words["HOST"], port=words["PORT"], dbname=words["NAME"], user=entry.role, password=entry.password,
            autocommit=True,
        )  # fmt: skip

    def test_a_ticket_lets_one_station_in_once_and_within_the_hour(self):
        ticket = make_ticket(self.sol)
        secret = ticket.partition(".")[0]
        self.assertNotIn(secret, str(list(StationTicket.objects.values())), "what is kept cannot be used")
        self.assertNotIn(secret, str(list(JournalEntry.objects.values())))
        join_station(secret, "second", origin="192.0.2.7")
        with self.assertRaisesRegex(ActRefused, "used or has expired"):
            join_station(secret, "third", origin="192.0.2.8")
        late = make_ticket(self.sol).partition(".")[0]
        with clock.at(clock.now() + timedelta(hours=2)), self.assertRaisesRegex(ActRefused, "used or has expired"):
            join_station(late, "third", origin="192.0.2.8")
        self.assertEqual(set(Station.objects.values_list("name", flat=True)), {"cart", "second"})

    def test_no_ticket_begins_as_an_option_of_a_command_does(self):
        with patch("ruggedraft.crew.accounts.secrets.token_urlsafe", return_value="-x-y"):
            self.assertEqual(new_secret()[0], "_x_y")

    def test_a_refused_name_leaves_the_ticket_good(self):
        secret = make_ticket(self.sol).partition(".")[0]
        for name, words in (("", "1 to 40"), ("a/b", "1 to 40"), ("cart", "the server's own machine")):
            with self.assertRaisesRegex(ActRefused, words):
                join_station(secret, name, origin="192.0.2.7")
        join_station(secret, "second", origin="192.0.2.7")

    def test_only_who_may_set_up_lets_stations_in_or_turns_them_away(self):
        self.join()
        for person in (self.wren, self.pip):
            with self.assertRaises(NotPermitted):
                make_ticket(person)
            with self.assertRaises(NotPermitted):
                turn_away(person, Station.objects.get(name="second"))
        with self.assertRaisesRegex(ActRefused, "own machine"):
            turn_away(self.sol, self.station)

    def test_where_the_database_listens_to_nobody_else_no_ticket_is_made(self):
        with override_settings(DOOR=""), self.assertRaisesRegex(ActRefused, "--stations"):
            make_ticket(self.sol)

    def test_the_join_is_answered_once_over_the_api_without_anybody_signed_in(self):
        certificate = self.base / "certificate.pem"
        certificate.write_text("a certificate")
        body = json.dumps({"ticket": make_ticket(self.sol), "name": "second"})
        with override_settings(DOOR=f"8641 {certificate}"):
            answers = [self.client.post("/api/stations/join", body, "application/json") for _ in range(2)]
        self.assertEqual([one.status_code for one in answers], [200, 409])
        entry = answers[0].json()
        self.assertEqual((entry["port"], entry["certificate"]), (8641, "a certificate"))
        self.assertEqual(entry["database"], connection.settings_dict["NAME"])

    def test_its_role_can_do_nothing_that_people_do(self):
        with self.connect(self.join()) as database:
            self.assertTrue(database.execute("SELECT id, username FROM crew_person").fetchall())
            for words in (
                "SELECT password FROM crew_person",
                "SELECT * FROM kit_stationticket",
                "SELECT * FROM crew_invitation",
                "SELECT * FROM django_session",
                "INSERT INTO clearing_clearance DEFAULT VALUES",
                "INSERT INTO clearing_signature DEFAULT VALUES",
                "INSERT INTO clearing_revocation DEFAULT VALUES",
                "INSERT INTO clearing_removalasked DEFAULT VALUES",
                "UPDATE clearing_hold SET lifted_at = now()",
                "INSERT INTO rolls_waiver DEFAULT VALUES",
                "INSERT INTO rolls_delivery DEFAULT VALUES",
                "INSERT INTO rolls_clipopening DEFAULT VALUES",
                "UPDATE intake_cardaside SET ended_at = now()",
                "INSERT INTO intake_cardtrusted DEFAULT VALUES",
                "INSERT INTO intake_goneanswer DEFAULT VALUES",
                "UPDATE intake_notours SET withdrawn_at = NULL",
                "INSERT INTO stores_devicestatement DEFAULT VALUES",
                "UPDATE productions_redundancyrule SET copies = 1",
                "UPDATE productions_production SET name = 'Bittern'",
                "UPDATE productions_plan SET algorithm = 'md5'",
                "UPDATE crew_membership SET role = 'supervisor'",
                "UPDATE kit_station SET turned_away_at = NULL",
                "UPDATE journal_journalentry SET sentence = ''",
                "DELETE FROM journal_journalentry",
                "DELETE FROM rolls_reading",
                "UPDATE rolls_reading SET level = 9",
                "TRUNCATE offloads_offload",
                "SELECT raft_let_station_in(1, 'x')",
                "SELECT raft_turn_station_away(1)",
                "CREATE TABLE mine (n int)",
                "SET ROLE postgres",
            ):
                with self.subTest(words), self.assertRaises(psycopg.Error) as refused:
                    database.execute(words)
                self.assertIn(refused.exception.sqlstate, ("42501", "22023"), str(refused.exception))

    def test_it_offloads_and_proves_with_no_other_rights(self):
        entry = self.join()
        hub.remove("slot-1")
        look(self.station)
        self.role_of_stations = f"{entry.role}:{entry.password}"
        self.start_station("second")
        hub.insert("A-01", "slot-1")
        self.until(lambda: Insertion.objects.filter(reader__station__name="second").exclude(listings=None).exists())
        self.until(lambda: StoreSighting.objects.filter(station__name="second", online=True).count() == 3)
        self.offload()
        self.assertEqual({reading.level for reading in Reading.objects.all()}, {Evidence.READ_BACK})
        self.assertEqual(Reading.objects.count(), 2)

    def test_turned_away_it_is_cut_off_and_may_come_back_with_another_ticket(self):
        entry = self.join()
        station = Station.objects.get(name="second")
        held = self.connect(entry)
        held.execute("SELECT pg_advisory_lock(%s, %s)", [0x5241, station.pk])
        self.assertTrue(is_running(station))
        with self.assertRaisesRegex(ActRefused, "is running: stop it first"):
            self.join()
        turn_away(self.sol, station)
        with self.assertRaises(psycopg.OperationalError):
            held.execute("SELECT 1")
        with self.assertRaises(psycopg.OperationalError):
            self.connect(entry)
        station.refresh_from_db()
        with self.assertRaisesRegex(ActRefused, "turned away already"):
            turn_away(self.sol, station)
        again = self.join()
        self.assertEqual(again.role, entry.role)
        with self.assertRaises(psycopg.OperationalError):
            self.connect(entry)
        self.connect(again).close()

    def test_a_clock_that_is_wrong_tells_the_ledgers_time(self):
        real = clock.timezone.now
        self.addCleanup(clock.follow_ledger)
        with patch.object(clock.timezone, "now", lambda: real() + timedelta(hours=3)):
            self.assertAlmostEqual(clock.follow_ledger(), 3 * 3600, delta=5)
            self.assertAlmostEqual(clock.now().timestamp(), real().timestamp(), delta=5)
        self.assertLess(abs(clock.follow_ledger()), 5)
