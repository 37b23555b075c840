"""Room foreseen: how far from the truth it is on made-up productions, and that it says no more than it knows."""

import random
import statistics
import unittest
from datetime import date, timedelta

from ruggedraft.core.foresight import PartOfDay, foresee

DAY0 = date(2026, 5, 11)
GB = 10**9


def production(seed: int, days: int = 60) -> dict[date, int]:
    """Made up: days between quiet and busy, a rest day a week, a second unit for a while, and a slow drift."""
    chance = random.Random(seed)
    usual, drift = chance.uniform(80, 900) * GB, chance.uniform(0.99, 1.01)
    second = chance.randrange(days)
    found = {}
    for n in range(days):
        if n % 7 == 6 and chance.random() < 0.9:
            continue
        amount = usual * drift**n * chance.lognormvariate(0, 0.45)
        if second <= n < second + 8:
            amount *= 1.4
        found[DAY0 + timedelta(days=n)] = int(amount)
    return found


def asked_on(whole: dict[date, int], free: int, today: date):
    """At the end of a day. The truth: the first day on which all that followed no longer fits; None: never."""
    known = {day: count for day, count in whole.items() if day <= today}
    left = free
    truth = None
    for day in sorted(day for day in whole if day > today):
        left -= whole[day]
        if left < 0:
            truth = day
            break
    return foresee(free, known, list(known.values()), today), truth


class MadeUpProductions(unittest.TestCase):
    def test_the_range_holds_in_about_eight_of_ten_and_the_day_is_near(self):
        inside, errors = [], []
        for seed in range(300):
            whole = production(seed)
            chance = random.Random(seed + 10_000)
            today = DAY0 + timedelta(days=chance.randrange(2, 16))
            typical = statistics.mean(whole.values())
            found, truth = asked_on(whole, int(typical * chance.uniform(1, 15)), today)
            if truth is None or found is None:
                continue
            inside.append(found.earliest <= truth and (found.latest is None or truth <= found.latest))
            if found.expected:
                errors.append(abs((found.expected - truth).days) / max((truth - today).days, 1))
        self.assertGreater(len(inside), 250)
        self.assertTrue(0.75 <= statistics.mean(inside) <= 0.95, statistics.mean(inside))
        self.assertLessEqual(statistics.median(errors), 0.25)

    def test_little_room_is_said_early_enough(self):
        """Of stores that were full within three days, how many were said to be in danger of that."""
        said = []
        for seed in range(300):
            whole = production(seed)
            today = DAY0 + timedelta(days=9)
            found, truth = asked_on(whole, int(statistics.mean(whole.values()) * 2), today)
            if truth and found and (truth - today).days <= 3:
                said.append((found.earliest - today).days <= 3)
        self.assertGreater(len(said), 100)
        self.assertGreaterEqual(statistics.mean(said), 0.95)


class WhatIsSaid(unittest.TestCase):
    def test_days_that_are_all_alike(self):
        today = DAY0 + timedelta(days=9)
        same = {DAY0 + timedelta(days=n): 100 * GB for n in range(10)}
        found = foresee(450 * GB, same, [50 * GB] * 20, today)
        self.assertEqual(found.expected, today + timedelta(days=5))
        self.assertEqual(found.part, PartOfDay.AFTERNOON)
        self.assertEqual(found.rolls, (9, 9))
        self.assertTrue(found.earliest <= found.expected <= found.latest)

    def test_what_is_written_of_today_is_not_waited_for_again(self):
        days = {DAY0 + timedelta(days=n): 100 * GB for n in range(5)}
        today = DAY0 + timedelta(days=5)
        self.assertEqual(foresee(60 * GB, days, [], today).expected, today)
        self.assertEqual(foresee(60 * GB, days | {today: 90 * GB}, [], today).expected, today + timedelta(days=1))

    def test_nothing_is_said_of_what_cannot_be_known(self):
        self.assertIsNone(foresee(10**12, {}, [], DAY0))
        self.assertIsNone(foresee(10**12, {DAY0: 0}, [], DAY0))
        self.assertIsNone(foresee(1 << 60, {DAY0: GB}, [GB], DAY0))
        later = {DAY0 + timedelta(days=1): GB}
        self.assertIsNone(foresee(10**12, later, [], DAY0), "a camera whose clock is ahead says nothing of the past")

    def test_one_day_gives_a_wide_range(self):
        found = foresee(1000 * GB, {DAY0: 100 * GB}, [100 * GB], DAY0)
        self.assertLess(found.days[0], 7)
        self.assertGreater(found.days[1], 20)

    def test_a_full_store(self):
        found = foresee(0, {DAY0: 100 * GB, DAY0 + timedelta(days=1): 90 * GB}, [GB], DAY0 + timedelta(days=1))
        self.assertEqual((found.earliest, found.rolls), (DAY0 + timedelta(days=1), (0, 0)))
