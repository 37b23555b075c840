import os
import tempfile
from pathlib import Path
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.errors import SourceUnreadable, SourceVanished
from ruggedraft.core.preflight import Demand, falls_short, preflight
from ruggedraft.core.redundancy import Rule, StoreFacts
from ruggedraft.core.sources import EntryKind, FolderSource, from_ledger, list_card, to_ledger


class LedgerPaths(TestCase):
    @given(st.binary(max_size=40).filter(lambda name: b"\0" not in name))
    def test_any_name_survives_the_ledger_and_is_valid_text_there(self, name):
        path = os.fsdecode(name)
        self.assertEqual(from_ledger(to_ledger(path)), path)
        to_ledger(path).encode("utf-8")

    @given(st.binary(max_size=12), st.binary(max_size=12))
    def test_two_names_never_share_a_ledger_path(self, one, two):
        self.assertEqual(to_ledger(os.fsdecode(one)) == to_ledger(os.fsdecode(two)), one == two)


class Listing(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.card = Path(folder.name) / "card"
        (self.card / "DCIM" / "100AAAAA").mkdir(parents=True)
        (self.card / "DCIM" / "100AAAAA" / "AAAA0001.JPG").write_bytes(b"jpeg")

    def test_files_folders_links_and_pipes_are_told_apart(self):
        (self.card / "out").symlink_to("/etc")
        os.mkfifo(self.card / "pipe")
        (self.card / "zero").touch()
        kinds = {entry.path: entry.kind for entry in list_card(FolderSource(self.card)).entries}
        self.assertEqual(kinds["out"], EntryKind.LINK)
        self.assertEqual(kinds["pipe"], EntryKind.SPECIAL)
        self.assertEqual(kinds["zero"], EntryKind.FILE)
        self.assertEqual(kinds["DCIM/100AAAAA"], EntryKind.FOLDER)
        self.assertNotIn("out/passwd", kinds, "links are not followed")

    def test_a_file_is_not_opened_through_a_link(self):
        (self.card / "out").symlink_to("/etc")
        with self.assertRaises(SourceUnreadable):
            FolderSource(self.card).open("out/passwd")

    def test_a_pulled_or_swapped_card_is_gone_even_in_the_middle(self):
        slot = self.card.with_name("slot")
        slot.symlink_to(self.card)
        source = FolderSource(slot)
        slot.unlink()
        with self.assertRaises(SourceVanished):
            source.open("DCIM/100AAAAA/AAAA0001.JPG")
        other = self.card.with_name("other")
        (other / "DCIM" / "100AAAAA").mkdir(parents=True)
        (other / "DCIM" / "100AAAAA" / "AAAA0001.JPG").write_bytes(b"evil")
        slot.symlink_to(other)
        with self.assertRaises(SourceVanished):
            source.open("DCIM/100AAAAA/AAAA0001.JPG")
        with self.assertRaises(SourceVanished):
            list_card(source)
        with self.assertRaises(SourceVanished):
            FolderSource(self.card / "none")


class Preflight(TestCase):
    def _store(self, name: str, free: int, device: str = "", **more) -> StoreFacts:
        return StoreFacts(name, frozenset({device or name}), "cart", "ssd", free=free, **more)

    def test_only_what_is_missing_there_must_fit(self):
        """Common practice, no source: a job that sums the whole source refuses work that would fit."""
        stores = [self._store("one", 10**9), self._store("two", 10_000)]
        demands = [Demand(stores[0], 10**8, 5), Demand(stores[1], 0, 0)]
        self.assertEqual(preflight(demands), [])

    def test_a_store_that_is_too_small_is_refused_by_how_much(self):
        demands = [Demand(self._store("one", 10**9), 10**8, 1), Demand(self._store("two", 40_000_000), 10**8, 1)]
        (refusal,) = preflight(demands)
        self.assertEqual((refusal.kind, refusal.store, refusal.short), ("room", "two", 60_004_096))
        self.assertIn("'two' is 60.0 MB too small", refusal.sentence)

    def test_two_stores_of_one_device_do_not_satisfy_the_rule_and_may_be_written_to(self):
        demands = [Demand(self._store(name, 10**9, device="same"), 1, 1) for name in ("one", "two")]
        self.assertEqual(preflight(demands), [])
        self.assertEqual([one.kind for one in falls_short(demands, Rule())], ["devices"])

    def test_lost_and_unplugged_stores_are_refused(self):
        demands = [Demand(self._store("a", 1, lost=True), 1, 1), Demand(self._store("b", 1, online=False), 1, 1)]
        self.assertEqual([refusal.kind for refusal in preflight(demands)], ["lost", "offline"])

    def test_where_no_store_counts_nothing_starts(self):
        landing = Demand(self._store("landing", 10**9, counts=False), 1, 1)
        for demands in ([], [landing]):
            self.assertEqual([one.kind for one in preflight(demands)], ["copies"])
            self.assertEqual(falls_short(demands, Rule()), [])

    def test_what_must_fit(self):
        """Blocks of 4 KiB are common practice, no source: of file systems in use the usual one."""
        place = self._store("one", 0)
        for demand, needed in (
            (Demand(place, 100, 0, reserve=7), 0),
            (Demand(place, 100, 1), 100 + 4096),
            (Demand(place, 100, 2, reserve=7), 100 + 2 * 4096 + 7),
        ):
            self.assertEqual(demand.needed, needed)

    def test_it_fits_to_the_byte(self):
        for free, short in ((4106, []), (4105, [1])):
            demands = [Demand(self._store("one", free), 10, 1), Demand(self._store("two", free), 10, 1)]
            self.assertEqual([one.short for one in preflight(demands)], short * 2)

    def test_what_the_plan_lacks_is_said_with_its_numbers(self):
        landing = Demand(self._store("landing", 10**9, counts=False), 1, 1)
        good = [Demand(self._store(name, 10**9), 1, 1) for name in ("one", "two")]
        for words, demands, rule, kinds in (
            ("a landing area does not count", [good[0], landing], Rule(), ["copies", "devices"]),
            ("a first copy to one drive alone", [good[0]], Rule(), ["copies", "devices"]),
            ("a place comes with the first store, others by travelling", good, Rule(locations=3), []),
            ("just enough", good, Rule(), []),
            ("one too few", good, Rule(copies=3), ["copies"]),
        ):
            with self.subTest(words):
                self.assertEqual([one.kind for one in falls_short(demands, rule)], kinds)
                self.assertEqual(preflight(demands), [])
        (said,) = falls_short(good, Rule(copies=3))
        self.assertIn("2 of the 3 stores that count", said.sentence)
        self.assertEqual((said.store, said.short), (None, 0))
