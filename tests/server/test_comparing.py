"""Two stores side by side, and a store beside what the ledger knows of it; what is missing is brought by runs."""

import os
import shutil
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.adopting import queries
from ruggedraft.adopting.models import ComparisonRow, StoreComparison
from ruggedraft.adopting.reading_along import NotWanted, ReadingAlong
from ruggedraft.adopting.tasks import compare_stores
from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.core.errors import FileRefused
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.stores import LocalStore
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.feeding import carry_out as run_feed
from ruggedraft.offloads.models import Feed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.tasks import look_at
from ruggedraft.runs.models import Run
from ruggedraft.standins import hub

from .world import FILES, World


class Comparing(World, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()

    def root(self, store: str) -> Path:
        return hub.home() / "drives" / store

    def compared(self, left: str, right: str, *, by_content: bool = False) -> dict:
        asked = self.post("stores/comparisons", {"left": left, "right": right, "by_content": by_content})
        self.assertEqual(asked.status_code, 200, asked.content)
        self.assertTrue(self.get(f"stores/comparisons?left={left}&right={right}")["going"])
        compare_stores(StoreComparison.objects.latest("id").pk)
        return self.get(f"stores/comparisons?left={left}&right={right}")

    def rows(self, left: str, right: str, after: int = -1) -> dict:
        return self.get(f"stores/comparisons/rows?left={left}&right={right}&after={after}")

    def kinds(self, told: dict) -> dict[str, int]:
        return {one["kind"]: one["files"] for one in told["kinds"]}

    def test_two_copies_of_everything_are_identical_whatever_we_left_beside_them(self):
        told = self.compared("one", "two")
        self.assertTrue(told["identical"])
        self.assertEqual((told["left_files"], told["right_files"]), (4, 4))
        self.assertEqual(told["left_bytes"], sum(map(len, FILES.values())))
        self.assertEqual(self.rows("one", "two")["rows"], [])

    def test_what_is_missing_is_brought_and_both_are_identical_then(self):
        (self.root("one") / "papers").mkdir()
        (self.root("one") / "papers" / "budget").write_bytes(b"12345")
        told = self.compared("one", "three")
        self.assertEqual((self.kinds(told), told["no_roll"]), ({"missing": 5}, 1))
        onward = {"of": "a store", "which": "one", "store": "three"}
        self.assertEqual(self.post("bench/onward", onward).status_code, 200)
        run_feed(Feed.objects.latest("pk").pk)
        told = self.compared("one", "three")
        self.assertEqual((told["identical"], self.kinds(told)), (False, {"identical": 4, "missing": 1}))
        self.assertEqual([row["path"] for row in self.rows("one", "three")["rows"]], ["papers/budget"])
        (self.root("one") / "papers" / "budget").unlink()
        self.assertTrue(self.compared("one", "three")["identical"])

    def test_a_store_beside_what_the_ledger_knows_of_it(self):
        home = self.on_drive("one")
        self.assertTrue(self.compared("", "one")["identical"])
        (home / "zero").unlink()
        (home / "DCIM/100AAAAA/AAAA0001.JPG").write_bytes(b"cut")
        (home / "DCIM/100AAAAA/AAAA0001.xmp").write_bytes(b"<x/>")
        (home / "moved").mkdir()
        (home / "DCIM/100AAAAA/AAAA0002.JPG").rename(home / "moved/AAAA0002.JPG")
        told = self.compared("", "one")
        self.assertEqual(
            self.kinds(told), {"identical": 1, "missing": 1, "different": 1, "moved": 1, "working file": 1}
        )
        rows = {row["kind"]: row for row in self.rows("", "one")["rows"]}
        self.assertEqual(rows["moved"]["elsewhere"], "Heron/2026-05-14/A001/moved/AAAA0002.JPG")
        self.assertEqual((rows["different"]["left"], rows["different"]["right"]), (3000, 3))
        self.assertEqual(told["doubted"], 1, "names and sizes are looked at, by what notes them")
        look_at(Copy.objects.get(store__name="one").pk)
        self.assertEqual(self.standing()["planks"][0]["broken_files"], 3)

    def test_a_roll_that_lies_at_the_top_of_its_store_is_compared_too(self):
        for file in self.on_drive("one").iterdir():
            file.rename(self.root("one") / file.name)
        Copy.objects.filter(store__name="one").update(folder="")
        self.assertTrue(self.compared("", "one", by_content=True)["identical"])
        self.turn_a_bit(self.root("one") / "DCIM/100AAAAA/AAAA0001.JPG")
        told = self.compared("", "one", by_content=True)
        self.assertEqual((self.kinds(told), told["doubted"]), ({"identical": 3, "different": 1}, 1))

    def test_rows_come_a_page_at_a_time_and_an_older_comparison_goes(self):
        for n in range(7):
            (self.root("two") / f"x{n}").write_bytes(b"x")
        with patch.object(queries, "_A_PAGE", 3):
            self.compared("one", "two")
            self.compared("one", "two")
            self.assertEqual(ComparisonRow.objects.count(), 7)
            pages, after = [], -1
            while after is not None:
                page = self.rows("one", "two", after)
                pages.append([row["path"] for row in page["rows"]])
                after = page["after"]
        self.assertEqual(pages, [["x0", "x1", "x2"], ["x3", "x4", "x5"], ["x6"]])

    def turn_a_bit(self, file: Path) -> None:
        """Its size and time stay."""
        facts, data = file.stat(), file.read_bytes()
        file.write_bytes(data[:100] + bytes([data[100] ^ 1]) + data[101:])
        os.utime(file, ns=(facts.st_atime_ns, facts.st_mtime_ns))

    def test_by_content_what_names_and_sizes_do_not_tell_is_found(self):
        (self.root("one") / "papers").write_bytes(b"as it was")
        (self.root("two") / "other papers").write_bytes(b"as it was")
        self.turn_a_bit(self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG")
        told = self.compared("one", "two")
        self.assertEqual(self.kinds(told), {"identical": 4, "missing": 1, "extra": 1})
        told = self.compared("one", "two", by_content=True)
        self.assertEqual((told["by_content"], told["identical"], told["cached"]), (True, False, 0))
        self.assertEqual(self.kinds(told), {"identical": 3, "different": 1, "moved": 1})
        rows = {row["kind"]: row for row in self.rows("one", "two")["rows"]}
        self.assertTrue(rows["different"]["path"].endswith("AAAA0001.JPG"))
        self.assertEqual(rows["moved"]["elsewhere"], "other papers")
        self.assertEqual(told["doubted"], 2, "one of both is another; which is, reading tells")
        for check in CheckRun.objects.all():
            run_check(check.pk)
        self.assertEqual([plank["broken_files"] for plank in self.standing()["planks"]], [0, 1])
        said = JournalEntry.objects.filter(act="ask check").latest("id").sentence
        self.assertIn("is to be read again, as a comparison found something in it.", said)
        asked = JournalEntry.objects.filter(act="compare stores").latest("id")
        self.assertIn("is to be compared with 'one', by content.", asked.sentence)

    def test_by_content_with_the_ledger_each_file_is_compared_with_what_came_off_the_card(self):
        self.assertTrue(self.compared("", "one", by_content=True)["identical"])
        self.turn_a_bit(self.on_drive("one") / "DCIM/100AAAAA/AAAA0001.JPG")
        (self.on_drive("one") / "DCIM/100AAAAA/AAAA0002.JPG").rename(self.root("one") / "renamed.JPG")
        self.assertEqual(self.kinds(self.compared("", "one")), {"identical": 3, "missing": 1, "extra": 1})
        told = self.compared("", "one", by_content=True)
        self.assertEqual(self.kinds(told), {"identical": 2, "different": 1, "moved": 1})
        self.assertEqual((told["doubted"], CheckRun.objects.count()), (1, 1))
        again = self.compared("", "one", by_content=True)
        self.assertEqual((again["doubted"], CheckRun.objects.count()), (1, 1), "one check at a time")

    def test_what_may_have_come_from_memory_is_not_called_identical(self):
        with patch.object(LocalStore, "read_back", lambda store, path, consume: Evidence.WRITTEN):
            told = self.compared("one", "two", by_content=True)
        self.assertEqual((told["identical"], told["cached"], self.kinds(told)), (False, 8, {"identical": 4}))

    def test_what_cannot_be_read_says_so_and_is_nothing(self):
        real = LocalStore.read_back

        def broken(store, path, consume):
            if store.name == "two" and path.endswith("AAAA0001.JPG"):
                raise FileRefused("it cannot be read on 'two' (Input/output error)")
            return real(store, path, consume)

        with patch.object(LocalStore, "read_back", broken):
            told = self.compared("one", "two", by_content=True)
        self.assertEqual(self.kinds(told), {"identical": 3, "unreadable": 1})
        self.assertIn("Input/output error", self.rows("one", "two")["rows"][0]["reason"])

    def test_one_by_content_is_stopped_and_found_nothing(self):
        self.post("stores/comparisons", {"left": "one", "right": "two", "by_content": True})
        sides = {"left": "one", "right": "two"}
        self.assertEqual(self.post("stores/comparisons/stop", sides, self.pip).status_code, 403)
        self.assertEqual(self.post("stores/comparisons/stop", sides).status_code, 200)
        self.assertTrue(self.get("stores/comparisons?left=one&right=two")["stopping"])
        compare_stores(StoreComparison.objects.latest("id").pk)
        told = self.get("stores/comparisons?left=one&right=two")
        self.assertEqual((told["going"], told["identical"], told["kinds"]), (False, False, []))
        self.assertEqual(told["trouble"], "Wren stopped it")
        self.assertEqual(self.post("stores/comparisons/stop", sides).status_code, 409)

    def test_one_that_is_read_for_hours_is_under_way_and_cards_go_first(self):
        self.post("stores/comparisons", {"left": "one", "right": "two", "by_content": True})
        going = StoreComparison.objects.latest("id")
        along, waited = ReadingAlong(going), []
        StoreComparison.objects.update(asked_at=now() - timedelta(hours=5))
        run = Run.objects.latest("id")
        Run.objects.filter(pk=run.pk).update(finished_at=None, started_at=now(), station=going.station)

        def wait(seconds: float) -> None:
            waited.append(seconds)
            Run.objects.filter(pk=run.pk).update(finished_at=now())

        with patch("ruggedraft.adopting.reading_along.time.sleep", wait):
            along.on_data(b"12345")
        self.assertEqual((len(waited), self.get("stores/comparisons?left=one&right=two")["read"]), (1, 5))
        again = self.post("stores/comparisons", {"left": "one", "right": "two"})
        self.assertEqual(again.status_code, 409)
        StoreComparison.objects.update(read_at=now() - timedelta(hours=2))
        self.assertEqual(self.post("stores/comparisons", {"left": "one", "right": "two"}).status_code, 200)
        with self.assertRaisesRegex(NotWanted, "another one took its place"):
            ReadingAlong(going).on_data(b"1")

    def test_a_store_that_goes_away_gives_no_comparison(self):
        self.post("stores/comparisons", {"left": "one", "right": "two"})
        shutil.move(self.root("two"), self.root("gone"))
        compare_stores(StoreComparison.objects.latest("id").pk)
        told = self.get("stores/comparisons?left=one&right=two")
        self.assertIn("not connected", told["trouble"])
        self.assertEqual((told["identical"], told["kinds"]), (False, []))

    def test_what_is_refused(self):
        for words, person, status in (
            ({"left": "one", "right": "one"}, None, 409), ({"left": "one", "right": "none"}, None, 404),
            ({"left": "one", "right": "two"}, self.pip, 403),
        ):  # fmt: skip
            self.assertEqual(self.post("stores/comparisons", words, person).status_code, status)
        self.post("stores/comparisons", {"left": "one", "right": "two"})
        self.assertEqual(self.post("stores/comparisons", {"left": "one", "right": "two"}).status_code, 409)
        self.post("stores/two/lost", {"reason": "overboard"})
        self.assertEqual(self.post("stores/comparisons", {"left": "three", "right": "two"}).status_code, 409)
