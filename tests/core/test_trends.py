"""How it goes, as figures: what they are must be countable by hand."""

from datetime import UTC, date, datetime, timedelta
from unittest import TestCase

from ruggedraft.core.trends import by_age, free_over_days, is_slow, waiting_over

DAWN = datetime(2026, 5, 14, 4, tzinfo=UTC)


def at(hour: float) -> datetime:
    return DAWN + timedelta(hours=hour)


class Waiting(TestCase):
    def steps(self, spans) -> list[tuple[float, int]]:
        found = waiting_over(spans, at(0), at(24))
        return [((one.at - DAWN) / timedelta(hours=1), one.cards) for one in found]

    def test_a_card_is_one_card_however_many_rolls_are_on_it(self):
        spans = {"A": [(at(1), at(5)), (at(3), None)], "B": [(at(2), at(4)), (at(4), at(6))]}
        self.assertEqual(self.steps(spans), [(0, 0), (1, 1), (2, 2), (6, 1), (24, 1)])

    def test_what_waits_since_yesterday_waits_at_dawn_and_what_is_later_is_not_counted(self):
        spans = {"A": [(at(-5), at(2))], "B": [(at(-9), at(-3))], "C": [(at(25), None)], "D": [(at(-5), None)]}
        self.assertEqual(self.steps(spans), [(0, 2), (2, 1), (24, 1)])

    def test_never_below_nothing_and_never_more_than_there_are(self):
        spans = {str(n): [(at(n % 7), at(n % 7 + n % 5)), (at(n % 3), at(n % 11))] for n in range(30)}
        counts = [cards for _, cards in self.steps(spans)]
        self.assertTrue(all(0 <= count <= 30 for count in counts), counts)
        self.assertEqual(counts[-1], 0)


class Rates(TestCase):
    def test_what_stands_out_is_slow_again_and_again(self):
        self.assertTrue(is_slow([100] * 5 + [40, 45, 30]))
        self.assertFalse(is_slow([100] * 5 + [40, 95, 30]), "it is as fast as ever when nothing else holds it")
        self.assertFalse(is_slow([100] * 5 + [51, 51, 51]))
        self.assertFalse(is_slow([100, 100, 10, 10, 10]), "two runs say nothing of what is usual")
        self.assertFalse(is_slow([]))


class Ages(TestCase):
    def test_every_copy_is_counted_once(self):
        moments = [at(0) - timedelta(days=days) for days in (0, 1, 1.1, 3, 8, 14, 29, 31, 400)] + [None, None]
        found = {(one.days, one.never): one.copies for one in by_age(moments, at(0))}
        self.assertEqual(found, {
            (1, False): 2, (3, False): 2, (7, False): 0, (14, False): 2, (30, False): 1, (None, False): 2,
            (None, True): 2,
        })  # fmt: skip


class Room(TestCase):
    def test_what_was_free_after_each_day_is_what_later_days_took(self):
        by_day = {date(2026, 5, 12): 7, date(2026, 5, 14): 5, date(2026, 5, 13): 3}
        found = free_over_days(100, by_day, date(2026, 5, 14))
        self.assertEqual([(one.day.day, one.free) for one in found], [(12, 108), (13, 105), (14, 100)])
        self.assertEqual(len(free_over_days(100, {}, date(2026, 5, 14))), 1)
