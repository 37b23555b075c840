"""When cards will be free, against every order there is."""

import random
from itertools import permutations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.scheduling import Served, Sharing, TimedRun, best_order, free_at, learned, seconds_for
from ruggedraft.core.scheduling.order import cost


class Order(TestCase):
    def test_times_on_two_lanes(self):
        jobs = [TimedRun("A", 60), TimedRun("B", 30), TimedRun("C", 10)]
        self.assertEqual(free_at(jobs, Sharing(2)), {"A": 60, "B": 30, "C": 40})
        self.assertEqual(free_at(jobs, Sharing(1)), {"A": 60, "B": 90, "C": 100})

    def test_what_runs_stays_and_is_reckoned_with(self):
        jobs = [TimedRun("short", 1), TimedRun("runs", 50, running=True)]
        self.assertEqual(free_at(jobs, Sharing(1)), {"runs": 50, "short": 51})
        self.assertEqual([job.name for job in best_order(jobs, Sharing(1))], ["runs", "short"])

    def test_a_camera_that_waits_goes_before_a_shorter_card_that_nobody_waits_for(self):
        jobs = [TimedRun("spare", 20), TimedRun("wanted", 40, weight=5)]
        self.assertEqual([job.name for job in best_order(jobs, Sharing(1))], ["wanted", "spare"])

    def test_against_every_order(self):
        """Brute force on small cases: exact on one lane, never more than 1 % off on two or three."""
        chance = random.Random(7)
        for lanes in (1, 2, 3):
            for _ in range(60):
                jobs = [TimedRun(f"{n}", chance.uniform(5, 900), chance.choice([1, 1, 3])) for n in range(6)]
                sharing = Sharing(lanes)
                best = min(cost(order, sharing) for order in permutations(jobs))
                ours = cost(best_order(jobs, sharing), sharing)
                self.assertLessEqual(ours, best * (1 + 1e-9) if lanes == 1 else best * 1.01)

    @given(st.lists(st.floats(1, 1000), max_size=7), st.integers(1, 4))
    def test_every_card_is_in_the_order_once_and_none_is_free_before_it_was_read(self, seconds, lanes):
        jobs = [TimedRun(f"{n}", length) for n, length in enumerate(seconds)]
        sharing = Sharing(lanes)
        order = best_order(jobs, sharing)
        self.assertEqual(sorted(job.name for job in order), sorted(job.name for job in jobs))
        free = free_at(order, sharing)
        self.assertTrue(all(free[job.name] >= job.seconds for job in jobs))
        self.assertLessEqual(cost(order, sharing), cost(jobs, sharing) + 1e-6)

    def test_many_small_files_take_longer_than_their_bytes(self):
        self.assertGreater(seconds_for(10**9, 20_000, 10**8), seconds_for(10**9, 4, 10**8) + 30)


DISK, OTHER, READER = frozenset({"disk"}), frozenset({"other disk"}), frozenset({"reader"})


class SharedDevices(TestCase):
    def test_runs_that_share_nothing_go_at_once_and_those_of_one_slow_disk_one_after_the_other(self):
        sharing = Sharing(4, {"disk": 1})
        self.assertEqual(sharing.may_begin([DISK, OTHER, DISK, OTHER], []), [0, 1, 3])
        self.assertEqual(sharing.may_begin([DISK, OTHER], [DISK]), [1])

    def test_one_that_waits_is_not_passed_by_what_would_keep_it_waiting(self):
        sharing = Sharing(4, {"disk": 1, "reader": 1})
        self.assertEqual(sharing.may_begin([DISK | READER, READER], [DISK]), [])

    def test_no_more_than_the_machine_bears(self):
        self.assertEqual(Sharing(2, {"disk": 4}).may_begin([DISK] * 4, []), [0, 1])

    def test_times_of_cards_that_go_to_one_slow_disk(self):
        jobs = [TimedRun("A", 60, devices=DISK), TimedRun("B", 30, devices=DISK), TimedRun("C", 10, devices=OTHER)]
        self.assertEqual(free_at(jobs, Sharing(4, {"disk": 1})), {"A": 60, "B": 90, "C": 10})
        self.assertEqual(free_at(jobs, Sharing(4, {"disk": 2})), {"A": 60, "B": 30, "C": 10})

    def test_against_every_order_where_devices_are_shared(self):
        chance = random.Random(11)
        for _ in range(40):
            sharing = Sharing(3, {"disk": 1, "other disk": 2})
            devices = [DISK, OTHER, DISK | OTHER]
            jobs = [TimedRun(f"{n}", chance.uniform(5, 900), devices=chance.choice(devices)) for n in range(5)]
            best = min(cost(order, sharing) for order in permutations(jobs))
            self.assertLessEqual(cost(best_order(jobs, sharing), sharing), best * 1.2)

    def served(self, *rates: float) -> list[Served]:
        """As many runs at once from one moment on, each at its rate."""
        self.moment = getattr(self, "moment", 0.0) + 1000
        return [Served(DISK, self.moment, self.moment + 100, rate) for rate in rates]

    def test_what_a_device_bears_is_learned_from_what_came_out_of_it(self):
        cases = [
            ([self.served(100)], 2, "never two: that is tried"),
            ([self.served(100), self.served(50, 50)], 1, "two were no faster than one"),
            ([self.served(100), self.served(90, 90)], 3, "two were: three are tried"),
            ([self.served(100), self.served(90, 90), self.served(61, 61, 61)], 2, "three were no faster than two"),
            ([self.served(50, 50)], 2, "never one alone: nothing to compare with"),
            ([self.served(100), self.served(99, 99), self.served(98, 98, 98), self.served(97, 97, 97, 97)], 4, "all"),
        ]
        for served, expected, why in cases:
            with self.subTest(why):
                runs = [run for together in served for run in together]
                self.assertEqual(learned(runs, 4).get("disk"), expected, why)

    def test_runs_one_after_the_other_are_not_taken_for_two_at_once(self):
        one, other = Served(DISK, 0, 100, 100), Served(DISK, 99, 200, 100)
        self.assertEqual(learned([one, other], 4), {"disk": 2})
        self.assertEqual(learned([], 4), {})
