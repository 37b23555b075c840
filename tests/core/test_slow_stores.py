"""Stores that are slow or do not answer: the card and the other stores do not wait for them, and nothing is lost."""

import threading
import time
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.transfer import Target, TransferReport, buffers, feed, transfer
from ruggedraft.core.transfer.patience import Patience

XXH = algorithm_named("xxh128")
FILES = {
    **{f"DCIM/100AAAAA/AAAA{n:04d}.JPG": bytes([n]) * 200_000 for n in range(40)},
    "CLIP.MOV": b"clip" * 900_000,
    "zero": b"",
}


class Slow(MemoryStore):
    """Waits before every piece; `gate`: until it is opened."""

    def __init__(self, name: str, seconds: float = 0.0, gate: threading.Event | None = None) -> None:
        super().__init__(name)
        self.seconds, self.gate = seconds, gate

    def write(self, path, size=0, mode=None):
        time.sleep(self.seconds)
        if self.gate:
            self.gate.wait()
        return super().write(path, size, mode)


class SlowCase(TestCase):
    def setUp(self):
        for name, value in (("SIZE", 1 << 20), ("COUNT", 4)):
            smaller = patch.object(buffers, name, value)
            smaller.start()
            self.addCleanup(smaller.stop)
        self.card = MemorySource(dict(FILES))

    def run_to(self, *stores: MemoryStore, scale: float = 1, **words) -> TransferReport:
        """scale: of all times, where a machine that is busy with other things must not pass for a slow store"""
        targets = [Target(store, "day/A001") for store in stores]
        patience = lambda lanes: Patience(lanes, slow_s=0.3 * scale, stalled_s=0.5 * scale, silent_s=scale)  # noqa: E731
        return transfer(self.card, list_card(self.card), targets, XXH, patience=patience, **words)

    def assert_claims_hold(self, report: TransferReport, *stores: MemoryStore) -> None:
        for result, store in zip(report.stores, stores, strict=True):
            for path in result.agreed:
                self.assertEqual(store.files[f"day/A001/{path}"][0], FILES[path])
            self.assertLessEqual(FILES.keys(), result.agreed | {one.path for one in result.failed})


class LeftBehind(SlowCase):
    def test_a_slow_store_is_left_behind_and_fed_from_a_verified_copy(self):
        good, slow = MemoryStore("good"), Slow("slow", 0.15)
        started = time.monotonic()
        report = self.run_to(good, slow)
        took = time.monotonic() - started
        self.assertTrue(report.stores[0].verified, "the good one does not suffer")
        self.assertLess(took, 0.15 * len(FILES), "nobody waited for the slow one")
        self.assertTrue(report.stores[1].behind)
        self.assertFalse(report.stores[1].verified)
        self.assert_claims_hold(report, good, slow)
        self.card.pull_after = 0
        slow.seconds = 0
        wanted = {path: report.read[path] for path in report.stores[1].behind}
        fed = feed(Target(good, "day/A001"), Target(slow, "day/A001"), wanted, XXH)
        self.assertEqual(fed.agreed, report.stores[1].behind)
        whole = report.stores[1].with_fed(fed)
        self.assertTrue(whole.verified, whole.failed)
        self.assertEqual({p.removeprefix("day/A001/"): held[0] for p, held in slow.files.items()}, FILES)

    def test_a_card_with_a_file_that_does_not_read_is_fed_all_the_same(self):
        self.card.unreadable = {"zero"}
        self.card.files["zero"] = b"bad"
        good, slow = MemoryStore("good"), Slow("slow", 0.15)
        report = self.run_to(good, slow)
        behind = report.stores[1].behind
        self.assertFalse(report.stores[0].verified)
        self.assertTrue(behind and report.stores[0].can_feed(behind))
        self.assertFalse(report.stores[0].can_feed(behind | {"zero"}), "nobody feeds what nobody has")
        slow.seconds = 0
        wanted = {path: report.read[path] for path in behind}
        whole = report.stores[1].with_fed(feed(Target(good, "day/A001"), Target(slow, "day/A001"), wanted, XXH))
        self.assertEqual((whole.behind, {one.path for one in whole.failed}), (set(), {"zero"}))
        self.assertFalse(whole.verified)

    def test_a_store_that_hangs_holds_nobody_up_and_is_given_up_in_the_end(self):
        gate = threading.Event()
        good, hung = MemoryStore("good"), Slow("hung", gate=gate)
        try:
            report = self.run_to(good, hung, silent_s=1.0)
            self.assertTrue(report.stores[0].verified)
            self.assertEqual(report.stores[1].agreed, set())
            self.assertIn("has not answered", " ".join(one.reason for one in report.stores[1].failed))
            self.assert_claims_hold(report, good, hung)
            claimed = set(report.stores[1].agreed)
        finally:
            gate.set()
        time.sleep(0.5)
        self.assertEqual(report.stores[1].agreed, claimed, "what it does afterwards is not heard any more")
        self.assertFalse(report.stores[1].verified)

    def test_where_the_only_store_hangs_the_run_ends_too(self):
        gate = threading.Event()
        try:
            report = self.run_to(Slow("hung", gate=gate), silent_s=1.0)
        finally:
            gate.set()
        self.assertFalse(report.verified)
        self.assertEqual(report.stores[0].agreed, set())
        self.assert_claims_hold(report, MemoryStore())

    def test_the_slower_of_two_good_stores_is_waited_for(self):
        """Half as fast is no reason: both write at their pace, and the reader waits a little."""
        one, two = Slow("one", 0.002), Slow("two", 0.004)
        report = self.run_to(one, two, scale=10)
        self.assertTrue(report.verified, [result.failed[:1] for result in report.stores])

    def test_feeding_believes_nothing_that_is_not_the_cards(self):
        good, slow = MemoryStore("good"), MemoryStore("slow")
        report = self.run_to(good)
        rotten = "DCIM/100AAAAA/AAAA0003.JPG"
        good.files[f"day/A001/{rotten}"] = (b"X" * 200_000, good.files[f"day/A001/{rotten}"][1])
        del good.files["day/A001/CLIP.MOV"]
        fed = feed(Target(good, "day/A001"), Target(slow, "day/A001"), dict(report.read), XXH)
        self.assertEqual(fed.agreed, FILES.keys() - {rotten, "CLIP.MOV"})
        self.assertEqual({one.path for one in fed.failed}, {rotten, "CLIP.MOV"})
        self.assertNotIn(f"day/A001/{rotten}", slow.files)
        self.assertFalse(fed.verified)


class Memory(SlowCase):
    def test_a_run_never_holds_more_than_its_buffers(self):
        """Whatever the stores do: the pool makes so many and no more."""
        made = []
        real = buffers.Buffer.__init__

        def note(buffer, pool, number, view):
            made.append(number)
            real(buffer, pool, number, view)

        with patch.object(buffers.Buffer, "__init__", note):
            self.assertTrue(self.run_to(Slow("one", 0.001), Slow("two", 0.002)).verified)
        self.assertLessEqual(len(made), buffers.COUNT)
