"""The service: its files as systemd reads them, and its command as its own user runs it."""

import os
import pwd
import re
import shutil
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase, skipUnless
from unittest.mock import patch

from ruggedraft.bootstrap import installing, places
from ruggedraft.bootstrap.installing import Installation

from .machine import can_pretend
from .raft_case import RaftCase

DEBIANS_PYTHON = "/usr/bin/python3"


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


@skipUnless(can_pretend() and Path(DEBIANS_PYTHON).exists(), "needs root, namespaces and Debian's Python")
class OwnUser(RaftCase):
    """The service's command, as the unit says it, run as its user, on drives and a card of its own machine."""

    user = f"raft-test-{os.getpid() % 10000}"

    def setUp(self):
        super().setUp()
        self.addCleanup(subprocess.run, ["userdel", self.user], capture_output=True)
        python = patch.object(installing.sys, "executable", DEBIANS_PYTHON)
        python.start()
        self.addCleanup(python.stop)
        self.made = Installation(self.user, self.base / "home", ["start", "--own", "--listen", self.cart.address])
        self.made.make_home()

    def start_service(self) -> Path:
        unit = self.made.unit()
        command = re.search(r"^ExecStart=(.+)$", unit, re.MULTILINE)[1].split()
        told = dict(line.partition("=")[::2] for line in re.findall(r"^Environment=(.+)$", unit, re.MULTILINE))
        given = {name: value for name, value in self.made.environment.items() if name.startswith("RAFT_")}
        self.assertEqual(told, given)
        as_it = ["setpriv", f"--reuid={self.user}", f"--regid={self.user}", "--init-groups", "--"]
        said = self.base / "service.said"
        with said.open("wb") as out:
            self.running["service"] = subprocess.Popen(
                [*self.cart.inside(places.ROOT), *as_it, *command], env=self.made.environment, stdout=out, stderr=out
            )
        return said

    def test_it_serves_and_copies_as_that_user_alone_and_owns_what_it_makes(self):
        drives = [self.cart.disk(name, "ext4", 64, serial=f"{name}-1") for name in ("Brick", "Shuttle")]
        for drive in drives:
            self.cart.run("chown", self.user, str(drive.mount()))
        closed = self.cart.disk("Closed", "ext4", 16, serial="Closed-1")
        closed.mount()
        card = self.cart.disk("Card", "ext4", 32, serial="READER-1")
        self.fill(self.cart, card, "HERN", 3)
        card.put_into_reader()
        card.mount()
        self.begin(self.start_service(), drives)
        said = {"path": str(closed.place), "name": "Closed", "medium": "ssd", "place": "here"}
        with self.assertRaisesRegex(AssertionError, "cannot be written"):
            self.client.ask("POST", f"{self.here}/stores", said)
        slot = self.introduce("A-01", "cart")
        self.until(
            lambda: all(one["online"] for one in self.client.ask("GET", f"{self.here}/stores")), "drives are seen"
        )
        self.offload(slot)
        run = self.until(lambda: self.finished("A-01"), "it is offloaded")
        self.assertEqual({one["state"] for one in run["stores"]}, {"verified"}, run)
        for drive in drives:
            self.outside_check(self.cart, drive)
        number = pwd.getpwnam(self.user).pw_uid
        self.assertEqual({path.lstat().st_uid for path in self.made.home.rglob("*")}, {number})
        mine = subprocess.run(["pgrep", "-u", self.user, "-f", "station cart"], capture_output=True)
        self.assertEqual(mine.returncode, 0, "its station runs as the same user")
        self.assertEqual((self.made.home / "secret-key").stat().st_mode & 0o77, 0, "and nobody else reads its key")
        self.end("service")
        left = subprocess.run(["pgrep", "-a", "-u", self.user], capture_output=True, text=True).stdout
        alive = [line for line in left.splitlines() if "<defunct>" not in line]
        self.assertEqual(alive, [], "all of it ends with it")
