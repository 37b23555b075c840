"""What the engine can do more than copy, through the ledger: feeding, second readings, lists on cards, sealing."""

import hashlib
import os
import stat
import time
from pathlib import Path
from unittest.mock import patch

from django.test import TestCase
from django.utils import timezone

from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.aside import ASIDE
from ruggedraft.core.transfer import patience
from ruggedraft.intake.watching import look
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed, Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.offloads.running import carry_out as run_offload
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins import card_maker, hub
from ruggedraft.stores.models import Store

from .world import FILES, SHOT, World


def take_in_again(station) -> None:
    hub.remove("slot-1")
    look(station)
    hub.insert("A-01", "slot-1")
    look(station)


class Feeding(World, TestCase):
    def setUp(self):
        super().setUp()
        for n in range(30):
            card_maker.add_file(self.card_folder, f"DCIM/101AAAAA/BBBB{n:04d}.JPG", os.urandom(400_000), SHOT)
        self.take_in_again()
        impatient = patch.object(patience.Patience, "__init__", _impatient)
        impatient.start()
        self.addCleanup(impatient.stop)

    def take_in_again(self):
        take_in_again(self.station)

    def offload_slowly(self) -> Offload:
        real = LocalStore.write_whole

        def write_whole(store, files):
            if store.name == "two":
                time.sleep(1.0)
            return real(store, files)

        with patch.object(LocalStore, "write_whole", write_whole), patch("ruggedraft.core.transfer.buffers.COUNT", 2):
            return Offload.objects.get(roll=self.offload())

    def test_a_slow_store_is_fed_from_the_other_and_then_the_card_is_clearable(self):
        offload = self.offload_slowly()
        feed = Feed.objects.get()
        self.assertEqual((feed.copy.store.name, feed.finished_at), ("two", None))
        self.assertEqual(self.standing()["standing"], "not clear", "one copy is not two")
        (one, two) = self.get("bench")["slots"][0]["offload"]["stores"]
        self.assertEqual((one["state"], two["state"], two["feed"]["going"]), ("verified", "partial", True))
        hub.remove("slot-1")
        run_feed(feed.pk)
        feed.refresh_from_db()
        self.assertIn("read back, all agree", feed.outcome)
        for path, content in FILES.items():
            if "line" not in path:
                self.assertEqual((self.on_drive("two") / path).read_bytes(), content)
        self.assertEqual(RollFile.objects.filter(roll=offload.roll).count(), len(FILES) + 30)
        hub.insert("A-01", "slot-1")
        self.take_in_again()
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_a_fed_file_that_is_not_the_cards_is_not_believed(self):
        self.offload_slowly()
        there, lacking = (self.on_drive(name) / "DCIM/101AAAAA" for name in ("one", "two"))
        name = max(set(os.listdir(there)) - set(os.listdir(lacking) if lacking.exists() else ()))
        rotten = there / name
        facts = rotten.stat()
        rotten.write_bytes(b"X" * 400_000)
        os.utime(rotten, ns=(facts.st_atime_ns, facts.st_mtime_ns))
        run_feed(Feed.objects.get().pk)
        self.assertIn("1 file is not safe there", Feed.objects.get().outcome)
        self.assertFalse((lacking / name).exists())
        self.assertEqual(self.standing()["standing"], "not clear")

    def test_without_another_verified_copy_it_says_so_and_claims_nothing(self):
        self.offload_slowly()
        hub.home().joinpath("drives", "one").rename(hub.home() / "drives" / "unplugged")
        run_feed(Feed.objects.get().pk)
        self.assertIn("no other verified copy is connected", Feed.objects.get().outcome)
        self.assertEqual(self.standing()["standing"], "not clear")


class BringFromACopy(World, TestCase):
    """Without the card: to a store that has nothing of the roll yet, or to one whose copy is damaged."""

    def setUp(self):
        super().setUp()
        self.roll = self.offload()
        hub.remove("slot-1")
        look(self.station)

    def bring(self, store: str, person=None):
        return self.post(f"bench/rolls/{self.roll.pk}/bring", {"store": store}, person)

    def run_it(self) -> Feed:
        run_feed(Feed.objects.latest("pk").pk)
        return Feed.objects.latest("pk")

    def plank(self, store: str):
        (roll,) = self.get("tally")["rolls"]
        return next((one for one in roll["planks"] if one["store"] == store), None)

    def refused(self, answer, words: str) -> None:
        self.assertEqual(answer.status_code, 409, answer.content)
        self.assertIn(words, answer.json()["title"])

    def rot(self, store: str) -> Path:
        file = self.on_drive(store) / "DCIM/100AAAAA/AAAA0001.JPG"
        facts = file.stat()
        file.write_bytes(b"X" * facts.st_size)
        os.utime(file, ns=(facts.st_atime_ns, facts.st_mtime_ns))
        self.check(self.roll, store)
        return file

    def test_a_new_copy_is_wanted_until_it_is_read_back_there(self):
        self.assertIsNone(self.plank("three"))
        self.assertEqual(self.bring("three").status_code, 200)
        self.assertEqual(self.plank("three")["state"], "wanted", "asking is no copy")
        told = self.get("tally/rolls/A001")["under_way"]
        self.assertEqual([(one["kind"], one["store"], one["state"]) for one in told], [("feed", "three", "waiting")])
        self.refused(self.bring("three"), "brought to 'three' already")
        feed = self.run_it()
        self.assertIn("read back, all agree", feed.outcome)
        self.assertEqual(self.plank("three")["state"], "verified")
        for path, content in FILES.items():
            self.assertEqual((self.on_drive("three") / path).read_bytes(), content)

    def test_a_damaged_copy_is_mended_and_the_damaged_file_stays_aside(self):
        file = self.rot("two")
        (step,) = self.get("tally")["rolls"][0]["remedy"]
        self.assertEqual((step["act"], step["store"], step["tag"], step["under_way"]), ("mend", "two", "A001", False))
        self.assertEqual(self.bring("two").status_code, 200)
        (step,) = self.get("tally")["rolls"][0]["remedy"]
        self.assertTrue(step["under_way"])
        self.assertEqual(self.plank("two")["state"], "broken", "asking mends nothing")
        self.run_it()
        self.assertEqual(file.read_bytes(), FILES["DCIM/100AAAAA/AAAA0001.JPG"])
        self.assertEqual(self.plank("two")["state"], "verified")
        beneath = (hub.home() / "drives" / "two" / ASIDE).rglob("AAAA0001.JPG")
        aside = [one.read_bytes()[:1] for one in beneath]
        self.assertEqual(aside, [b"X"], "what was damaged is kept, for whoever wants to look at it")

    def test_damage_is_never_brought_from_a_copy_that_rotted_unnoticed(self):
        self.rot("two")
        good = self.on_drive("one") / "DCIM/100AAAAA/AAAA0001.JPG"
        facts = good.stat()
        good.write_bytes(b"Y" * facts.st_size)
        os.utime(good, ns=(facts.st_atime_ns, facts.st_mtime_ns))
        self.assertEqual(self.bring("two").status_code, 200)
        self.assertIn("1 file is not safe there", self.run_it().outcome)
        self.assertEqual(self.plank("two")["state"], "broken")

    def test_one_writes_to_a_copy_at_a_time(self):
        """Two that do take each other's files for strange ones, and a whole copy would be shown as damaged."""
        self.bring("three")
        feed = Feed.objects.get()
        self.plan.stores.add(self.drives["three"])
        card_maker.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        offload = start_offload(self.wren, self.card, propose(self.card).tag)
        Feed.objects.update(started_at=timezone.now())
        run_offload(offload.pk)
        self.assertIn("brought there from another copy", offload.findings.get().reason)
        self.assertEqual([self.plank(name)["state"] for name in ("one", "two", "three")],
                         ["verified", "verified", "wanted"])  # fmt: skip
        again = start_offload(self.wren, self.card, propose(self.card).tag)
        Offload.objects.filter(pk=again.pk).update(started_at=timezone.now())
        run_feed(feed.pk)
        self.assertIn("the card is being offloaded there", Feed.objects.get().outcome)
        run_offload(again.pk)
        self.assertEqual(self.plank("three")["state"], "verified")

    def test_what_speaks_against_it_is_said_before_anything_is_written(self):
        self.assertEqual(self.bring("three", self.pip).status_code, 403)
        self.refused(self.bring("nowhere"), "no store 'nowhere'")
        self.refused(self.bring("two"), "known to hold all of A001")
        self.rot("one")
        self.rot("two")
        self.refused(self.bring("three"), "No other copy of A001 is whole and read back")
        self.assertFalse(Feed.objects.exists())
        self.assertIsNone(self.plank("three"))

    def test_a_store_without_room_or_away_or_lost_is_refused(self):
        Store.objects.filter(name="three").update(reserve=10**12)
        self.refused(self.bring("three"), "make room")
        (hub.home() / "drives" / "three").rename(hub.home() / "drives" / "away")
        look(self.station)
        self.refused(self.bring("three"), "not connected")
        self.post("stores/three/lost", {"reason": "in the creek"})
        self.refused(self.bring("three"), "reported lost")

    def test_a_store_that_is_lost_while_it_is_brought_gets_nothing_claimed(self):
        self.bring("three")
        self.post("stores/three/lost", {"reason": "in the creek"})
        self.assertIn("could not be fed", self.run_it().outcome)
        self.assertEqual(self.plank("three")["state"], "lost")

    def test_names_that_a_store_cannot_hold_are_refused_by_name(self):
        Store.objects.filter(name="three").update(file_system="exFAT")
        self.refused(self.bring("three"), "cannot hold")


def _impatient(self, lanes, **words):
    self.lanes, self.slow_s, self.stalled_s, self.silent_s = lanes, 0.2, 0.3, 60.0
    self.clock = time.monotonic
    self._held, self._started = {}, time.monotonic()


class SecondLooks(World, TestCase):
    def run_it(self, **words) -> Offload:
        offload = start_offload(self.wren, self.card, propose(self.card).tag, **words)
        run_offload(offload.pk)
        offload.refresh_from_db()
        return offload

    def test_what_the_cards_own_list_contradicts_is_copied_and_blocks_until_somebody_answers_for_it(self):
        good = hashlib.md5(FILES["DCIM/100AAAAA/AAAA0002.JPG"]).hexdigest()
        lines = f"{'0' * 32}  DCIM/100AAAAA/AAAA0001.JPG\n{good}  DCIM/100AAAAA/AAAA0002.JPG\n"
        card_maker.add_file(self.card_folder, "A001.md5", lines.encode(), SHOT)
        take_in_again(self.station)
        offload = self.run_it()
        (finding,) = offload.findings.all()
        self.assertIn("the list that lies on the card says", finding.reason)
        self.assertTrue((self.on_drive("one") / "DCIM/100AAAAA/AAAA0001.JPG").exists(), "it is copied all the same")
        self.assertEqual(self.standing()["standing"], "not clear")
        self.assertEqual(self.sign().status_code, 409)

    def test_a_plan_that_reads_twice_and_takes_more_checksums(self):
        self.plan.read_twice, self.plan.more_algorithms = True, ["md5", "sha256"]
        self.plan.save()
        offload = self.run_it()
        self.assertEqual((offload.twice, offload.findings.count()), (True, 0))
        row = RollFile.objects.get(path="zero")
        self.assertEqual(row.others, {"md5": hashlib.md5(b"").hexdigest(), "sha256": hashlib.sha256(b"").hexdigest()})
        names = {path.name for path in self.on_drive("one").parent.iterdir()}
        self.assertEqual(names, {"A001", "A001.xxh128", "A001.md5", "A001.sha256", "A001.record.json"})
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_an_archive_is_read_only_after_it_was_verified(self):
        store = self.drives["two"]
        store.seals = True
        store.save()
        self.run_it()
        sealed = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        try:
            self.assertEqual(stat.S_IMODE(sealed.stat().st_mode) & 0o222, 0)
            self.assertTrue((self.on_drive("one") / "zero").stat().st_mode & 0o200, "the other store is as it was")
            self.assertEqual(self.standing()["standing"], "ready to sign")
            self.run_it_again_finds_all_there()
        finally:
            opened = LocalStore("two", hub.home() / "drives" / "two")
            for path in FILES:
                opened.unseal(f"Heron/2026-05-14/A001/{path}")

    def run_it_again_finds_all_there(self):
        self.check(self.standing_roll(), "two")
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def standing_roll(self):
        return self.card.rolls.latest("id")
