"""Setting up a machine: what goes wrong is a sentence for whoever sits there."""

import contextlib
import io
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from itertools import pairwise
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.bootstrap import app, places, services, steps, system_packages
from ruggedraft.bootstrap.main import main
from ruggedraft.bootstrap.node import is_new_enough
from ruggedraft.bootstrap.problems import CannotGoOn


class Sentences(TestCase):
    def setUp(self):
        environment = patch.dict(os.environ)
        environment.start()
        self.addCleanup(environment.stop)
        os.environ.pop("RAFT_DATABASE_URL", None)  # the tests' own

    def test_a_ledger_that_the_environment_names_is_never_passed_over(self):
        with patch.dict(os.environ, {"RAFT_DATABASE_URL": "postgresql://somebody@127.0.0.1:1/theirs"}):
            code, said = self.said_by("start")
        self.assertEqual(code, 2)
        self.assertIn("unset it, or run the parts by hand", said)

    def said_by(self, *words: str) -> tuple[int, str]:
        complaint = io.StringIO()
        with contextlib.redirect_stderr(complaint), contextlib.redirect_stdout(complaint):
            code = main(list(words))
        return code, complaint.getvalue()

    def test_a_busy_port_is_named_before_anything_is_set_up(self):
        with (
            socket.create_server(("127.0.0.1", 0)) as taken,
            patch.object(app, "_refuse_second_start"),
            patch.object(app, "set_up") as set_up,
        ):
            port = str(taken.getsockname()[1])
            code, said = self.said_by("start", "--port", port)
        self.assertEqual(code, 2)
        self.assertIn(f"Port {port} cannot be used (Address already in use)", said)
        set_up.assert_not_called()

    def test_a_port_that_does_not_exist(self):
        with patch.object(app, "_refuse_second_start"), patch.object(app, "set_up"):
            self.assertIn("ports go from 1 to 65535", self.said_by("start", "--port", "70000")[1])

    def test_no_room_says_how_much_is_missing(self):
        with self.assertRaisesRegex(CannotGoOn, r"make \d+\.\d GB of room, or set RAFT_VAR"):
            places.require_room(10**18)

    def test_missing_packages_without_root_or_sudo_say_what_an_administrator_can_run(self):
        with (
            patch("os.geteuid", return_value=1000),
            patch("shutil.which", side_effect=lambda name: "/usr/bin/apt-get" if name == "apt-get" else None),
            contextlib.redirect_stderr(io.StringIO()),
            self.assertRaisesRegex(CannotGoOn, "there is no sudo: an administrator can run: apt-get"),
        ):
            system_packages.install_missing({"chromium": lambda: False})

    def test_present_packages_ask_for_nothing(self):
        with patch.object(subprocess, "run") as run:
            system_packages.install_missing({"python3": lambda: True})
        run.assert_not_called()

    def test_an_unknown_command_and_none_at_all(self):
        self.assertIn("no command 'cpoy'", self.said_by("cpoy")[1])
        self.assertEqual(self.said_by()[0], 2)

    def test_a_failed_step_is_shown_and_named(self):
        with contextlib.redirect_stderr(io.StringIO()) as shown, self.assertRaisesRegex(CannotGoOn, "exit code 3"):
            steps.run([sys.executable, "-c", "import sys; print('disk on fire'); sys.exit(3)"])
        self.assertIn("disk on fire", shown.getvalue())


class CompiledCode(TestCase):
    def test_it_is_kept_in_the_run_time_folder_and_nowhere_else(self):
        with tempfile.TemporaryDirectory() as folder:
            began = {"PATH": os.environ["PATH"], "RAFT_VAR": folder, "PYTHONDONTWRITEBYTECODE": "1"}
            subprocess.run([places.ROOT / "raft", "--help"], env=began, check=True, stdout=subprocess.DEVNULL)
            kept = {path.name.partition(".")[0] for path in Path(folder, "bytecode").rglob("*.pyc")}
        self.assertIn("main", kept)

    def test_where_somebody_keeps_it_elsewhere_it_is_as_they_said(self):
        with tempfile.TemporaryDirectory() as folder:
            began = {"PATH": os.environ["PATH"], "RAFT_VAR": f"{folder}/var", "PYTHONPYCACHEPREFIX": f"{folder}/mine"}
            for more, keeps in (({"PYTHONDONTWRITEBYTECODE": "1"}, False), ({}, True)):
                words = [places.ROOT / "raft", "--help"]
                subprocess.run(words, env=began | more, check=True, stdout=subprocess.DEVNULL)
                self.assertEqual(any(Path(folder, "mine").rglob("main.*.pyc")), keeps)
            self.assertFalse(any(Path(folder).glob("var/bytecode")))


class Steps(TestCase):
    def test_a_step_is_done_once_for_one_fingerprint_and_again_when_its_result_is_gone(self):
        with tempfile.TemporaryDirectory() as folder, patch.object(steps, "STAMPS", Path(folder)):
            result, done = Path(folder) / "result", []

            def step():
                done.append(1)
                result.touch()

            for mark in ("one", "one", "two"):
                steps.once("x", mark, result, step)
            self.assertEqual(len(done), 2)
            result.unlink()
            steps.once("x", "two", result, step)
            self.assertEqual(len(done), 3)

    def test_a_step_that_failed_is_not_taken_for_done(self):
        with tempfile.TemporaryDirectory() as folder, patch.object(steps, "STAMPS", Path(folder)):
            steps.once("x", "one", Path(folder), lambda: None)
            with self.assertRaises(ZeroDivisionError):
                steps.once("x", "two", Path(folder), lambda: 1 // 0)
            self.assertFalse((Path(folder) / "x").exists())

    def test_node_versions_that_vite_accepts(self):
        """Vite 8's package declares node ^20.19.0 || >=22.12.0."""
        accepted = {"v20.19.0", "v20.20.2", "v22.12.0", "v24.1.0"}
        for version in (*accepted, "v18.20.4", "v20.18.9", "v21.7.0", "v22.11.0", "rubbish", ""):
            self.assertEqual(is_new_enough(version), version in accepted, version)


class Services(TestCase):
    def test_a_service_that_keeps_dying_is_started_again_ever_later_and_never_given_up(self):
        service = services.Service("thing", [sys.executable, "-c", ""], {})
        steady = services.Service("steady", [sys.executable, "-c", "import time; time.sleep(60)"], {})
        interrupt = threading.Timer(4, os.kill, (os.getpid(), signal.SIGTERM))
        interrupt.start()
        with contextlib.redirect_stderr(io.StringIO()), contextlib.redirect_stdout(io.StringIO()):
            code = services.run_until_interrupted([service, steady], is_up=lambda: False, when_up=lambda: None)
        self.assertEqual((code, len(steady.starts)), (0, 1))
        waits = [later - earlier for earlier, later in pairwise(service.starts)]
        self.assertGreater(len(waits), 2)
        self.assertGreater(waits[-1], waits[0])
        self.assertIsNotNone(steady.process.poll())

    def test_patience_grows_to_a_minute_and_a_long_life_begins_it_anew(self):
        now = time.monotonic()
        service = services.Service("thing", [], {}, starts=[now - n / 10 for n in range(12, 0, -1)])
        self.assertEqual(service.patience_s(), 60)
        service.starts.insert(0, now - 500)
        service.starts[1:] = [now - 300]
        self.assertEqual(service.patience_s(), 0)
