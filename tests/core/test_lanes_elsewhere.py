"""What holds of a run holds where the work of its lanes is done elsewhere: the same tests, at a far end."""

import multiprocessing
import pickle
from types import SimpleNamespace
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import Entries, Entry, EntryKind, MemorySource
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.transfer import StoreResult, Target, lane_elsewhere, starting
from ruggedraft.core.transfer.asked import LaneWork
from ruggedraft.core.transfer.buffers import Pool
from ruggedraft.core.transfer.lane_elsewhere import LaneElsewhere
from ruggedraft.core.transfer.progress import StoreProgress

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


class Results(TestCase):
    def test_of_one_that_speaks_of_other_files_nothing_is_claimed(self):
        pool, files = Pool(shared=True), Entries.of([Entry("a", EntryKind.FILE)])
        self.addCleanup(pool.close)
        lane = LaneElsewhere(
            LaneWork(Target(MemoryStore("odd"), "A001"), files, [algorithm_named("xxh128")], {}, {}),
            StoreProgress("odd"), pool, 5.0,
        )  # fmt: skip
        near, odd = multiprocessing.Pipe()
        lane.connect(near, SimpleNamespace(stop=lambda: ""))
        lane.start()
        told = StoreResult("odd", "A001", 1, settled=True)
        odd.send_bytes(pickle.dumps(("result", told, b"\1\1", None)))
        lane.wait(5.0)
        self.assertEqual((len(lane.result.agreed), lane.result.verified), (0, False))
        self.assertIn("ended unexpectedly", lane.silence)
        lane.close()


class Buffers(TestCase):
    def test_those_of_a_far_end_that_hangs_are_not_used_again_before_it_has_ended(self):
        """It might wake, and write what somebody else has put into them by then."""
        pool, held = Pool(shared=True), []
        self.addCleanup(pool.close)
        work = LaneWork(
            Target(MemoryStore("hangs"), "A001"),
            Entries.of([Entry("a", EntryKind.FILE)]),
            [algorithm_named("xxh128")],
            {},
            {},
        )
        lane = LaneElsewhere(work, StoreProgress("hangs"), pool, 0.0)
        far = SimpleNamespace(stop=lambda: held.append(lane.backlog) or "")
        near, silent = multiprocessing.Pipe()
        lane.connect(near, far)
        lane.start()
        buffer = pool.take(0.0)
        buffer.hold(1)
        lane.piece(buffer, 1)
        with patch.object(lane_elsewhere, "_GRACE_S", 0.0):
            lane.wait(0.0)
        self.assertEqual((held[0], lane.backlog), (1, 0))
        self.assertIs(pool.take(0.0), buffer)
        self.assertIn("did not answer", lane.silence)
        lane.close()
        silent.close()


class TheSame(Elsewhere, TestCase):
    def test_runs_of_these_tests_have_their_lanes_elsewhere(self):
        """Else the tests above would prove nothing."""
        with patch.object(starting, "Lane", side_effect=AssertionError("a lane in this process")):
            report = test_transfer.run(MemorySource({"a": b"b"}), MemoryStore("one"))
        self.assertTrue(report.verified)
