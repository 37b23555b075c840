"""What is otherwise than when somebody last looked."""

from itertools import product
from unittest import TestCase

from ruggedraft.core.last_look import Became, changes_since
from ruggedraft.core.redundancy import RollState

SAFE, SHORT, BELOW = RollState.SAFE, RollState.SHORT, RollState.BELOW


class Changes(TestCase):
    def test_every_way_from_one_state_to_another(self):
        said = {
            (before, state): changes_since({} if before is None else {1: before}, {1: state})
            for before, state in product((None, SAFE, SHORT, BELOW), (SAFE, SHORT, BELOW))
        }
        became = {ways: [one.became for one in found] for ways, found in said.items()}
        self.assertEqual(became, {
            (None, SAFE): [Became.NEW], (None, SHORT): [Became.NEW], (None, BELOW): [Became.BELOW],
            (SAFE, SAFE): [], (SAFE, SHORT): [Became.SHORT], (SAFE, BELOW): [Became.BELOW],
            (SHORT, SAFE): [Became.SAFE], (SHORT, SHORT): [], (SHORT, BELOW): [Became.BELOW],
            (BELOW, SAFE): [Became.SAFE], (BELOW, SHORT): [Became.SHORT], (BELOW, BELOW): [],
        })  # fmt: skip

    def test_the_worst_stands_first_and_each_roll_once(self):
        found = changes_since({1: SHORT, 2: SAFE}, {1: SAFE, 2: SHORT, 3: SHORT, 4: BELOW})
        self.assertEqual([one.roll for one in found], [4, 2, 1, 3])
