"""Real processes for the lanes of a run with many small files: killed, stopped, not to be had."""

import contextlib
import multiprocessing
import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.local import PARTS
from ruggedraft.core.transfer import Memory, Progress, Target, TransferReport, lane_elsewhere, starting, transfer

XXH = algorithm_named("xxh128")
CHANCE = random.Random(7)
FILES = {
    **{f"DCIM/{100 + n // 400}AAAAA/AAAA{n:05d}.JPG": CHANCE.randbytes(n % 1500) for n in range(1200)},
    "CLIP.MOV": CHANCE.randbytes((9 << 20) + 77),
}
KILLS = 50 if os.environ.get("RAFT_LONG") else 4


@contextlib.contextmanager
def _may_have_processes() -> Iterator[None]:
    """Tests run in processes that are themselves not to have any."""
    with patch.dict(multiprocessing.current_process()._config, {"daemon": False}):
        yield


def _at(share: float, act: Callable[[], object]) -> Callable[[Progress], None]:
    """Something that is done once, when so much of the card has been read."""
    done = []

    def look(progress: Progress) -> None:
        if not done and progress.read >= share * progress.total:
            done.append(act())

    return look


def _process_of(store: str) -> multiprocessing.Process:
    return next(one for one in multiprocessing.active_children() if one.name == f"write {store}")


class ProcessCase(TestCase):
    def setUp(self):
        allowed = _may_have_processes()
        allowed.__enter__()
        self.addCleanup(allowed.__exit__, None, None, None)
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        for name in ("one", "two"):
            (self.base / name).mkdir()
        self.card = MemorySource(dict(FILES))
        self.said = self.enterContext(patch.object(starting, "_say_once"))

    def run_it(
        self, look: Callable[[Progress], None] = lambda progress: None, memory: Memory | None = None, **words
    ) -> TransferReport:
        targets = [Target(LocalStore(name, self.base / name), "A001", memory) for name in ("one", "two")]
        with patch("ruggedraft.core.transfer.progress._TICK_S", 0.01):
            return transfer(self.card, list_card(self.card), targets, XXH, on_progress=look, **words)

    def on(self, name: str) -> dict[str, bytes]:
        copy = self.base / name / "A001"
        return {str(p.relative_to(copy)): p.read_bytes() for p in copy.rglob("*") if p.is_file()}

    def assert_claims_hold(self, report: TransferReport) -> None:
        for result in report.stores:
            held = self.on(result.name)
            self.assertEqual({path: held.get(path) for path in result.agreed}, {p: FILES[p] for p in result.agreed})
            self.assertEqual(held.items() - FILES.items(), set(), "what has its name is whole")
            told = result.agreed | {one.path for one in result.failed}
            self.assertLessEqual(FILES.keys(), told, "of each file something is said")

    def assert_nobody_is_left(self) -> None:
        self.assertEqual(multiprocessing.active_children(), [])


class Processes(ProcessCase):
    def test_each_store_has_one_and_all_is_verified(self):
        seen = set()
        report = self.run_it(lambda progress: seen.update(one.name for one in multiprocessing.active_children()))
        self.assertTrue(report.verified, report.stores[0].failed[:3])
        self.assertEqual(seen, {"write one", "write two"})
        self.assertEqual((self.on("one"), self.on("two")), (FILES, FILES))
        self.assert_nobody_is_left()
        self.said.assert_not_called()

    def test_where_other_threads_run_it_is_no_copy_of_this_process(self):
        """A process that is copied while another thread holds a lock has that lock held for ever."""
        over = threading.Event()
        threading.Thread(target=over.wait, daemon=True).start()
        self.addCleanup(over.set)
        with patch.object(starting.multiprocessing, "get_context", wraps=multiprocessing.get_context) as asked:
            self.assertTrue(self.run_it().verified)
        self.assertEqual({call.args for call in asked.call_args_list}, {("forkserver",)})
        self.assertEqual(self.on("two"), FILES)

    def test_few_files_or_one_processor_do_without(self):
        with patch.object(starting, "in_processes", side_effect=AssertionError):
            self.card = MemorySource({"CLIP.MOV": FILES["CLIP.MOV"]})
            self.assertTrue(self.run_it().verified)
            with patch.object(os, "sched_getaffinity", lambda pid: {0}):
                self.card = MemorySource(dict(FILES))
                self.assertTrue(self.run_it().verified)

    def test_what_cannot_be_had_is_said_and_done_without(self):
        refused = OSError(12, "Cannot allocate memory")
        for place, name in (
            (os, "memfd_create"), (starting.multiprocessing, "Pipe"), (starting.BaseProcess, "start"),
        ):  # fmt: skip
            with self.subTest(name), patch.object(place, name, side_effect=refused):
                self.said.reset_mock()
                self.assertTrue(self.run_it().verified)
                self.assertIn("can be had" if name == "Pipe" else "cannot be had", str(self.said.call_args_list))
                self.assert_nobody_is_left()

    def test_an_error_that_nobody_foresaw_leaves_none_behind(self):
        with patch.object(MemorySource, "open", side_effect=ZeroDivisionError), self.assertRaises(ZeroDivisionError):
            self.run_it()
        self.assert_nobody_is_left()
        self.assertEqual([p for p in self.base.rglob("*") if p.is_file() or p.name == PARTS], [], "nor on a store")


class Killed(ProcessCase):
    def test_a_killed_one_stops_its_store_alone_and_the_next_run_completes(self):
        memory = Memory(b"a key", "then")
        for n in range(KILLS):
            with self.subTest(kill=n):
                kill = lambda: os.kill(_process_of("one").pid, signal.SIGKILL)  # noqa: E731
                report = self.run_it(_at((n + 1) / (KILLS + 2), kill), memory=memory)
                one, two = report.stores
                self.assertTrue(two.verified, two.failed[:3])
                self.assertEqual((one.agreed, one.settled), (set(), False))
                self.assertIn("(signal 9)", one.failed[0].reason)
                self.assert_claims_hold(report)
                self.assert_nobody_is_left()
                again = self.run_it(memory=memory)
                self.assertTrue(again.verified, again.stores[0].failed[:3])
                self.assertEqual(again.stores[1].since, {"then"}, "what the other had proven is believed")
                for name in ("one", "two"):
                    self.assertEqual(self.on(name), FILES)
                    subprocess.run(["rm", "-r", self.base / name / "A001"], check=True)

    def test_one_that_does_nothing_at_all_is_given_up(self):
        stop = lambda: os.kill(_process_of("one").pid, signal.SIGSTOP)  # noqa: E731
        with patch.object(lane_elsewhere, "_GRACE_S", 0.5):
            report = self.run_it(_at(0.3, stop), silent_s=1.5)
        self.assertEqual((report.stores[0].agreed, report.stores[1].verified), (set(), True))
        self.assertIn("did not answer", report.stores[0].failed[0].reason)
        self.assert_claims_hold(report)
        self.assert_nobody_is_left()

    def test_killed_with_the_run_itself_nothing_stays_behind_that_works_on(self):
        """Both of its processes leave when the run's own is gone, in whatever way."""
        card = self.base / "card"
        for path, content in FILES.items():
            (card / path).parent.mkdir(parents=True, exist_ok=True)
            (card / path).write_bytes(content)
        words = [sys.executable, "-m", "ruggedraft.commands", "copy", card, "--to", self.base / "one"]
        words += ["--to", self.base / "two", "--same-device", "--name", "A001"]
        for n in range(KILLS):
            with self.subTest(kill=n):
                run = subprocess.Popen(words, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
                began = time.monotonic()
                while not (children := _children(run.pid)) and run.poll() is None:
                    time.sleep(0.002)
                time.sleep(n * 0.3 / KILLS)
                run.kill()
                run.wait()
                while any(map(_lives, children)) and time.monotonic() - began < 60:
                    time.sleep(0.01)
                self.assertEqual([pid for pid in children if _lives(pid)], [])
                for name in ("one", "two"):
                    self.assertEqual({p for p, held in self.on(name).items() if held != FILES[p]}, set())
        self.assertEqual(subprocess.run(words, capture_output=True, check=False).returncode, 0)
        self.assertEqual({p: held for p, held in self.on("one").items() if p in FILES}, FILES)


def _children(pid: int) -> list[int]:
    try:
        return [int(word) for word in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    except OSError:
        return []


def _lives(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False
