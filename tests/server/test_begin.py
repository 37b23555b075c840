"""Beginning an empty ledger, and people who join, change and leave."""

import threading
import time
from datetime import timedelta
from unittest.mock import patch

from django.db import connections
from django.test import Client, TestCase, TransactionTestCase, override_settings

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.acts.change_person import take_off
from ruggedraft.crew.models import Person, Role
from ruggedraft.intake.acts import read_card
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.acts.begin_ledger import Beginning, begin_ledger
from ruggedraft.productions.models import Production, RedundancyRule
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.acts import sight_stores
from ruggedraft.stores.folders import MARKER
from ruggedraft.stores.models import Store, StoreSighting

from .world import World, address

TOKEN = "told-in-the-terminal"
SAID = {
    "token": TOKEN, "name": "Wren Tarn", "password": "nine planks of oak", "production": "Tidewrack",
    "time_zone": "Europe/Lisbon", "first_day": "2026-05-14", "drives": [], "copies": 2, "devices": 2,
}  # fmt: skip


@override_settings(BEGIN_TOKEN=TOKEN)
class Beginnings(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        connections["default"].cursor().execute("TRUNCATE crew_person, productions_production, stores_store CASCADE")
        self.stranger = Client(enforce_csrf_checks=False)

    def begin(self, **changed):
        said = SAID | changed
        return self.stranger.post("/api/begin", said, "application/json", headers={"host": "localhost"})

    def fresh_drive(self, name: str):
        return make_drive(hub.home() / "fresh" / name, identity=f"fresh {name}", capacity=10**9)

    def test_only_whoever_has_the_token_looks_or_begins(self):
        for token in ("", "another", TOKEN + "x"):
            self.assertEqual(self.begin(token=token).status_code, 403)
            looked = self.stranger.post(
                "/api/begin/look", {"token": token}, "application/json", headers={"host": "localhost"}
            )
            self.assertEqual(looked.status_code, 403)
        with override_settings(BEGIN_TOKEN=""):
            self.assertEqual(self.begin(token="").status_code, 403)
        self.assertEqual(Person.objects.count(), 0)

    def test_it_makes_all_that_a_first_card_needs_and_signs_in(self):
        drives = [
            {"path": str(self.fresh_drive(name)), "name": name, "medium": "ssd", "place": "cart"}
            for name in ("One", "Two")
        ]
        me = self.begin(drives=drives).json()
        self.assertEqual((me["name"], me["productions"][0]["role"]), ("Wren Tarn", "supervisor"))
        production = Production.objects.get()
        self.assertEqual({store.name for store in production.plans.get().stores.all()}, {"One", "Two"})
        self.assertEqual((production.rule.copies, production.rule.devices), (2, 2))
        self.assertEqual(production.cameras.get().letter, "A")
        again = self.begin(name="Somebody else")
        self.assertEqual(again.status_code, 409)
        self.assertIn("begun already", again.json()["title"])

    def test_one_that_is_refused_leaves_nothing_behind_on_no_drive(self):
        good, bad = self.fresh_drive("good"), hub.home() / "not there"
        drives = [{"path": str(path), "name": path.name, "medium": "ssd"} for path in (good, bad)]
        for wrong in (
            {"drives": drives}, {"time_zone": "Mars/Base"}, {"password": "short"}, {"copies": 1, "devices": 2},
            {"name": "a/b"}, {"production": " "}, {"drives": [drives[0], drives[0]]},
        ):  # fmt: skip
            with self.subTest(wrong):
                self.assertEqual(self.begin(**wrong).status_code, 409)
                found = (Person.objects.count(), Production.objects.count(), Store.objects.count())
                self.assertEqual(found, (0, 0, 0))
                self.assertFalse((good / MARKER).exists())
        self.assertEqual(self.begin(drives=drives[:1]).status_code, 200)
        self.assertTrue((good / MARKER).exists())

    def test_of_two_who_begin_at_once_one_does(self):
        def begin(name: str) -> None:
            said = Beginning(name, "nine planks of oak", f"{name}'s", "UTC", clock.now().date(), (), 2, 2, 0)
            try:
                begin_ledger(said, origin="test")
                ended.append("begun")
            except ActRefused:
                ended.append("refused")
            finally:
                connections.close_all()

        ended: list[str] = []
        both = [threading.Thread(target=begin, args=(name,)) for name in ("Wren", "Sol")]
        for one in both:
            one.start()
        for one in both:
            one.join()
        self.assertEqual(sorted(ended), ["begun", "refused"])
        self.assertEqual((Person.objects.count(), RedundancyRule.objects.count()), (1, 1))


class People(World, TestCase):
    def ask(self, path: str, body: dict | None = None, person: Person | None = None, method: str = "post"):
        client = self._same_client(person or self.sol)
        return getattr(client, method)(address(path), body or {}, "application/json", headers={"host": "localhost"})

    def link(self, role: str = "wrangler") -> str:
        return self.ask("people/invitations", {"role": role}).json()["secret"]

    def join(self, secret: str, name: str = "Mara Quill", password: str = SAID["password"]):
        body = {"secret": secret, "name": name, "password": password}
        return Client().post("/api/session/link", body, "application/json", headers={"host": "localhost"})

    def test_somebody_joins_by_a_link_once_in_the_role_they_were_invited_for(self):
        secret = self.link()
        self.assertEqual(self.join(secret, password="short").status_code, 409)
        self.assertEqual(self.join(secret, name="wren").status_code, 409, "that is somebody")
        me = self.join(secret).json()
        self.assertEqual((me["name"], me["productions"][0]["role"]), ("Mara Quill", "wrangler"))
        self.assertEqual(self.join(secret, name="Another").status_code, 409)
        self.assertNotIn(secret, str(list(JournalEntry.objects.values_list("sentence", "detail"))))

    def test_a_link_ends_after_three_days(self):
        secret = self.link()
        with clock.at(clock.now() + timedelta(days=4)):
            self.assertEqual(self.join(secret).status_code, 409)

    def test_a_new_password_ends_the_old_one_and_other_sessions(self):
        elsewhere = self.client_for(self.wren)
        first = self.ask(f"people/{self.wren.pk}/password-link").json()["secret"]
        second = self.ask(f"people/{self.wren.pk}/password-link").json()["secret"]
        self.assertEqual(self.join(first).status_code, 409, "a newer one took its place")
        self.assertEqual(self.join(second, password="a whole new password").json()["name"], "Wren")
        self.assertIsNone(elsewhere.get("/api/session", headers={"host": "localhost"}).json())
        self.wren.refresh_from_db()
        self.assertTrue(self.wren.check_password("a whole new password"))

    def test_who_is_taken_off_is_signed_out_at_once_and_keeps_their_history(self):
        client = self.client_for(self.wren)
        self.assertEqual(self.ask(f"people/{self.wren.pk}", method="delete").status_code, 200)
        self.assertIsNone(client.get("/api/session", headers={"host": "localhost"}).json())
        crew = self.ask("people", method="get").json()["people"]
        self.assertIn(("Wren", False), [(one["name"], one["active"]) for one in crew])
        self.assertEqual(self.ask(f"people/{self.wren.pk}/again").status_code, 200)
        self.wren.refresh_from_db()
        self.assertTrue(self.wren.is_active)

    def test_the_last_supervisor_stays_and_only_supervisors_change_people(self):
        for answer in (
            self.ask(f"people/{self.sol.pk}", method="delete"),
            self.ask(f"people/{self.sol.pk}/role", {"role": "wrangler"}, method="put"),
        ):
            self.assertIn("only supervisor", answer.json()["title"])
        for person in (self.wren, self.pip):
            self.assertEqual(self.ask("people/invitations", {"role": "supervisor"}, person).status_code, 403)
            self.assertEqual(self.ask(f"people/{self.sol.pk}", person=person, method="delete").status_code, 403)
        self.assertEqual(self.ask(f"people/{self.wren.pk}/role", {"role": "supervisor"}, method="put").status_code, 200)
        take_off(Person.objects.get(pk=self.wren.pk), self.sol, self.production.pk)
        there = Person.objects.filter(memberships__role=Role.SUPERVISOR, memberships__off_since=None)
        self.assertEqual(list(there), [self.wren])

    def test_one_changes_ones_own_password_and_stays_signed_in(self):
        changed = {"old": "wren-password", "new": "a whole new password"}
        self.assertEqual(self.ask("session/password", {**changed, "old": "wrong"}, self.wren).status_code, 409)
        self.assertEqual(self.ask("session/password", changed, self.wren).status_code, 200)
        self.assertEqual(self.ask("session", person=self.wren, method="get").json()["name"], "Wren")


class Drives(World, TestCase):
    def test_nothing_is_ever_written_onto_a_card(self):
        slot = Insertion.objects.get(card=self.card, removed_at=None).reader.path
        said = {"path": slot, "name": "New", "medium": "ssd", "place": "cart"}
        refused = self.post("stores", said, self.sol)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("Card A-01 is there", refused.json()["title"])
        self.assertFalse((self.card_folder / MARKER).exists())
        fresh = make_drive(hub.home() / "drives" / "fresh", identity="fresh", capacity=10**9)
        with patch("ruggedraft.intake.acts.use_drive.said_to_be_cards", return_value={str(fresh)}):
            self.assertEqual(self.post("stores", said | {"path": str(fresh)}, self.sol).status_code, 409)
        self.assertEqual(self.post("stores", said | {"path": str(fresh)}, self.wren).status_code, 403)
        self.assertEqual(self.post("stores", said | {"path": str(fresh)}, self.sol).status_code, 200)
        self.assertTrue((fresh / MARKER).exists())

    def test_a_drive_of_a_lost_ledger_is_taken_over_under_its_mark_and_nothing_on_it_counts_by_that(self):
        theirs = make_drive(hub.home() / "drives" / "theirs", identity="theirs", capacity=10**9)
        said = {"path": str(theirs), "name": "Theirs", "medium": "ssd", "place": "cart"}
        self.assertEqual(self.post("stores", said | {"take_over": True}, self.sol).status_code, 409, "it has no mark")
        for mark in ("", "not a mark", "raft-store 9"):
            (theirs / MARKER).write_text(mark)
            refused = self.post("stores", said | {"take_over": True}, self.sol)
            self.assertIn("cannot be taken over", refused.json()["title"])
            self.assertEqual((theirs / MARKER).read_text(), mark)
        mark = "0d3e7d35-5a4c-4b43-9d4b-3f1a2f0c7a11"
        (theirs / MARKER).write_text(mark)
        self.assertIn("already marked", self.post("stores", said, self.sol).json()["title"], "not without saying so")
        self.assertEqual(self.post("stores", said | {"take_over": True}, self.wren).status_code, 403)
        self.assertEqual(self.post("stores", said | {"take_over": True}, self.sol).status_code, 200)
        self.assertEqual((theirs / MARKER).read_text(), mark)
        self.assertEqual(str(Store.objects.get(name="Theirs").uuid), mark)
        self.assertFalse(Store.objects.get(name="Theirs").copies.exists())
        ours = hub.home() / "drives" / "one"
        again = self.post("stores", said | {"path": str(ours), "name": "One", "take_over": True}, self.sol)
        self.assertIn("of this ledger already", again.json()["title"])

    def test_a_device_that_moves_is_off_site_as_its_place_is(self):
        moved = self.post("stores/two/place", {"place": "office", "offsite": True}, self.sol, "put")
        self.assertEqual(moved.status_code, 200)
        stores = {store["name"]: store for store in self.get("stores")}
        self.assertEqual((stores["two"]["location"], stores["two"]["offsite"]), ("office", True))
        refused = self.post("stores/two/place", {"place": " ", "offsite": False}, self.sol, "put")
        self.assertEqual(refused.status_code, 409)
        self.assertEqual(
            self.post("stores/two/place", {"place": "x", "offsite": False}, self.wren, "put").status_code, 403
        )


class WhatHangs(World, TestCase):
    """One that hangs troubles itself alone."""

    def setUp(self):
        super().setUp()
        self.goes_on = threading.Event()
        self.addCleanup(self.goes_on.set)

    def test_a_drive_that_hangs_is_said_to_and_the_others_are_there(self):
        really = sight_stores.folder_of

        def folder_of(store):
            if store.name == "two":
                self.goes_on.wait(30)
            return really(store)

        threads = threading.active_count()
        with patch.object(sight_stores, "folder_of", folder_of), patch.object(sight_stores, "_PATIENCE_S", 0.2):
            for _ in range(3):
                sight_stores.sight_stores(self.station)
            seen = {one.store.name: one for one in StoreSighting.objects.select_related("store")}
            self.assertEqual([seen[name].online for name in ("one", "two", "three")], [True, False, True])
            self.assertIn("does not answer", seen["two"].trouble)
            self.assertLessEqual(threading.active_count() - threads, 1)
            self.goes_on.set()
            time.sleep(0.3)
            sight_stores.sight_stores(self.station)
        self.assertTrue(StoreSighting.objects.get(store__name="two").online)

    def test_a_card_that_hangs_is_said_to_and_the_other_is_listed_and_its_late_answer_is_taken(self):
        really = read_card._names_on
        other, _ = self.new_card("A-02", {"f": b"x"})

        def names_on(insertion, began_at):
            if insertion.reader.name == "slot 2":
                self.goes_on.wait(30)
            return really(insertion, began_at)

        with patch.object(read_card, "_names_on", names_on), patch.object(read_card, "_PATIENCE_S", 0.2):
            hub.insert("A-02", "slot-2")
            self.new_card("A-03", {"g": b"y"})
            hub.insert("A-03", "slot-3")
            look(self.station)
            slots = {slot["name"]: slot for slot in self.get("bench")["slots"]}
            self.assertIn("said nothing for", slots["slot 2"]["trouble"])
            self.assertEqual(slots["slot 3"]["listing"]["files"], 1)
            asked = clock.now()
            self.goes_on.set()
            time.sleep(0.3)
            look(self.station)
        slot = next(slot for slot in self.get("bench")["slots"] if slot["name"] == "slot 2")
        self.assertEqual((slot["trouble"], slot["listing"]["files"]), ("", 1))
        self.assertLess(other.listings.latest().began_at, asked, "it speaks of when it was asked")
