"""SFTP against OpenSSH's own server, and against one that fails in every way a server may."""

import logging
import os
import random
import shutil
import subprocess
import tempfile
import time
import warnings
from collections import Counter
from dataclasses import replace
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import asyncssh

from ruggedraft.core.errors import SourceVanished, StoreVanished
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.hashing import ALGORITHMS, Algorithm
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import LocalStore, MemoryStore
from ruggedraft.core.stores.remote import MARK, RUNS
from ruggedraft.core.stores.sftp import SftpAddress, SftpLine, SftpSecret, SftpStore, fingerprint_of, host_key_of
from ruggedraft.core.transfer import Memory, Target, transfer
from ruggedraft.core.transfer.checking import ToCheck, check_copy
from ruggedraft.standins.sftp_server import SftpServer

from .faulty_sftp import FaultyServer, every_fault
from .store_contract import StoreContract, T
from .test_faults import FILES, LONG, XXH, FaultCase


class SftpCase(TestCase):
    """A server of OpenSSH, and a store on it in a folder of its own."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.home = tempfile.TemporaryDirectory()
        cls.server = SftpServer(Path(cls.home.name)).start()
        cls.addClassCleanup(cls.home.cleanup)
        cls.addClassCleanup(cls.server.stop)

    def make_store(self) -> SftpStore:
        folder = tempfile.TemporaryDirectory(dir=os.environ.get("RAFT_VAR"))
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / MARK).write_text("mark-of-it\n")
        self.address = SftpAddress("127.0.0.1", self.server.port, self.server.user, folder.name, self.server.host_key)
        return self.another()

    def another(self, mark="mark-of-it", key=None, **address) -> SftpStore:
        line = SftpLine(replace(self.address, **address), SftpSecret(key or self.server.client_key))
        self.addCleanup(line.close)
        return SftpStore("array", line, mark)


class Sftp(SftpCase, StoreContract, TestCase):
    def content_of(self, path):
        file = self.folder / path
        return file.read_bytes() if file.exists() else None

    def test_what_stands_there_is_what_the_ssh_programs_see(self):
        """ssh-keygen and sftp of OpenSSH as references: a host key's fingerprint, a file fetched by another hand."""
        self.assertEqual(host_key_of("127.0.0.1", self.server.port), self.server.host_key)
        said = subprocess.run(["ssh-keygen", "-lf", self.server.home / "host_key.pub"], capture_output=True, text=True)
        self.assertEqual(fingerprint_of(self.server.host_key), said.stdout.split()[1])
        self.put("roll/a", content := os.urandom(300_000))
        fetched = self.folder / "fetched"
        (self.folder / "known").write_text(f"[127.0.0.1]:{self.server.port} {self.server.host_key}")
        subprocess.run(
            ["sftp", "-q", "-P", str(self.server.port), "-i", self.server.home / "client_key", "-o",
             f"UserKnownHostsFile={self.folder}/known", "-o", "StrictHostKeyChecking=yes",
             f"{self.server.user}@127.0.0.1:{self.folder}/roll/a", fetched],
            check=True, capture_output=True,
        )  # fmt: skip
        self.assertEqual(fetched.read_bytes(), content)
        self.assertEqual(self.store.facts("roll/a"), (300_000, T // 10**9 * 10**9))

    def test_a_server_with_another_host_key_is_told_nothing(self):
        other = asyncssh.generate_private_key("ssh-ed25519").export_public_key().decode().strip()
        with self.assertRaisesRegex(StoreVanished, "another host key .* nothing was sent"):
            self.another(host_key=other).room()

    def test_a_key_that_is_not_let_in_is_said_and_never_shown(self):
        stranger = asyncssh.generate_private_key("ssh-ed25519").export_private_key().decode()
        with self.assertRaisesRegex(StoreVanished, "does not accept our key") as raised:
            self.another(key=stranger).room()
        self.assertNotIn("PRIVATE", str(raised.exception) + repr(SftpSecret(stranger, "word")))

    def test_a_server_that_is_not_there(self):
        with self.assertRaises(StoreVanished):
            self.another(port=1).room()

    def test_another_store_or_an_empty_folder_in_its_place_is_not_it(self):
        self.put("roll/a", b"abc")
        with self.assertRaisesRegex(StoreVanished, "another store"):
            self.another(mark="another").look("roll")
        (self.folder / MARK).unlink()
        for asked in (
            lambda: self.another().look("roll"),
            self.another().open,
            lambda: self.another().as_source("roll"),
        ):
            with self.assertRaisesRegex((StoreVanished, SourceVanished), "bears no mark"):
                asked()

    def test_what_runs_left_that_died_is_cleared_by_the_servers_clock_and_not_what_is_at_work(self):
        for name, age in (("dead", 3 * 86400), ("alive", 3600)):
            (self.folder / RUNS / name).mkdir()
            (self.folder / RUNS / name / "1").write_bytes(b"half")
            os.utime(self.folder / RUNS / name, (time.time() - age,) * 2)
        (self.folder / RUNS / "dead" / "1").unlink()
        (self.folder / RUNS / "odd" / "cannot be removed").mkdir(parents=True)
        for name in ("dead", "odd"):
            os.utime(self.folder / RUNS / name, (time.time() - 3 * 86400,) * 2)
        another = self.another()
        another.open()
        another.close()
        left = {path.name for path in (self.folder / RUNS).iterdir()}
        self.assertTrue("alive" in left and "dead" not in left, left)

    def test_a_server_attests_by_its_own_programs_and_is_asked_only_where_that_is_wanted(self):
        self.put("roll/it's a \\ name", content := os.urandom(70_000))
        (self.folder / "roll/b").write_bytes(b"b")
        line = self.store._line
        attesting = SftpStore("array", line, "mark-of-it", attests=True)
        for algorithm in ALGORITHMS.values():
            right, wrong = checksum_of(algorithm, content), checksum_of(algorithm, b"other")
            files = [("roll/it's a \\ name", right), ("roll/b", wrong)]
            with self.subTest(algorithm.name):
                self.assertEqual(attesting.attested(files, algorithm), [True, False])
                self.assertEqual(attesting.attested([*files, ("roll/none", right)], algorithm), [None] * 3)
                self.assertEqual(self.store.attested(files, algorithm), [None, None])

    def test_what_a_server_attests_never_counts_as_read_back_and_a_lie_comes_out_when_it_is_read(self):
        card = MemorySource({"1.MOV": b"as the card has it"})
        line = self.store._line
        attesting = SftpStore("array", line, "mark-of-it", attests=True)
        report = transfer(card, list_card(card), [Target(attesting, "roll")], XXH)
        (result,) = report.stores
        self.assertEqual((result.agreed, result.level, result.verified), ({"1.MOV"}, Evidence.ATTESTED, False))
        (self.folder / "roll/1.MOV").write_bytes(b"as the server has i")
        sums = checksum_of(XXH, b"as the card has it")
        with patch.object(SftpLine, "run", lambda self, command: _said(f"{sums}  1.MOV\n")):
            self.assertEqual(attesting.attested([("roll/1.MOV", sums)], XXH), [True])
        checked = check_copy(self.another(), "roll", {"1.MOV": ToCheck(19, sums)}, XXH)
        self.assertEqual([one.found for one in checked.failed], [Result.DIFFERS])

    def test_a_copy_there_is_a_source_like_any_other(self):
        files = {"DCIM/1.JPG": os.urandom(5000), "DCIM/2.MOV": os.urandom((1 << 20) + 3), "empty": b""}
        for path, content in files.items():
            self.put(f"roll/{path}", content)
        source, other = self.store.as_source("roll"), MemoryStore("other")
        report = transfer(source, list_card(source), [Target(other, "A")], XXH)
        self.assertTrue(report.stores[0].verified, report.stores[0].failed)
        self.assertEqual({path: other.files[f"A/{path}"][0] for path in files}, files)


async def _said(words: str) -> tuple[int, str]:
    return 0, words


def checksum_of(algorithm: Algorithm, content: bytes) -> str:
    hasher = algorithm.start()
    hasher.update(content)
    return hasher.hexdigest()


class AServersFaults(FaultCase):
    """Each request of a run goes wrong in every way; then what is claimed is compared with the server's folder."""

    KEY = asyncssh.generate_private_key("ssh-ed25519")

    def setUp(self):
        super().setUp()
        logging.disable(logging.ERROR)  # asyncssh tells of each connection that we break
        self.addCleanup(logging.disable, logging.NOTSET)
        warned = warnings.catch_warnings()  # and its server leaves files of such connections to be closed by Python
        warned.__enter__()
        warnings.simplefilter("ignore", ResourceWarning)
        self.addCleanup(warned.__exit__, None, None, None)
        self.home = self.base / "server"
        self.home.mkdir()
        self.server = FaultyServer(self.home, self.KEY)
        self.addCleanup(self.server.stop)

    def store(self, drive: Path) -> SftpStore:
        (drive / MARK).write_text("mark-of-it")
        key = self.server.host_key.export_public_key().decode().strip()
        line = SftpLine(
            SftpAddress("127.0.0.1", self.server.port, "raft", f"/{drive.name}", key),
            SftpSecret(self.KEY.export_private_key().decode()), patience_s=1.5,
        )  # fmt: skip
        self.addCleanup(line.close)
        return SftpStore(drive.name, line, "mark-of-it")

    def drive(self, name: str) -> Path:
        folder = self.home / name
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir()
        return folder

    def run_to(self, drive: Path, **words):
        self.other = self.another()
        targets = [Target(one, "day/A001", self.memory) for one in (self.store(drive), self.other)]
        return transfer(self.card, list_card(self.card), targets, XXH, **words)

    def left_behind(self, drive: Path) -> list[str]:
        """What lies in a run's folder is taken away by a later run."""
        whole = {f"day/A001/{path}" for path in FILES} | {MARK}
        names = [str(file.relative_to(drive)) for file in drive.rglob("*") if file.is_file()]
        return [f"{name} was left behind" for name in names if not name.startswith(RUNS) and name not in whole]

    def test_each_fault_at_each_request(self):
        good = self.run_to(self.drive("good"))
        self.assertTrue(good.verified, good.stores)
        cases = every_fault(self.server.calls)
        chosen = random.Random(3).sample(cases, len(cases)) if LONG else random.Random().sample(cases, 40)
        wrong, struck = [], 0
        for fault in chosen:
            drive = self.drive("faulty")
            server = self.server
            server.fault, server.struck, server.is_full, server.calls = fault, 0, False, Counter()
            report = self.run_to(drive)
            struck += bool(server.struck)
            found = self.wrong_claims(report, drive) + self.not_whole(drive)
            if fault.how == "full" and server.struck and not any("full" in f.reason for f in report.stores[0].failed):
                found.append("nobody says that it is full")
            server.fault, server.is_full = None, False
            again = self.run_to(drive)
            found += self.wrong_claims(again, drive)
            if not again.verified and fault.how not in ("flipped", "swallowed", "rotten afterwards"):
                found.append(f"it does not recover: {again.stores[0].failed[:2]}")
            wrong += [f"{fault}: {one}" for one in found]
        self.tell(len(chosen), len(cases), struck, wrong)


class FaultsAndNotes(AServersFaults):
    """The same where each run notes what it has proven, and the next believes it."""

    def setUp(self):
        super().setUp()
        self.memory = Memory(b"a key of this ledger", "then")

    def drive(self, name: str) -> Path:
        shutil.rmtree(self.base / "notes", ignore_errors=True)
        (self.base / "notes").mkdir()
        self.kept = MemoryStore("other")
        return super().drive(name)

    def another(self) -> MemoryStore:
        return self.kept

    def store(self, drive: Path) -> SftpStore:
        store = super().store(drive)
        store.keeps_notes = lambda: LocalStore("notes", self.base / "notes")
        return store
