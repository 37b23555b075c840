"""What is done by itself: at which hours, in which order, when it is tried again, and how fast."""

import unittest
from datetime import UTC, datetime, time, timedelta

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources.listing import EntryKind, Listing
from ruggedraft.core.sources.memory import MemorySource
from ruggedraft.core.stores.memory import MemoryStore
from ruggedraft.core.transfer import FileRead, Target, ToCheck, check_copy, feed, transfer
from ruggedraft.core.transfer.capped import LEAST_BYTES_PER_S, CappedSource, RateCap
from ruggedraft.core.upkeep import ALL_DAY, Hours, LastTry, Recheckable, again_at, by_risk

NOON = datetime(2026, 5, 14, 12, tzinfo=UTC)
XXH = algorithm_named("xxh128")


def days(count: float) -> datetime:
    return NOON - timedelta(days=count)


class HoursOfTheDay(unittest.TestCase):
    def test_hours_may_go_over_midnight_and_end_before_their_end(self):
        night, office = Hours(22 * 60, 6 * 60), Hours(9 * 60, 17 * 60 + 30)
        cases = [
            (night, "21:59", False), (night, "22:00", True), (night, "00:00", True), (night, "05:59", True),
            (night, "06:00", False), (office, "08:59", False), (office, "09:00", True), (office, "17:29", True),
            (office, "17:30", False), (ALL_DAY, "00:00", True), (ALL_DAY, "23:59", True),
            (Hours(60, 60), "00:30", True),
        ]  # fmt: skip
        for hours, at, expected in cases:
            with self.subTest(hours=hours.words, at=at):
                self.assertIs(hours.is_open(time.fromisoformat(at)), expected)

    def test_an_hour_that_no_day_has_is_refused(self):
        for wrong in ((-1, 0), (0, 24 * 60), (99999, 1)):
            with self.assertRaises(ValueError):
                Hours(*wrong)


class WhatIsReadAgainFirst(unittest.TestCase):
    def order(self, *copies: Recheckable, every: int = 7) -> list[int]:
        return [one.key for one in by_risk(copies, NOON, timedelta(days=every))]

    def test_below_the_line_then_few_copies_then_a_device_in_trouble_then_the_oldest(self):
        found = self.order(
            Recheckable(1, below=False, others=2, read_at=days(90)),
            Recheckable(2, below=False, others=1, read_at=days(8)),
            Recheckable(3, below=False, others=1, read_at=days(30)),
            Recheckable(4, below=False, others=1, read_at=days(2), fault_at=days(1)),
            Recheckable(5, below=True, others=3, read_at=days(9)),
            Recheckable(6, below=False, others=1, read_at=None),
        )
        self.assertEqual(found, [5, 4, 6, 3, 2, 1])

    def test_what_was_read_lately_is_not_due(self):
        self.assertEqual(self.order(Recheckable(1, False, 1, days(6.9)), Recheckable(2, False, 1, days(7))), [2])

    def test_a_fault_found_before_the_copy_was_read_makes_nobody_suspect_it(self):
        read_since = Recheckable(1, False, 1, read_at=days(1), fault_at=days(2))
        found_by_that_reading = Recheckable(2, False, 1, read_at=days(1), fault_at=days(1))
        self.assertEqual(self.order(read_since, found_by_that_reading), [])


class TryingAgain(unittest.TestCase):
    def after(self, *ends: RunEnd) -> timedelta | None:
        again = again_at([LastTry(NOON - timedelta(hours=n), end) for n, end in enumerate(ends)])
        return again - NOON if again else None

    def test_it_waits_longer_after_each_trouble_up_to_half_a_day_and_a_day_after_a_person_stopped_it(self):
        trouble, well = RunEnd.TROUBLE, RunEnd.WELL
        self.assertIsNone(self.after())
        self.assertEqual(self.after(well, trouble), timedelta(minutes=15))
        self.assertEqual(self.after(trouble), timedelta(minutes=15))
        self.assertEqual(self.after(trouble, RunEnd.BROKE_OFF), timedelta(minutes=30))
        self.assertEqual(self.after(trouble, trouble, trouble, well, trouble), timedelta(hours=1))
        self.assertEqual(self.after(*[trouble] * 40), timedelta(hours=12))
        self.assertEqual(self.after(RunEnd.CANCELLED), timedelta(hours=24))


class Clock:
    """Time that passes only where somebody sleeps."""

    def __init__(self) -> None:
        self.at = 100.0

    def __call__(self) -> float:
        return self.at

    def sleep(self, seconds: float) -> None:
        self.at += seconds


class NoFasterThanAskedFor(unittest.TestCase):
    def setUp(self):
        self.clock = Clock()
        self.cap = RateCap(2 * LEAST_BYTES_PER_S, self.clock, self.clock.sleep)

    def took(self) -> float:
        return self.clock.at - 100.0

    def test_bytes_cost_their_time_and_what_was_missed_is_not_caught_up_on(self):
        self.cap.spend(LEAST_BYTES_PER_S)
        self.assertAlmostEqual(self.took(), 0.5)
        self.clock.at += 60
        self.cap.spend(LEAST_BYTES_PER_S)
        self.assertAlmostEqual(self.took(), 61)

    def test_no_cap_and_one_that_is_too_low_to_live_with(self):
        RateCap(None, self.clock, self.clock.sleep).spend(10**12)
        self.assertEqual(self.took(), 0)
        RateCap(1, self.clock, self.clock.sleep).spend(LEAST_BYTES_PER_S)
        self.assertAlmostEqual(self.took(), 1)

    def test_feeding_and_checking_read_no_faster_and_prove_the_same(self):
        content = {"small": b"s" * 1000, "large": b"L" * 3_000_000}
        card = MemorySource(content)
        listing = Listing(tuple(one for one in card.walk() if one.kind is EntryKind.FILE))
        good, target = MemoryStore("good"), MemoryStore("target")
        report = transfer(card, listing, [Target(good, "A001")], XXH)
        files = {path: FileRead(one.size, one.modified_ns, one.checksum) for path, one in report.read.items()}
        result = feed(Target(good, "A001"), Target(target, "A001"), files, XXH, cap=self.cap)
        self.assertTrue(result.verified)
        self.assertGreaterEqual(self.took(), 3_001_000 / (2 * LEAST_BYTES_PER_S) - 0.01)
        before = self.took()
        wanted = {path: ToCheck(one.size, one.checksum) for path, one in files.items()}
        checked = check_copy(target, "A001", wanted, XXH, cap=self.cap)
        self.assertEqual((checked.agreed, checked.level), ({"small", "large"}, Evidence.READ_BACK))
        self.assertAlmostEqual(self.took() - before, 3_001_000 / (2 * LEAST_BYTES_PER_S), places=3)

    def test_a_held_back_source_is_otherwise_the_source(self):
        card = MemorySource({"a": b"abc"})
        capped = CappedSource(card, self.cap)
        capped.require()
        self.assertEqual(list(capped.walk()), list(card.walk()))
        file, plain = capped.open("a"), card.open("a")
        self.assertEqual(file.read_at(1, 2), b"bc")
        self.assertEqual(file.size_and_time(), plain.size_and_time())
        self.assertEqual((file.is_sparse(), file.past_caches()), (plain.is_sparse(), plain.past_caches()))
        self.assertEqual(file.read_now(memoryview(bytearray(3))), plain.read_now(memoryview(bytearray(3))))
        file.close()
