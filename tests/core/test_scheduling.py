"""When cards will be free, against every order there is."""

import random
from itertools import permutations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.scheduling import TimedRun, best_order, free_at, seconds_for
from ruggedraft.core.scheduling.order import cost


class Order(TestCase):
    def test_times_on_two_lanes(self):
        jobs = [TimedRun("A", 60), TimedRun("B", 30), TimedRun("C", 10)]
        self.assertEqual(free_at(jobs, 2), {"A": 60, "B": 30, "C": 40})
        self.assertEqual(free_at(jobs, 1), {"A": 60, "B": 90, "C": 100})

    def test_what_runs_stays_and_is_reckoned_with(self):
        jobs = [TimedRun("short", 1), TimedRun("runs", 50, running=True)]
        self.assertEqual(free_at(jobs, 1), {"runs": 50, "short": 51})
        self.assertEqual([job.name for job in best_order(jobs, 1)], ["runs", "short"])

    def test_a_camera_that_waits_goes_before_a_shorter_card_that_nobody_waits_for(self):
        jobs = [TimedRun("spare", 20), TimedRun("wanted", 40, weight=5)]
        self.assertEqual([job.name for job in best_order(jobs, 1)], ["wanted", "spare"])

    def test_against_every_order(self):
        """Brute force on small cases: exact on one lane, never more than 1 % off on two or three."""
        chance = random.Random(7)
        for lanes in (1, 2, 3):
            for _ in range(60):
                jobs = [TimedRun(f"{n}", chance.uniform(5, 900), chance.choice([1, 1, 3])) for n in range(6)]
                best = min(cost(order, lanes) for order in permutations(jobs))
                ours = cost(best_order(jobs, lanes), lanes)
                self.assertLessEqual(ours, best * (1 + 1e-9) if lanes == 1 else best * 1.01)

    @given(st.lists(st.floats(1, 1000), max_size=7), st.integers(1, 4))
    def test_every_card_is_in_the_order_once_and_none_is_free_before_it_was_read(self, seconds, lanes):
        jobs = [TimedRun(f"{n}", length) for n, length in enumerate(seconds)]
        order = best_order(jobs, lanes)
        self.assertEqual(sorted(job.name for job in order), sorted(job.name for job in jobs))
        free = free_at(order, lanes)
        self.assertTrue(all(free[job.name] >= job.seconds for job in jobs))
        self.assertLessEqual(cost(order, lanes), cost(jobs, lanes) + 1e-6)

    def test_many_small_files_take_longer_than_their_bytes(self):
        self.assertGreater(seconds_for(10**9, 20_000, 10**8), seconds_for(10**9, 4, 10**8) + 30)
