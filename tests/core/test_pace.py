"""Rates, what holds a run back, and the time that is left, for runs whose future is known."""

from unittest import TestCase

from ruggedraft.core.transfer import Pace, Progress, StoreProgress

TOTAL = 90_000_000_000


class Clock:
    now = 1000.0

    def __call__(self) -> float:
        return self.now


class Course:
    """A run at steady rates: bytes a second of the reader, and of each store written and read back behind it."""

    def __init__(self, read: float, *stores: tuple[float, float], waits: dict[str, float] | None = None) -> None:
        self.clock, self.rates, self.stores, self.waits = Clock(), read, stores, waits or {}
        self.progress = Progress(TOTAL, 1, stores=[StoreProgress(f"store {n}") for n in range(len(stores))])
        self.pace = Pace(clock=self.clock)
        self.began = self.clock.now
        self.pace.look(self.progress)

    def ends_after(self) -> float:
        return max(TOTAL / self.rates, *(TOTAL / written + TOTAL / checked for written, checked in self.stores))

    def at(self, seconds: float):
        """Writing and reading back share a store's time."""
        self.clock.now = self.began + seconds
        self.progress.read = min(TOTAL, int(self.rates * seconds))
        for (written, checked), store in zip(self.stores, self.progress.stores, strict=True):
            each = 1 / (1 / written + 1 / checked)
            store.written = store.verified = min(TOTAL, int(each * seconds))
        self.progress.waiting_s = {name: share * seconds for name, share in self.waits.items()}
        return self.pace.look(self.progress)


class TimeLeft(TestCase):
    def test_it_is_right_within_a_tenth_after_the_first_minute(self):
        for course in (
            Course(300e6, (500e6, 500e6), (400e6, 450e6)),
            Course(80e6, (500e6, 500e6)),
            Course(900e6, (150e6, 160e6), (500e6, 500e6), waits={"store 0": 0.6}),
        ):
            whole = course.ends_after()
            for second in range(1, int(whole)):
                now = course.at(second)
                if second >= 60:
                    self.assertLess(abs(now.left_s - (whole - second)), 0.1 * (whole - second) + 1, second)

    def test_nothing_is_said_before_there_is_something_to_go_by(self):
        course = Course(80e6, (500e6, 500e6))
        self.assertIsNone(course.at(0.5).left_s)
        self.assertEqual(course.at(0.5).held_by, "")
        stuck = Course(80e6, (1e-9, 1e-9))
        self.assertIsNone(stuck.at(30).left_s)

    def test_a_store_in_trouble_is_not_waited_for(self):
        course = Course(100e6, (500e6, 500e6), (1e-9, 1e-9))
        course.progress.stores[1].trouble = "'store 1' is full"
        self.assertIsNotNone(course.at(30).left_s)


class HeldBy(TestCase):
    def test_the_reader_the_slowest_store_or_the_last_one(self):
        self.assertEqual(Course(80e6, (500e6, 500e6)).at(30).held_by, "the reader")
        self.assertEqual(Course(80e6, (90e6, 90e6), waits={"store 0": 0.5}).at(30).held_by, "store 0")
        self.assertEqual(Course(80e6, (500e6, 500e6), waits={"store 0": 0.05}).at(30).held_by, "the reader")
        late = Course(9e9, (500e6, 500e6), (300e6, 300e6))
        self.assertEqual(late.at(60).held_by, "store 1", "the card is read; this one is the last")


class Rates(TestCase):
    def test_they_are_of_the_last_while(self):
        course = Course(100e6, (200e6, 200e6))
        for second in range(1, 60):
            now = course.at(second)
        self.assertAlmostEqual(now.read_bytes_per_s, 100e6, delta=1e6)
        self.assertAlmostEqual(now.stores_bytes_per_s[0], 100e6, delta=1e6)
