"""Bags by RFC 8493: written so that the reference library validates them, and judged as it judges them.

The bagit library of the Library of Congress is the reference, both ways. Cases of broken bags are ours, after the RFC.
"""

import hashlib
import logging
import os
import random
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import bagit

from ruggedraft.core.errors import ListError, RaftError
from ruggedraft.core.manifests import ListReport, is_bag, tag_files, verify_bag

from .test_commands import raft

logging.getLogger("bagit").setLevel(logging.CRITICAL + 1)  # it says on standard error what it refuses

FILES = {"DCIM/100AAAAA/a.jpg": b"one" * 1000, "zero": b"", "café 5.mov": b"two", "deep/er/x\ny": b"line"}


class Bags(TestCase):
    def setUp(self):
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.bag = Path(home.name) / "bag"
        for path, content in FILES.items():
            place = self.bag / "data" / path
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(content)

    def make(self, *algorithms: str, **info: str) -> Path:
        sums = {
            name: {f"data/{path}": hashlib.new(name, content).hexdigest() for path, content in FILES.items()}
            for name in algorithms or ("sha256",)
        }
        made = tag_files(sums, sum(map(len, FILES.values())), list(info.items()))
        for name, content in made.items():
            (self.bag / name).write_bytes(content)
        return self.bag

    def theirs(self) -> bool:
        """What the reference says."""
        try:
            return bool(bagit.Bag(str(self.bag)).validate())
        except (bagit.BagError, OSError):
            return False

    def found(self, report: ListReport) -> list[tuple[str, str]]:
        return [(one.path, one.kind) for one in report.findings]


class Written(Bags):
    def test_the_reference_validates_what_is_written_and_so_do_we(self):
        for algorithms in (("md5",), ("sha256",), ("sha512",), ("md5", "sha1", "sha256", "sha512")):
            with self.subTest(algorithms):
                for old in self.bag.glob("*.txt"):
                    old.unlink()
                self.make(*algorithms, **{"External-Description": "A001, harbour"})
                self.assertTrue(self.theirs())
                report = verify_bag(self.bag)
                self.assertEqual(report.findings, [])
                self.assertEqual(report.agreed, len(FILES) + 2 + len(algorithms), "with the bag's own files")

    def test_the_same_files_make_the_same_bytes_and_names_cannot_break_out(self):
        first = {path.name: path.read_bytes() for path in self.make().glob("*.txt")}
        self.assertEqual({path.name: path.read_bytes() for path in self.make().glob("*.txt")}, first)
        for bad in ({"a": "0"}, {"data/../a": "0"}, {"data//a": "0"}):
            with self.assertRaises(RaftError):
                tag_files({"md5": bad}, 0)
        for sums in ({}, {"xxh128": {"data/a": "0"}}, {"md5": {"data/a": "0"}, "sha1": {}}):
            with self.assertRaises(ListError):
                tag_files(sums, 0)

    def test_a_percent_sign_is_written_as_the_rfc_has_it(self):
        """RFC 8493, 2.1.3. The reference library of today neither writes nor reads it so: such names are ours alone."""
        (self.bag / "data/5% grey.mov").write_bytes(b"grey")
        with patch.dict(FILES, {"5% grey.mov": b"grey"}):
            self.make("sha256")
        self.assertIn("data/5%25 grey.mov", (self.bag / "manifest-sha256.txt").read_text())
        self.assertEqual(verify_bag(self.bag).findings, [])


class Read(Bags):
    def test_what_the_reference_made_verifies_here(self):
        plain = self.bag / "data"
        bagit.make_bag(str(plain), {"Contact-Name": "Wren"}, checksums=["md5", "sha512"])
        report = verify_bag(plain)
        self.assertEqual((report.findings, report.algorithm), ([], "md5 and sha512"))
        done = raft("verify", plain)
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_both_judge_random_harm_alike(self):
        """A file changed, gone or added, the bag's own among them: what the reference refuses is a finding here."""
        chance = random.Random(1)
        whole = {path: path.read_bytes() for path in self.make("sha256", "md5").rglob("*") if path.is_file()}
        for _ in range(150):
            for path, content in whole.items():
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(content)
            (self.bag / "data" / "more").unlink(missing_ok=True)
            victim = chance.choice(sorted(whole))
            harm = chance.choice(["change", "remove", "add", "nothing"])
            if harm == "change":
                victim.write_bytes(whole[victim][:-1] + b"?" if whole[victim] else b"?")
            elif harm == "remove":
                victim.unlink()
            elif harm == "add":
                (self.bag / "data" / "more").write_bytes(b"")
            try:
                ours = not verify_bag(self.bag).findings
            except (ListError, OSError):
                ours = False
            with self.subTest(harm=harm, victim=victim.name):
                self.assertEqual(ours, self.theirs())

    def test_each_fault_is_told_by_file(self):
        self.make("sha256", "md5")
        (self.bag / "data/zero").write_bytes(b"x")
        (self.bag / "data/DCIM/100AAAAA/a.jpg").unlink()
        (self.bag / "data/stray").write_bytes(b"")
        self.assertEqual(
            sorted(set(self.found(verify_bag(self.bag)))),
            [("bag-info.txt", "changed"), ("data/DCIM/100AAAAA/a.jpg", "missing"), ("data/stray", "extra"),
             ("data/zero", "changed")],
        )  # fmt: skip

    def test_a_holey_bag_is_not_complete_and_nothing_is_fetched(self):
        self.make("sha256")
        (self.bag / "data/zero").unlink()
        (self.bag / "fetch.txt").write_text("https://example.invalid/zero 0 data/zero\n")
        self.assertIn(("data/zero", "missing"), self.found(verify_bag(self.bag)))
        self.assertFalse(self.theirs())

    def test_a_bag_that_leads_outside_or_says_nothing_is_refused_before_anything_is_read(self):
        secret = self.bag.parent / "secret"
        secret.write_bytes(b"secret")
        digest = hashlib.sha256(b"secret").hexdigest()
        for words, name, content in (
            ("climbing", "manifest-sha256.txt", f"{digest}  data/../../secret\n"),
            ("absolute", "manifest-sha256.txt", f"{digest}  {secret}\n"),
            ("home", "manifest-sha256.txt", f"{digest}  ~/secret\n"),
            ("not under data", "manifest-sha256.txt", f"{digest}  bag-info.txt\n"),
            ("payload among tags", "tagmanifest-sha256.txt", f"{digest}  data/zero\n"),
            ("twice", "manifest-sha256.txt", f"{digest}  data/zero\n{'0' * 64}  data/zero\n"),
            ("too short", "manifest-sha256.txt", "00  data/zero\n"),
            ("rubbish", "manifest-sha256.txt", "rubbish\n"),
            ("unknown", "manifest-whirlpool.txt", "00  data/zero\n"),
            ("no declaration", "bagit.txt", "BagIt\n"),
            ("another encoding", "bagit.txt", "BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-16\n"),
        ):  # fmt: skip
            with self.subTest(words):
                self.make("sha256")
                (self.bag / name).write_text(content)
                with self.assertRaises(ListError):
                    verify_bag(self.bag)
                (self.bag / "manifest-whirlpool.txt").unlink(missing_ok=True)
        for path in self.bag.glob("manifest-*"):
            path.unlink()
        self.make("sha256")
        (self.bag / "manifest-sha256.txt").unlink()
        with self.assertRaises(ListError):
            verify_bag(self.bag)

    def test_a_link_is_never_followed_out_of_the_bag(self):
        self.make("sha256")
        (self.bag / "data/zero").unlink()
        outside = self.bag.parent / "outside"
        outside.write_bytes(b"")
        (self.bag / "data/zero").symlink_to(outside)
        self.assertIn(("data/zero", "unreadable"), self.found(verify_bag(self.bag)))

    def test_a_link_to_a_folder_is_listed_nowhere_and_no_data_is_no_bag(self):
        self.make("sha256")
        (self.bag / "data/more").symlink_to(self.bag.parent)
        self.assertIn(("data/more", "extra"), self.found(verify_bag(self.bag)))
        (self.bag / "data/more").unlink()
        (self.bag / "data").rename(self.bag.parent / "data")
        with self.assertRaisesRegex(ListError, "no folder data/"):
            verify_bag(self.bag)

    def test_line_ends_and_older_bags_are_read(self):
        self.make("md5")
        manifest = self.bag / "manifest-md5.txt"
        plain = {path: content for path, content in FILES.items() if "\n" not in path}
        for path in set(FILES) - set(plain):
            (self.bag / "data" / path).unlink()
        lines = [f"{hashlib.md5(content).hexdigest()} *data/{path}" for path, content in plain.items()]
        for end in ("\r\n", "\r", "\n"):
            manifest.write_bytes(end.join(lines).encode() + end.encode())
            (self.bag / "bagit.txt").write_text("BagIt-Version: 0.97\nTag-File-Character-Encoding: UTF-8\n")
            for name in ("tagmanifest-md5.txt", "bag-info.txt"):
                (self.bag / name).unlink(missing_ok=True)
            self.assertEqual(verify_bag(self.bag).findings, [], repr(end))
        self.assertTrue(is_bag(self.bag) and not is_bag(self.bag / "data"))

    def test_it_is_read_past_the_caches_where_the_medium_allows_that(self):
        self.make("sha256")
        os.sync()
        told = subprocess.run(
            ["findmnt", "-no", "FSTYPE", "-T", str(self.bag)], capture_output=True, text=True, check=True
        )
        report = verify_bag(self.bag)
        self.assertEqual(report.findings, [])
        if told.stdout.strip() in ("ext4", "xfs"):
            self.assertEqual(report.cached, 0)
