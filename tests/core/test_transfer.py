"""The run: everything that can go wrong, and after each what is claimed against what is there."""

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from ruggedraft.core.errors import SourceUnreadable, StoreVanished
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import Entry, EntryKind, FolderSource, Listing, MemorySource, list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.transfer import Target, ToCheck, TransferReport, check_copy, transfer

XXH = algorithm_named("xxh128")
FILES = {
    "DCIM/100AAAAA/AAAA0001.JPG": b"one" * 1000,
    "DCIM/100AAAAA/AAAA0002.JPG": b"two" * 500_000,
    "DCIM/100AAAAA/AAAA0003.JPG": b"",
    "notes\nwith a line break.txt": b"three",
}


def run(card: MemorySource, *stores: MemoryStore, **words) -> TransferReport:
    targets = [Target(store, "day/A001") for store in stores]
    return transfer(card, list_card(card), targets, XXH, **words)


def _giving(content: bytes, then: Exception | None = None) -> Callable[[memoryview], int]:
    """A file's `read_into` that gives these bytes, and at their end breaks if asked."""
    rest = memoryview(content)

    def read_into(view: memoryview) -> int:
        nonlocal rest
        count = min(len(view), len(rest))
        view[:count], rest = rest[:count], rest[count:]
        if not count and then:
            raise then
        return count

    return read_into


class _Lying(MemorySource):
    """A card whose files are not as long as it says."""

    def __init__(self, files, lie):
        super().__init__(files)
        self._lie = lie

    def open(self, path):
        file = super().open(path)
        content = self._lie(self.files[path]) if self.files[path] else b""
        file.read_into = _giving(content)
        return file


class _Flaky(MemorySource):
    """A card with a bad sector: one file breaks off half way, so many times."""

    def __init__(self, files, path, times):
        super().__init__(files)
        self.bad, self.times = path, times

    def open(self, path):
        file = super().open(path)
        if path == self.bad and self.times > 0:
            self.times -= 1
            file.read_into = _giving(self.files[path][:70_000], SourceUnreadable("it could not be read off the card"))
        return file


class _Touched(MemorySource):
    """A card something else writes to: times move on between the first byte and the last."""

    def open(self, path):
        file = super().open(path)
        real, moments = file.read_into, [self.modified_ns]

        def read_into(view):
            moments.append(self.modified_ns + 1)
            return real(view)

        file.read_into = read_into
        file.size_and_time = lambda: (len(self.files[path]), moments[-1])
        return file


class TransferCase(TestCase):
    def assert_claims_hold(self, report: TransferReport, card: MemorySource, *stores: MemoryStore) -> None:
        """Whatever was claimed is true byte for byte, and nothing stands under a final name that is not whole."""
        for result, store in zip(report.stores, stores, strict=True):
            for path in result.agreed:
                self.assertEqual(store.files[f"day/A001/{path}"][0], card.files[path])
            for path, (content, _) in store.files.items():
                self.assertEqual(content, card.files[path.removeprefix("day/A001/")], "a file that is not the card's")
            told = result.agreed | {failure.path for failure in result.failed}
            self.assertLessEqual(card.files.keys(), told, "a file about which nothing was said")
            self.assertEqual(result.verified, result.agreed == card.files.keys() and not result.failed)

    def reasons(self, report: TransferReport, index: int) -> dict[str, str]:
        return {failure.path: failure.reason for failure in report.stores[index].failed}


class GoodRuns(TransferCase):
    def test_two_stores_hold_the_card_and_both_are_verified(self):
        card, one, two = MemorySource(dict(FILES)), MemoryStore("one"), MemoryStore("two")
        report = run(card, one, two)
        self.assertTrue(report.verified)
        self.assert_claims_hold(report, card, one, two)
        self.assertEqual(set(report.read), set(FILES))
        self.assertEqual(card.served, sum(map(len, FILES.values())), "each byte of the card is read once")

    def test_run_again_writes_nothing_and_reads_everything(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        run(card, one)
        written = one.written
        again = run(card, one)
        self.assertEqual((again.stores[0].already, one.written), (len(FILES), written))
        self.assertTrue(again.verified)

    def test_progress_ends_at_the_whole(self):
        seen = []
        run(
            MemorySource(dict(FILES)),
            MemoryStore("one"),
            on_progress=lambda p: seen.append((p.read, p.stores[0].verified)),
        )
        total = sum(map(len, FILES.values()))
        self.assertEqual(seen[-1], (total, total))


class BadCards(TransferCase):
    def test_a_card_pulled_half_way(self):
        card, one = MemorySource(dict(FILES), pull_after=4000), MemoryStore("one")
        report = run(card, one)
        self.assertFalse(report.verified)
        self.assert_claims_hold(report, card, one)
        self.assertIn("gone from its reader", self.reasons(report, 0)["notes\nwith a line break.txt"])
        card.pull_after = None
        self.assertTrue(run(card, one).verified, "put in again, the run completes")

    def test_one_unreadable_file_fails_alone(self):
        bad = "DCIM/100AAAAA/AAAA0002.JPG"
        card, one = MemorySource(dict(FILES), unreadable={bad}), MemoryStore("one")
        report = run(card, one)
        self.assertEqual([failure.path for failure in report.unread], [bad])
        self.assertEqual(report.stores[0].agreed, set(FILES) - {bad})
        self.assert_claims_hold(report, card, one)

    def test_a_bad_sector_is_tried_again_so_many_times_and_then_named(self):
        bad = "DCIM/100AAAAA/AAAA0002.JPG"
        for times, well in ((1, True), (2, True), (3, False), (9, False)):
            with self.subTest(times=times):
                card, one = _Flaky(dict(FILES), bad, times), MemoryStore("one")
                seen = []
                report = run(card, one, on_progress=lambda p, seen=seen: seen.append((p.read, p.stores[0].written)))
                self.assert_claims_hold(report, card, one)
                self.assertEqual(
                    (report.verified, [failure.path for failure in report.unread]), (well, [] if well else [bad])
                )
                self.assertEqual(len([f for f in report.stores[0].failed if f.path == bad]), 0 if well else 1)
                if well:
                    total = sum(map(len, FILES.values()))
                    self.assertEqual(seen[-1], (total, total), "what was read in vain is not counted")

    def test_a_card_that_gives_other_bytes_than_before(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        report = run(card, one, expected={"DCIM/100AAAAA/AAAA0001.JPG": "0" * 32})
        self.assertIn("other bytes", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])
        self.assertNotIn("day/A001/DCIM/100AAAAA/AAAA0001.JPG", one.files)
        self.assert_claims_hold(report, card, one)

    def test_a_file_that_changed_since_it_was_listed(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        listing = list_card(card)
        card.files["DCIM/100AAAAA/AAAA0001.JPG"] += b"more"
        report = transfer(card, listing, [Target(one, "day/A001")], XXH)
        self.assertIn("list the card again", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])
        self.assert_claims_hold(report, card, one)

    def test_a_card_that_gives_fewer_or_more_bytes_than_it_says(self):
        for words, lie in (("fewer", lambda data: data[:-1]), ("more", lambda data: data + b"!")):
            with self.subTest(words):
                card, one = _Lying(dict(FILES), lie=lie), MemoryStore("one")
                report = run(card, one)
                self.assertEqual(report.stores[0].agreed, {"DCIM/100AAAAA/AAAA0003.JPG"}, "only the empty file is true")
                self.assertIn("nothing of it was kept", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])
                self.assertEqual(set(one.files), {"day/A001/DCIM/100AAAAA/AAAA0003.JPG"})

    def test_a_file_that_changes_while_it_is_read(self):
        card, one = _Touched(dict(FILES)), MemoryStore("one")
        report = run(card, one)
        self.assertEqual((set(report.read), len(one.files)), ({"DCIM/100AAAAA/AAAA0003.JPG"}, 1), "but the empty file")
        self.assertIn("its size or time changed", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])

    def test_links_and_their_like_are_named_and_never_verified(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        odd = (
            Entry("escape", EntryKind.LINK, detail="/etc/passwd"),
            Entry("pipe", EntryKind.SPECIAL),
            Entry("closed", EntryKind.UNREADABLE, detail="Permission denied"),
        )
        report = transfer(card, Listing((*list_card(card).entries, *odd)), [Target(one, "day/A001")], XXH)
        self.assertFalse(report.verified)
        self.assertEqual({failure.path for failure in report.unread}, {"escape", "pipe", "closed"})
        self.assertIn("/etc/passwd", self.reasons(report, 0)["escape"])

    def test_cancelling_leaves_the_truth(self):
        asked = []
        run(MemorySource(dict(FILES)), MemoryStore("one"), cancelled=lambda: bool(asked.append(1)))
        self.assertGreater(len(asked), 5)
        for patience in range(len(asked)):
            with self.subTest(patience=patience):
                left = iter(range(patience))
                card, one = MemorySource(dict(FILES)), MemoryStore("one")
                report = run(card, one, cancelled=lambda left=left: next(left, None) is None)
                self.assertTrue(report.cancelled)
                self.assertFalse(report.verified)
                self.assert_claims_hold(report, card, one)


class BadStores(TransferCase):
    def test_a_store_that_fills_up_stops_alone(self):
        card, small, good = MemorySource(dict(FILES)), MemoryStore("small", capacity=4000), MemoryStore("good")
        report = run(card, small, good)
        self.assertFalse(report.stores[0].verified)
        self.assertTrue(report.stores[1].verified)
        self.assertIn("'small' is full", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0002.JPG"])
        self.assert_claims_hold(report, card, small, good)
        self.assertTrue(all(small.name in reason for reason in self.reasons(report, 0).values()))

    def test_a_store_that_vanishes_claims_nothing_durable(self):
        card, gone, good = MemorySource(dict(FILES)), MemoryStore("gone", vanish_after=3000), MemoryStore("good")
        report = run(card, gone, good)
        self.assertTrue(report.stores[1].verified)
        self.assertLess(report.stores[0].evidence, Evidence.READ_BACK)
        self.assert_claims_hold(report, card, gone, good)

    def test_bytes_that_come_back_different_are_found_and_the_bad_file_goes(self):
        bad = "day/A001/DCIM/100AAAAA/AAAA0001.JPG"
        flipping = MemoryStore("flip", decay=lambda path, data: b"X" + data[1:] if path == bad else data)
        card = MemorySource(dict(FILES))
        report = run(card, flipping)
        self.assertIn("gave back other bytes", self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])
        self.assertNotIn(bad, flipping.files)
        flipping.decay = None
        self.assertTrue(run(card, flipping).verified, "only what failed is done again, and then it is whole")

    def test_a_differing_file_is_never_overwritten(self):
        for other, words in ((b"another", "7 bytes"), (b"X" + FILES["DCIM/100AAAAA/AAAA0001.JPG"][1:], "same size")):
            with self.subTest(words):
                card, one = MemorySource(dict(FILES)), MemoryStore("one")
                path = "day/A001/DCIM/100AAAAA/AAAA0001.JPG"
                one.files[path] = (other, 0)
                report = run(card, one)
                self.assertEqual(one.files[path][0], other)
                self.assertIn(words, self.reasons(report, 0)["DCIM/100AAAAA/AAAA0001.JPG"])
                self.assertFalse(report.verified)

    def test_a_store_that_cannot_be_read_past_caches_is_not_verified(self):
        card, cached = MemorySource(dict(FILES)), MemoryStore("cached", level=Evidence.WRITTEN)
        report = run(card, cached)
        self.assertEqual((report.stores[0].level, report.verified), (Evidence.WRITTEN, False))

    def test_an_unforeseen_error_is_a_failure_and_not_a_silence(self):
        class Broken(MemoryStore):
            def found(self, path):
                raise ZeroDivisionError

        card, broken, good = MemorySource(dict(FILES)), Broken("broken"), MemoryStore("good")
        report = run(card, broken, good)
        self.assertEqual(len(report.stores[0].failed), len(FILES))
        self.assertTrue(report.stores[1].verified)

    def test_an_unforeseen_error_at_any_step_is_never_taken_for_success(self):
        for call in (
            "open",
            "found",
            "write",
            "write_whole",
            "commit",
            "read_back",
            "read_back_small",
            "settle",
            "look",
        ):
            with self.subTest(call):

                def broken(self, *words, **more):
                    raise ZeroDivisionError

                store = type("Broken", (MemoryStore,), {call: broken})("broken")
                card, good = MemorySource(dict(FILES)), MemoryStore("good")
                report = run(card, store, good)
                self.assertTrue(report.stores[0].failed)
                self.assertFalse(report.stores[0].verified)
                self.assertLess(report.stores[0].evidence, 3) if call in ("settle", "look") else None
                self.assertTrue(report.stores[1].verified)

    def test_every_byte_count_at_which_a_store_can_vanish_or_fill(self):
        total = sum(map(len, FILES.values()))
        for limit in [0, 1, 2999, 3000, 3001, *range(5000, total + 10, 250_000), total - 1]:
            for fault in ({"vanish_after": limit}, {"capacity": limit}):
                with self.subTest(**fault):
                    card, bad, good = MemorySource(dict(FILES)), MemoryStore("bad", **fault), MemoryStore("good")
                    report = run(card, bad, good)
                    self.assert_claims_hold(report, card, bad, good)
                    self.assertFalse(report.stores[0].verified)
                    bad.vanish_after, bad.capacity = None, 1 << 30
                    self.assertTrue(run(card, bad, good).verified, "with the fault mended it completes")


class Checking(TransferCase):
    def test_a_check_tells_changed_from_missing_and_agreeing(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        sums = {path: file.checksum for path, file in run(card, one).read.items()}
        one.files["day/A001/DCIM/100AAAAA/AAAA0001.JPG"] = (b"rotten", 0)
        del one.files["day/A001/DCIM/100AAAAA/AAAA0003.JPG"]
        files = {path: ToCheck(len(FILES[path]), checksum) for path, checksum in sums.items()}
        report = check_copy(one, "day/A001", files, XXH)
        reasons = {failure.path.rpartition("/")[2]: failure.reason for failure in report.failed}
        self.assertIn("missing", reasons["AAAA0003.JPG"])
        self.assertIn("not what was read", reasons["AAAA0001.JPG"])
        self.assertEqual((len(report.agreed), report.elsewhere), (2, {}))

    def test_what_is_missing_is_looked_for_by_content_before_it_is_called_lost(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        sums = {path: file.checksum for path, file in run(card, one).read.items()}
        files = {path: ToCheck(len(FILES[path]), checksum) for path, checksum in sums.items()}
        first, other = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"
        there = {path: one.files.pop(f"day/A001/{path}") for path in (first, other)}
        one.files["day/A001/DCIM/100AAAAA/the best one.JPG"] = there[first]
        one.files["day/A001/DCIM/100AAAAA/as large.JPG"] = (bytes(len(there[first][0])), 0)
        one.files["sorted/AAAA0002.JPG"] = (there[other][0][:-1] + b"?", 0)
        report = check_copy(one, "day/A001", files, XXH)
        self.assertEqual(report.elsewhere, {first: "day/A001/DCIM/100AAAAA/the best one.JPG"})
        self.assertEqual({one.path: one.found for one in report.failed}, {first: Result.ABSENT, other: Result.ABSENT})
        self.assertIn("its content is there as day/A001/DCIM/100AAAAA/the best one.JPG", report.failed[0].reason)
        one.files["sorted/AAAA0002.JPG"] = there[other]
        self.assertEqual(check_copy(one, "day/A001", files, XXH).elsewhere[other], "sorted/AAAA0002.JPG")
        with patch.object(one, "look", side_effect=StoreVanished("it is gone")), self.assertRaises(StoreVanished):
            check_copy(one, "day/A001", files, XXH)
        real = one.read_back

        def gone(path, consume):
            if path.startswith("sorted"):
                raise StoreVanished("it is gone")
            return real(path, consume)

        with patch.object(one, "read_back", gone), self.assertRaises(StoreVanished):
            check_copy(one, "day/A001", files, XXH)
        stopped = check_copy(one, "day/A001", files, XXH, cancelled=lambda: True)
        self.assertEqual((stopped.cancelled, stopped.agreed, stopped.elsewhere), (True, set(), {}))

    def test_many_small_files_are_read_side_by_side_and_each_is_judged_by_itself(self):
        many = {f"A/{n:04}": bytes([n % 256]) * (100 + n) for n in range(400)} | {"A/0100b": b"large" * (1 << 18)}
        with tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR")) as folder:
            home, card = Path(folder), MemorySource(dict(many))
            sums = {path: file.checksum for path, file in run(card, LocalStore("one", home)).read.items()}
            files = {path: ToCheck(len(many[path]), checksum) for path, checksum in sums.items()}
            there = home / "day/A001"
            (there / "A/0003").write_bytes(b"?" * 103)
            (there / "A/0200").write_bytes(many["A/0200"] + b"longer")
            (there / "A/0300").unlink()
            told = []
            report = check_copy(LocalStore("one", home), "day/A001", files, XXH, on_progress=told.append)
            failed = {one.path: one.found for one in report.failed}
            self.assertEqual(failed, {"A/0003": Result.DIFFERS, "A/0200": Result.DIFFERS, "A/0300": Result.ABSENT})
            self.assertEqual(report.agreed, many.keys() - failed.keys())
            self.assertEqual((report.level, told[-1].read), (Evidence.READ_BACK, told[-1].total))
            asked = iter([False] * 300)
            stopped = check_copy(
                LocalStore("one", home), "day/A001", files, XXH, cancelled=lambda: next(asked, True)
            )  # fmt: skip
            told = stopped.agreed | {one.path for one in stopped.failed}
            self.assertEqual((stopped.cancelled, 0 < len(told) < len(many)), (True, True))


NAMES = st.text(
    st.characters(exclude_categories=["Cs"], exclude_characters="/\0"), min_size=1, max_size=20
).map(os.fsencode) | st.binary(min_size=1, max_size=12)  # fmt: skip
SAFE_NAMES = NAMES.filter(lambda name: name not in (b".", b"..") and not set(name) & {0, 0x2F} and len(name) < 200)
TREES = st.dictionaries(
    st.lists(SAFE_NAMES, min_size=1, max_size=3).map(tuple), st.tuples(st.binary(max_size=300), st.integers(0, 2**60)),
    max_size=8,
)  # fmt: skip


class AnyTree(TestCase):
    @settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    @given(TREES)
    def test_any_tree_in_the_same_tree_out(self, tree):
        with tempfile.TemporaryDirectory() as folder:
            base = Path(folder)
            (base / "card").mkdir()
            (base / "drive").mkdir()
            for parts, (content, modified) in tree.items():
                file = base / "card" / os.fsdecode(b"/".join(parts))
                try:
                    file.parent.mkdir(parents=True, exist_ok=True)
                    file.write_bytes(content)
                except OSError:
                    continue  # this tree has a file where another name needs a folder
                os.utime(file, ns=(modified, modified))
            source = FolderSource(base / "card")
            report = transfer(source, list_card(source), [Target(LocalStore("d", base / "drive"), "copy")], XXH)
            self.assertTrue(report.verified, report.stores[0].failed)
            self.assertEqual(self._tree(base / "drive" / "copy"), self._tree(base / "card"))

    def _tree(self, root: Path) -> dict[str, tuple[bytes, int]]:
        files = [path for path in root.rglob("*") if path.is_file()] if root.exists() else []
        return {str(path.relative_to(root)): (path.read_bytes(), path.stat().st_mtime_ns) for path in files}
