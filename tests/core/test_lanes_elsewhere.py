"""What holds of a run holds where the work of its lanes is done elsewhere: the same tests, at a far end."""

from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.sources import MemorySource
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.transfer import starting

from . import test_faults, test_remembering, test_second_looks, test_slow_stores, test_transfer
from .elsewhere import Elsewhere


class GoodRuns(Elsewhere, test_transfer.GoodRuns):
    pass


class BadCards(Elsewhere, test_transfer.BadCards):
    pass


class BadStores(Elsewhere, test_transfer.BadStores):
    pass


class SecondReading(Elsewhere, test_second_looks.SecondReading):
    pass


class MoreChecksums(Elsewhere, test_second_looks.MoreChecksums):
    pass


class SlowStores(Elsewhere, test_slow_stores.LeftBehind):
    pass


class GoingOn(Elsewhere, test_remembering.GoingOn):
    pass


class NotBelieved(Elsewhere, test_remembering.NotBelieved):
    pass


class EveryCall(Elsewhere, test_faults.EveryCall):
    pass


class EveryCallWhenGoingOn(Elsewhere, test_faults.GoingOn):
    pass


class TwoAtOnce(Elsewhere, test_faults.TwoAtOnce):
    pass


class Moved(Elsewhere, test_faults.Moved):
    pass


class TheSame(Elsewhere, TestCase):
    def test_runs_of_these_tests_have_their_lanes_elsewhere(self):
        """Else the tests above would prove nothing."""
        with patch.object(starting, "Lane", side_effect=AssertionError("a lane in this process")):
            report = test_transfer.run(MemorySource({"a": b"b"}), MemoryStore("one"))
        self.assertTrue(report.verified)
