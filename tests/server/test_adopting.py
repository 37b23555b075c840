"""Drives that come with rolls on them, and copies that somebody moved: found by name and size, believed when read."""

import shutil
from pathlib import Path

from django.test import TestCase

from ruggedraft.adopting.models import StoreSearch
from ruggedraft.adopting.tasks import search_store
from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.runs import RunEnd
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.acts.ask_feed import ask_feed
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.standins import hub

from .world import World


class Adopting(World, TestCase):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()

    def root(self, store: str) -> Path:
        return hub.home() / "drives" / store

    def search(self, store: str) -> dict:
        self.assertEqual(self.post(f"stores/{store}/search").status_code, 200)
        self.assertTrue(self.get(f"stores/{store}/search")["going"])
        search_store(StoreSearch.objects.latest("id").pk)
        return self.get(f"stores/{store}/search")

    def adopt(self, store: str, folder: str, person=None, tag: str = "A001"):
        said = {"tag": tag, "folder": folder}
        return self.post(f"stores/{store}/adopt", said, person)

    def read(self) -> CheckRun:
        run_check(CheckRun.objects.latest("id").pk)
        return CheckRun.objects.latest("id")

    def facts(self, store: str):
        (standing,) = roll_standings([self.roll.pk], in_full=True).values()
        return next((one.facts for one in standing.copies if one.store.name == store), None)

    def bring(self, folder: str) -> Path:
        """Somebody copies the roll to drive three by other means."""
        there = self.root("three") / folder
        shutil.copytree(self.on_drive("one"), there)
        return there

    def test_a_renamed_folder_is_recognised_adopted_and_counts_once_it_was_read(self):
        self.bring("from the van/first card")
        found = self.search("three")
        (one,) = found["rolls"]
        self.assertEqual((one["tag"], one["folder"]), ("A001", "from the van/first card"))
        self.assertEqual((one["files"], one["of_files"], one["known"], one["twice"]), (4, 4, False, False))
        self.assertIsNone(self.facts("three"), "nothing is claimed by looking")
        self.assertEqual(self.adopt("three", "from the van/first card").status_code, 200)
        self.assertEqual((self.facts("three").files, self.facts("three").level), (0, Evidence.LISTED))
        self.assertEqual(self.read().end, RunEnd.WELL)
        facts = self.facts("three")
        self.assertEqual((facts.whole, facts.level), (True, Evidence.READ_BACK))
        self.assertTrue(self.get("stores/three/search")["rolls"][0]["known"])
        self.assertIn("was found in 'from the van/first card' on 'three'", _said("adopt copy"))
        self.assertEqual(self.adopt("three", "from the van/first card").status_code, 409, "it is known by now")

    def test_a_copy_that_looks_right_and_is_not_never_counts(self):
        there = self.bring("old")
        rotten = there / "DCIM/100AAAAA/AAAA0002.JPG"
        rotten.write_bytes(rotten.read_bytes()[:-1] + b"!")
        self.assertEqual(self.search("three")["rolls"][0]["files"], 4)
        self.adopt("three", "old")
        self.assertEqual(self.read().end, RunEnd.TROUBLE)
        facts = self.facts("three")
        self.assertEqual((facts.whole, facts.broken_files, facts.files), (False, 1, 3))

    def test_half_a_roll_is_adopted_as_half(self):
        there = self.bring("old")
        (there / "zero").unlink()
        self.assertEqual(self.search("three")["rolls"][0]["files"], 3)
        self.adopt("three", "old")
        self.read()
        self.assertEqual((self.facts("three").whole, self.facts("three").missing_files), (False, 1))

    def test_a_copy_that_somebody_moved_is_found_and_followed(self):
        moved = self.root("one") / "safe place" / "A001"
        moved.parent.mkdir()
        self.on_drive("one").rename(moved)
        found = self.search("one")["rolls"]
        self.assertEqual([(one["folder"], one["twice"]) for one in found], [("safe place/A001", True)])
        refused = self.adopt("one", "safe place/A001")
        self.assertEqual(refused.status_code, 409, "the ledger believes that it is where it was, until it has looked")
        self.assertIn("wait until the station has looked again", refused.json()["title"])
        copy = Copy.objects.select_related("roll", "store__device").get(store__name="one")
        look_at_copy(copy)
        self.assertEqual(self.facts("one").files, 0)
        self.assertEqual(self.search("one")["rolls"][0]["moved_from"], "Heron/2026-05-14/A001")
        self.assertEqual(self.adopt("one", "safe place/A001").status_code, 200)
        self.assertEqual(self.facts("one").files, 0, "it is not believed before it was read")
        self.assertEqual(self.read().end, RunEnd.WELL)
        self.assertEqual((self.facts("one").whole, self.facts("one").level), (True, Evidence.READ_BACK))
        self.assertEqual(Copy.objects.get(store__name="one").folder, "safe place/A001")
        self.assertEqual(look_at_copy(Copy.objects.select_related("roll", "store__device").get(pk=copy.pk)), 0)

    def test_other_stores_get_the_folder_that_the_plan_gave_and_not_that_of_an_adopted_copy(self):
        self.bring("old")
        self.search("three")
        self.adopt("three", "old")
        self.read()
        self.drive("four")
        look(self.station)
        feed = ask_feed(self.wren, Roll.objects.get(pk=self.roll.pk), "four")
        self.assertEqual(feed.copy.folder, "Heron/2026-05-14/A001")

    def test_a_second_folder_of_a_roll_on_one_store_is_told_and_counts_for_nothing(self):
        shutil.copytree(self.on_drive("one"), self.root("one") / "again")
        found = {one["folder"]: one for one in self.search("one")["rolls"]}
        self.assertTrue(found["Heron/2026-05-14/A001"]["known"])
        self.assertTrue(found["again"]["twice"])
        self.assertEqual(self.adopt("one", "again").status_code, 409)
        self.assertEqual(Copy.objects.filter(roll=self.roll).count(), 2)

    def test_what_belongs_to_no_roll_is_told_by_folder(self):
        (self.root("three") / "papers").mkdir()
        (self.root("three") / "papers" / "budget.txt").write_bytes(b"12345")
        found = self.search("three")
        self.assertEqual(found["strangers"], [{"folder": "papers", "files": 1, "bytes": 5}])
        self.assertEqual(found["rolls"], [])
        self.assertEqual(self.search("one")["strangers"], [], "what we leave beside copies is ours")

    def test_what_belongs_to_no_roll_is_taken_in_as_a_card_of_its_own(self):
        stranger = self.root("three") / "from elsewhere"
        (stranger / "DCIM").mkdir(parents=True)
        (stranger / "DCIM" / "x.jpg").write_bytes(b"never seen before")
        self.search("three")
        said = {"folder": "from elsewhere"}
        self.assertEqual(self.post("stores/three/take-in", said, self.wren).status_code, 403)
        self.assertEqual(self.post("stores/three/take-in", {"folder": "none"}, self.sol).status_code, 409)
        self.assertEqual(self.post("stores/three/take-in", said, self.sol).status_code, 200)
        look(self.station)
        listed = [slot["listing"] for slot in self.get("bench")["slots"]]
        self.assertEqual(sorted(one["files"] for one in listed if one), [1, 4], "it hangs on the Bench")

    def test_a_folder_with_copies_in_it_is_never_a_card(self):
        self.assertEqual(self.search("one")["rolls"][0]["known"], True)
        beside = self.on_drive("one").parent / "note.txt"
        beside.write_bytes(b"something of somebody's")
        self.assertEqual([one["folder"] for one in self.search("one")["strangers"]], ["Heron"])
        refused = self.post("stores/one/take-in", {"folder": "Heron"}, self.sol)
        self.assertIn("A001 is kept in 'Heron/2026-05-14/A001'", refused.json()["title"])

    def test_who_may_and_what_is_refused(self):
        self.bring("old")
        self.assertEqual(self.post("stores/three/search", person=self.pip).status_code, 403)
        self.assertEqual(self.adopt("three", "old").status_code, 409, "nobody looked")
        self.search("three")
        self.assertEqual(self.adopt("three", "old", self.pip).status_code, 403)
        self.assertEqual(self.adopt("three", "elsewhere").status_code, 409)
        self.assertEqual(self.adopt("three", "old", tag="Z999").status_code, 404)
        self.post("stores/three/search")
        self.assertEqual(self.post("stores/three/search").status_code, 409, "it is looked through already")
        self.root("three").rename(self.root("three").with_name("gone"))
        search_store(StoreSearch.objects.latest("id").pk)
        told = self.get("stores/three/search")
        self.assertIn("not connected", told["trouble"])
        self.assertEqual(told["rolls"], [])
        self.assertEqual(self.adopt("three", "old").status_code, 409)


def _said(act: str) -> str:
    return JournalEntry.objects.filter(act=act).latest("id").sentence
