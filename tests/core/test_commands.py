"""`./raft copy` and `./raft verify` as scripts use them, checked with the programs that anybody has."""

import ctypes
import json
import mmap
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import TestCase, skipIf

from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree

CHECKERS = {
    "xxh128": "xxhsum", "xxh64": "xxhsum", "md5": "md5sum", "sha1": "sha1sum", "sha256": "sha256sum", "blake3": "b3sum",
}  # fmt: skip


def raft(*words: object, **more) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "ruggedraft.commands", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, errors="surrogateescape", **more)


def xxhsum_escapes() -> bool:
    """xxhsum escapes names with line breaks from 0.8.2 on (its changelog); Debian 12 has 0.8.1."""
    said = subprocess.run(["xxhsum", "--version"], capture_output=True, text=True)
    found = re.search(r"(\d+)\.(\d+)\.(\d+)", said.stdout + said.stderr)
    return bool(found) and tuple(map(int, found.groups())) >= (0, 8, 2)


class CommandCase(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        self.card, self.one, self.two = (self.base / name for name in ("CARD", "one", "two"))
        for path in (self.card / "DCIM" / "100AAAAA", self.card / "empty folder", self.one, self.two):
            path.mkdir(parents=True)
        self.put("DCIM/100AAAAA/AAAA0001.JPG", os.urandom(300_000))
        self.put("DCIM/100AAAAA/AAAA0002.JPG", os.urandom(1_500_000))
        self.put("zero", b"")
        self.put("-rf", b"leading dash")

    def put(self, path: str, content: bytes) -> Path:
        file = self.card / path
        file.write_bytes(content)
        os.utime(file, ns=(1_600_000_000_000_000_000, 1_600_000_000_000_000_000))
        return file

    def copy(self, *words: object) -> tuple[int, dict]:
        done = raft("copy", self.card, "--to", self.one, "--to", self.two, "--same-device", "--json", *words)
        return done.returncode, json.loads(done.stdout) if done.stdout else {}


class Copying(CommandCase):
    def test_the_copy_equals_the_card_for_diff_and_rsync(self):
        self.put("line\nbreak", b"x")
        code, told = self.copy()
        self.assertEqual((code, told["files"], told["hash"]), (0, 5, "xxh128"))
        self.assertEqual([s["state"] for s in told["stores"]], ["verified", "verified"])
        for drive in (self.one, self.two):
            subprocess.run(["diff", "-r", self.card, drive / "CARD"], check=True)
            words = ["rsync", "-nric", "--delete", f"{self.card}/", f"{drive / 'CARD'}/"]
            self.assertEqual(subprocess.run(words, capture_output=True, check=True).stdout, b"")

    def test_lists_pass_the_programs_that_everybody_has(self):
        for name, program in CHECKERS.items():
            with self.subTest(name):
                self.assertEqual(self.copy("--hash", name)[0], 0)
                subprocess.run([program, "-c", f"CARD.{name}"], cwd=self.one, check=True, capture_output=True)
        self.assertEqual(set(CHECKERS), set(ALGORITHMS))

    def test_hostile_names_pass_them_too(self):
        self.put("line\nbreak", b"x")
        self.put("back\\slash", b"y")
        self.put(os.fsdecode(b"caf\xe9"), b"z")
        self.put("n" * 255, b"long")
        for name in ("md5", "sha256", *(["xxh128"] if xxhsum_escapes() else [])):
            with self.subTest(name):
                self.assertEqual(self.copy("--hash", name)[0], 0)
                subprocess.run([CHECKERS[name], "-c", f"CARD.{name}"], cwd=self.one, check=True, capture_output=True)

    def test_run_again_completes_what_is_missing_and_overwrites_nothing(self):
        self.copy()
        (self.one / "CARD" / "zero").unlink()
        other = self.two / "CARD" / "-rf"
        other.write_bytes(b"somebody's own file")
        code, told = self.copy()
        self.assertEqual(code, 1)
        self.assertEqual([(s["verified"], s["already"]) for s in told["stores"]], [(4, 3), (3, 3)])
        self.assertEqual(other.read_bytes(), b"somebody's own file")
        self.assertEqual([f["path"] for f in told["stores"][1]["failed"]], ["-rf"])
        self.assertTrue((self.two / "CARD.xxh128.incomplete").exists(), "a list of an incomplete copy says so by name")

    def test_a_list_that_contradicts_is_left_alone(self):
        (self.one / "CARD.xxh128").write_text("0" * 32 + "  CARD/zero\n")
        code, told = self.copy()
        self.assertEqual((code, told["stores"][0]["state"], told["stores"][1]["state"]), (1, "failed", "verified"))
        self.assertEqual((self.one / "CARD.xxh128").read_text(), "0" * 32 + "  CARD/zero\n")

    def test_a_link_out_of_the_card_is_named_and_not_followed(self):
        (self.card / "out").symlink_to("/etc/passwd")
        code, told = self.copy()
        self.assertEqual((code, told["stores"][0]["failed"][0]["path"]), (1, "out"))
        self.assertFalse((self.one / "CARD" / "out").exists())

    def test_the_inside_of_a_card_is_copied_with_a_warning_that_names_the_card(self):
        inner = self.base / "card" / "PRIVATE" / "M4ROOT" / "CLIP"
        inner.mkdir(parents=True)
        (inner / "C0001.MP4").write_bytes(b"x")
        run = raft("copy", inner, "--to", self.base / "one")
        self.assertEqual(run.returncode, 0)
        self.assertIn(f"a folder inside the card {self.base / 'card'}", run.stderr)

    def test_two_folders_of_one_disk_are_one_copy_and_only_taken_as_two_on_request(self):
        if not self.one_disk:
            self.skipTest("this machine cannot tell which disk this is")
        refused = raft("copy", self.card, "--to", self.one, "--to", self.two)
        self.assertEqual((refused.returncode, os.listdir(self.one)), (2, []))
        self.assertIn("are on one disk", refused.stderr)
        self.assertEqual(raft("copy", self.card, "--to", self.one, "--to", self.two, "--same-device").returncode, 0)

    @property
    def one_disk(self) -> bool:
        """Whether it can be told that the test's folders are on one disk."""
        return UNKNOWN not in DeviceTree().under(self.one)

    def test_what_cannot_be_done_at_all_writes_nothing_and_says_so(self):
        inside = self.card / "backup"
        inside.mkdir()
        for words in (
            [self.base / "none", "--to", self.one],
            [self.card, "--to", self.base / "none"],
            [self.card, "--to", inside],
            [self.card, "--to", self.base],
            [self.card, "--to", self.one, "--to", self.one],
            *([[self.card, "--to", self.one, "--to", self.two]] if self.one_disk else []),
            [self.card, "--to", self.one, "--name", "../x"],
            [self.card, "--to", self.one, "--hash", "crc32"],
        ):
            with self.subTest(words):
                done = raft("copy", *words)
                self.assertEqual(done.returncode, 2, done.stderr)
                self.assertNotIn("Traceback", done.stderr)
                self.assertEqual(os.listdir(self.one), [])

    @skipIf(os.geteuid() == 0, "root may read everything")
    def test_an_unreadable_file_fails_alone(self):
        self.put("locked", b"x").chmod(0)
        self.assertEqual(self.copy()[0], 1)

    def test_killed_at_any_moment_it_completes_and_never_shows_half_a_file(self):
        for n in range(30):
            self.put(f"DCIM/100AAAAA/BBBB{n:04d}.JPG", os.urandom(200_000))
        originals = {p.relative_to(self.card): p.read_bytes() for p in self.card.rglob("*") if p.is_file()}
        command = [sys.executable, "-m", "ruggedraft.commands", "copy", self.card, "--to", self.one]
        for moment in (0.15, 0.2, 0.25, 0.3, 0.4):
            shutil.rmtree(self.one)
            self.one.mkdir()
            with subprocess.Popen(command, stderr=subprocess.DEVNULL) as process:
                time.sleep(moment)
                process.send_signal(signal.SIGKILL)
            for path in (self.one / "CARD").rglob("*"):
                if path.is_file():
                    self.assertEqual(path.read_bytes(), originals[path.relative_to(self.one / "CARD")])
            self.assertEqual(raft("copy", self.card, "--to", self.one).returncode, 0)
            subprocess.run(["diff", "-r", self.card, self.one / "CARD"], check=True)
            self.assertEqual(sorted(os.listdir(self.one)), ["CARD", "CARD.xxh128"], "no leftovers")

    @skipIf(os.environ.get("RAFT_QUICK"), "not in the quick form")
    def test_a_file_of_more_than_4_gib_with_holes_is_copied_right_and_keeps_them(self):
        big = self.put("BIG.MXF", b"first")
        with big.open("r+b") as file:
            file.seek((4 << 30) + 12_345)
            file.write(b"last")
        self.assertLess(big.stat().st_blocks * 512, 1 << 20)
        done = raft("copy", self.card, "--to", self.one)
        self.assertEqual(done.returncode, 0, done.stderr)
        copy = self.one / "CARD" / "BIG.MXF"
        self.assertEqual(copy.stat().st_size, (4 << 30) + 12_349)
        self.assertLess(copy.stat().st_blocks * 512, 16 << 20)
        subprocess.run(["cmp", big, copy], check=True)
        subprocess.run(["xxhsum", "--quiet", "-c", "CARD.xxh128"], cwd=self.one, check=True, capture_output=True)

    def test_further_checksums_a_second_reading_and_permissions(self):
        (self.card / "zero").chmod(0o640)
        done = raft("copy", self.card, "--to", self.one, "--also", "md5", "--also", "sha256", "--twice")
        self.assertEqual(done.returncode, 0, done.stderr)
        for program, name in (("xxhsum", "xxh128"), ("md5sum", "md5"), ("sha256sum", "sha256")):
            subprocess.run([program, "--quiet", "-c", f"CARD.{name}"], cwd=self.one, check=True, capture_output=True)
        self.assertEqual((self.one / "CARD" / "zero").stat().st_mode & 0o777, 0o640)

    def test_interrupted_from_the_keyboard_it_says_what_is_not_safe(self):
        for n in range(4000):
            self.put(f"DCIM/100AAAAA/CCCC{n:04d}.JPG", b"x" * 5_000)
        command = [sys.executable, "-m", "ruggedraft.commands", "copy", self.card, "--to", self.one, "--json"]
        with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as process:
            deadline = time.monotonic() + 20
            while not (self.one / ".raft-parts").exists() and time.monotonic() < deadline:
                time.sleep(0.005)
            process.send_signal(signal.SIGINT)
            said, complaint = process.communicate()
        self.assertEqual((process.returncode, json.loads(said)["stores"][0]["state"]), (1, "failed"))
        self.assertIn("the run was stopped before this file", complaint[:4000])
        self.assertNotIn("Traceback", complaint)
        self.assertFalse((self.one / "CARD.xxh128").exists())


class Verifying(CommandCase):
    def test_lists_that_those_programs_wrote_are_accepted(self):
        self.put("line\nbreak", b"x")
        for name, program in CHECKERS.items():
            words = [program, *(["-H128"] if name == "xxh128" else []), *(["-H64"] if name == "xxh64" else [])]
            files = sorted(str(p.relative_to(self.base)) for p in self.card.rglob("*") if p.is_file())
            if program == "xxhsum" and not xxhsum_escapes():
                files = [file for file in files if "\n" not in file]
            with self.subTest(name):
                written = subprocess.run([*words, *files], cwd=self.base, capture_output=True, check=True).stdout
                (self.base / f"list.{name}").write_bytes(written)
                done = raft("verify", self.base / f"list.{name}", "--json")
                self.assertEqual((done.returncode, json.loads(done.stdout)["agreed"]), (0, len(files)), done.stderr)

    def test_bsd_lines_are_accepted(self):
        written = subprocess.run(["sha256sum", "--tag", "CARD/zero"], cwd=self.base, capture_output=True, check=True)
        (self.base / "sums.txt").write_bytes(written.stdout)
        self.assertEqual(raft("verify", self.base / "sums.txt").returncode, 0)

    def test_changed_missing_and_extra_are_told_apart(self):
        self.copy()
        (self.one / "CARD" / "zero").write_bytes(b"not zero")
        (self.one / "CARD" / "-rf").unlink()
        (self.one / "CARD" / "stray").write_bytes(b"")
        for strict, kinds in (([], {"changed", "missing"}), (["--strict"], {"changed", "missing", "extra"})):
            done = raft("verify", self.one / "CARD.xxh128", "--json", *strict)
            self.assertEqual(done.returncode, 1)
            self.assertEqual({f["kind"] for f in json.loads(done.stdout)["findings"]}, kinds)

    def test_lists_that_cannot_be_trusted_stop_and_check_nothing(self):
        zero = "d41d8cd98f00b204e9800998ecf8427e"
        for name, content in {
            "empty.md5": "",
            "rubbish.md5": f"{zero}  CARD/zero\nrubbish\n",
            "ambiguous.txt": f"{zero}  CARD/zero\n",
            "wrong.sha256": f"{zero}  CARD/zero\n",
            "twice.md5": f"{zero}  CARD/zero\n{'0' * 32}  CARD/zero\n",
            "unknown.txt": f"WHIRLPOOL (CARD/zero) = {zero}\n",
        }.items():
            (self.base / name).write_text(content)
            with self.subTest(name):
                done = raft("verify", self.base / name)
                self.assertEqual(done.returncode, 2, done.stderr)
                self.assertNotIn("Traceback", done.stderr)
        self.assertEqual(raft("verify", self.base / "ambiguous.txt", "--hash", "md5").returncode, 0)
        self.assertEqual(raft("verify", self.base / "none").returncode, 2)

    def test_a_list_that_names_a_folder_finds_it_unreadable(self):
        (self.base / "x.md5").write_text(f"{'0' * 32}  CARD\n")
        done = raft("verify", self.base / "x.md5", "--json")
        self.assertEqual((done.returncode, json.loads(done.stdout)["findings"][0]["kind"]), (1, "unreadable"))

    def test_where_nothing_was_read_from_the_medium_it_says_so_and_is_not_content(self):
        """A folder in memory has no medium that could be read past this machine's memory."""
        with tempfile.TemporaryDirectory(dir="/dev/shm") as folder:
            (Path(folder) / "a").write_bytes(b"a")
            (Path(folder) / "x.md5").write_text("0cc175b9c0f1b6a831c399e269772661  a\n")
            done = raft("verify", Path(folder) / "x.md5", "--json")
            self.assertEqual((done.returncode, json.loads(done.stdout)["cached"]), (1, 1))
            self.assertIn("nothing was read from the medium", done.stderr)
            self.assertEqual(raft("verify", Path(folder) / "x.md5", "--cached").returncode, 0)

    def test_a_file_that_is_locked_in_memory_was_not_read_from_the_medium(self):
        self.copy()
        with (
            (self.one / "CARD" / "DCIM/100AAAAA/AAAA0002.JPG").open("r+b") as file,
            mmap.mmap(file.fileno(), 0) as view,
        ):
            held = (ctypes.c_char * len(view)).from_buffer(view)
            if ctypes.CDLL(None).mlock(held, len(view)):
                self.skipTest("memory cannot be locked here")
            done = raft("verify", self.one / "CARD.xxh128", "--json")
            del held
        self.assertEqual((done.returncode, json.loads(done.stdout)["cached"]), (1, 1))

    def test_a_list_cannot_make_us_read_outside_its_folder(self):
        (self.base / "x.md5").write_text("d41d8cd98f00b204e9800998ecf8427e  ../../../dev/null\n")
        done = raft("verify", self.base / "x.md5", "--json")
        self.assertEqual((done.returncode, json.loads(done.stdout)["findings"][0]["kind"]), (1, "unreadable"))
