"""The service: its files as systemd reads them, and its command as its own user runs it."""

import os
import pwd
import re
import shutil
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path
from unittest import TestCase, skipUnless
from unittest.mock import patch

from ruggedraft.bootstrap import installing, places
from ruggedraft.bootstrap.installing import Installation

DEBIANS_PYTHON = "/usr/bin/python3"
PATIENCE = 240  # seconds: it installs its Python packages
PORT = 8693


@skipUnless(shutil.which("systemd-analyze"), "needs systemd's programs")
class Files(TestCase):
    def setUp(self):
        self.base = Path(tempfile.mkdtemp(prefix="raft-install-"))
        self.addCleanup(shutil.rmtree, self.base, ignore_errors=True)

    def test_systemd_finds_nothing_wrong_with_the_service(self):
        for words in (
            ["start", "--own"],
            ["start", "--own", "--listen", "192.0.2.7", "--stations"],
            ["station", "second cart 50%"],
        ):
            unit = self.base / "rugged-raft.service"
            unit.write_text(Installation("root", self.base, words).unit())
            with self.subTest(words):
                done = subprocess.run(["systemd-analyze", "verify", unit], capture_output=True, text=True)
                about_it = [line for line in done.stderr.splitlines() if "rugged-raft" in line]
                self.assertEqual(about_it, [])

    def test_a_mistake_would_be_found(self):
        unit = self.base / "rugged-raft.service"
        unit.write_text(Installation("root", self.base, ["start"]).unit().replace("Restart=always", "Restart=ever"))
        done = subprocess.run(["systemd-analyze", "verify", unit], capture_output=True, text=True)
        self.assertIn("ever", done.stderr)

    def test_cards_are_mounted_read_only_by_the_rule(self):
        rule = Installation("rugged-raft", self.base, ["start"]).rule()
        self.assertIn('ATTRS{removable}=="1"', rule)
        self.assertIn("--options=ro,nosuid,nodev,noexec", rule)

    def test_without_systemd_it_is_refused_with_a_sentence(self):
        with patch.object(installing.Path, "is_dir", return_value=False):
            for act in (installing.install, installing.uninstall):
                with self.assertRaisesRegex(Exception, "does not run systemd|installed by root"):
                    act([])


@skipUnless(os.geteuid() == 0 and Path(DEBIANS_PYTHON).exists(), "needs root and Debian's Python")
class OwnUser(TestCase):
    """The service's command, as the unit says it, run as its user."""

    user = f"raft-test-{os.getpid() % 10000}"

    def setUp(self):
        self.base = Path(tempfile.mkdtemp(prefix="raft-own-user-"))
        self.base.chmod(0o755)
        self.home = self.base / "home"
        self.addCleanup(shutil.rmtree, self.base, ignore_errors=True)
        self.addCleanup(subprocess.run, ["userdel", self.user], capture_output=True)
        python = patch.object(installing.sys, "executable", DEBIANS_PYTHON)
        python.start()
        self.addCleanup(python.stop)

    def test_it_serves_as_that_user_alone_and_owns_what_it_makes(self):
        made = Installation(self.user, self.home, ["start", "--own", "--port", str(PORT)])
        made.make_home()
        unit = made.unit()
        command = re.search(r"^ExecStart=(.+)$", unit, re.MULTILINE)[1].split()
        told = dict(line.partition("=")[::2] for line in re.findall(r"^Environment=(.+)$", unit, re.MULTILINE))
        self.assertEqual(told, {name: value for name, value in made.environment.items() if name.startswith("RAFT_")})
        as_it = ["setpriv", f"--reuid={self.user}", f"--regid={self.user}", "--init-groups", "--"]
        service = subprocess.Popen([*as_it, *command], env=made.environment, cwd=places.ROOT)
        try:
            self.until_it_answers(service)
            number = pwd.getpwnam(self.user).pw_uid
            self.assertEqual({path.lstat().st_uid for path in self.home.rglob("*")}, {number})
            mine = subprocess.run(["pgrep", "-u", self.user, "-f", "station cart"], capture_output=True)
            self.assertEqual(mine.returncode, 0, "its station runs as the same user")
            self.assertEqual((self.home / "secret-key").stat().st_mode & 0o77, 0, "and nobody else reads its key")
        finally:
            service.terminate()
            service.wait(60)
        left = subprocess.run(["pgrep", "-a", "-u", self.user], capture_output=True, text=True).stdout
        alive = [line for line in left.splitlines() if "<defunct>" not in line]
        self.assertEqual(alive, [], "all of it ends with it")

    def until_it_answers(self, service: subprocess.Popen[bytes]) -> None:
        deadline = time.monotonic() + PATIENCE
        while time.monotonic() < deadline:
            self.assertIsNone(service.poll(), "it ended by itself")
            try:
                with urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/begin", timeout=5) as answer:
                    self.assertIn(b'"begun": false', answer.read())
                    return
            except (urllib.error.URLError, OSError):
                time.sleep(0.5)
        self.fail("it does not answer")
