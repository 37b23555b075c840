"""Comparing two trees: against a plain reckoning of sets, against diff(1), and with more rows than are held at once."""

import csv
import json
import os
import random
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.comparing import Kind, Reader, Spool, compare, spool

NAMES = st.sampled_from(["a", "b", "DCIM/1.JPG", "DCIM/2.JPG", "x/1.JPG", "x/2.JPG", "1.JPG", "a.xmp", "x/a.xmp"])
TREES = st.dictionaries(NAMES, st.integers(0, 3))


def by_kind(found) -> dict[Kind, set[str]]:
    rows: dict[Kind, set[str]] = {}
    for row in found.rows:
        rows.setdefault(row.kind, set()).add(row.path)
    return rows


class ByNamesAndSizes(unittest.TestCase):
    @given(TREES, TREES)
    def test_every_file_is_in_one_row_and_the_sums_agree(self, left, right):
        found = compare(left.items(), right.items())
        rows = list(found.rows)
        self.assertEqual(rows, sorted(rows))
        moved_to = [row.elsewhere for row in rows if row.kind is Kind.MOVED]
        same = {path for path in left if right.get(path) == left[path]}
        seen = sorted([row.path for row in rows] + moved_to + sorted(same))
        self.assertEqual(seen, sorted(left.keys() | right.keys()))
        self.assertEqual(found.kinds[Kind.IDENTICAL].files, len(same))
        self.assertEqual((found.left.files, found.left.bytes), (len(left), sum(left.values())))
        self.assertEqual((found.right.files, found.right.bytes), (len(right), sum(right.values())))
        self.assertEqual(found.identical, left == right)
        for row in rows:
            if row.kind is Kind.MOVED:
                self.assertEqual(left[row.path], right[row.elsewhere])
                self.assertNotIn(row.path, right)
                self.assertNotIn(row.elsewhere, left)

    def test_moved_is_said_where_there_is_one_of_each_alone(self):
        found = compare(
            {"day1/C1.MOV": 9, "C2.MOV": 8}.items(), {"safe/C1.MOV": 9, "p/C2.MOV": 8, "q/C2.MOV": 8}.items()
        )
        self.assertEqual([(row.kind, row.path, row.elsewhere) for row in found.rows], [
            (Kind.EXTRA, "p/C2.MOV", ""), (Kind.EXTRA, "q/C2.MOV", ""), (Kind.MISSING, "C2.MOV", ""),
            (Kind.MOVED, "day1/C1.MOV", "safe/C1.MOV"),
        ])  # fmt: skip

    def test_sidecars_that_people_edit_are_no_damage(self):
        found = compare({"a.xmp": 5, "b.DNG": 5, "c.xmp": 1}.items(), {"a.xmp": 6, "b.DNG": 6, "d.XMP": 3}.items())
        self.assertEqual(by_kind(found), {
            Kind.WORKING: {"a.xmp", "d.XMP"}, Kind.DIFFERENT: {"b.DNG"}, Kind.MISSING: {"c.xmp"},
        })  # fmt: skip

    def test_what_is_ours_or_a_computers_is_nobodys_work(self):
        theirs = {".raft-store": 36, "lost+found/x": 1, "DCIM/._a.jpg": 4096, "DCIM/.DS_Store": 6148, "a": 1}
        self.assertTrue(compare({"a": 1}.items(), theirs.items()).identical)

    def test_more_rows_than_are_held_come_in_order_and_leave_nothing_behind(self):
        left = {f"day{n % 7}/{n:05}": n for n in range(3000)}
        right = {path: size + (size % 3 == 0) for path, size in left.items()}
        with patch.object(spool, "_PIECE", 100), patch.object(spool, "_BLOCK", 7), Spool() as rows:
            shuffled = random.Random(1).sample(sorted(left.items()), len(left))
            found = compare(shuffled, right.items(), rows=rows)
            told = list(found.rows)
            self.assertEqual([row.path for row in told], sorted(path for path, size in left.items() if size % 3 == 0))
            self.assertEqual(list(found.rows), told, "and may be gone through again")


class ByContent(unittest.TestCase):
    def compared(self, left: dict[str, bytes], right: dict[str, bytes], unreadable: frozenset[str] = frozenset()):
        self.read: list[str] = []

        def sum_of(tree):
            def read(path: str) -> str | None:
                self.read.append(path)
                return None if path in unreadable else tree[path].hex()

            return read

        def same(path: str) -> bool | str:
            return "it could not be read" if path in unreadable else left[path] == right[path]

        sizes = [[(path, len(content)) for path, content in tree.items()] for tree in (left, right)]
        return compare(*sizes, Reader(same, sum_of(left), sum_of(right)))

    def test_the_same_size_is_not_the_same_file(self):
        found = self.compared({"a": b"abc", "b": b"abc", "c": b"xyz"}, {"a": b"abc", "b": b"abd", "c": b"xyz"},
                              frozenset("c"))  # fmt: skip
        self.assertEqual(by_kind(found), {Kind.DIFFERENT: {"b"}, Kind.UNREADABLE: {"c"}})
        self.assertFalse(found.identical)

    def test_what_was_renamed_is_found_by_its_content_and_nothing_is_read_in_vain(self):
        left = {"C1.MOV": b"one", "C2.MOV": b"two", "long": b"alone on its side", "C4.MOV": b"4444"}
        right = {"first take.mov": b"one", "other.mov": b"2wo", "C5.MOV": b"4444"}
        found = self.compared(left, right, frozenset({"C5.MOV"}))
        self.assertEqual({(row.kind, row.path, row.elsewhere) for row in found.rows}, {
            (Kind.MOVED, "C1.MOV", "first take.mov"), (Kind.MISSING, "C2.MOV", ""), (Kind.EXTRA, "other.mov", ""),
            (Kind.MISSING, "long", ""), (Kind.MISSING, "C4.MOV", ""), (Kind.EXTRA, "C5.MOV", ""),
        })  # fmt: skip
        self.assertNotIn("long", self.read)


class TheCommand(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        self.left, self.right = self.base / "left", self.base / "right"
        chance = random.Random(3)
        for n in range(30):
            self.put(self.left, f"day{n % 3}/C{n:03}.MOV", chance.randbytes(chance.randrange(50_000)))
        subprocess.run(["cp", "-a", self.left, self.right], check=True)

    def put(self, side: Path, path: str, content: bytes) -> None:
        (side / path).parent.mkdir(parents=True, exist_ok=True)
        (side / path).write_bytes(content)

    def run_it(self, *words: str) -> tuple[int, dict, str]:
        command = [sys.executable, "-m", "ruggedraft.commands", "compare", str(self.left), str(self.right), "--json"]
        done = subprocess.run(
            [*command, *words], capture_output=True, text=True, env={**os.environ, "PYTHONPATH": "src"}
        )
        return done.returncode, json.loads(done.stdout) if done.stdout else {}, done.stderr

    def diff(self) -> list[str]:
        """What the reference program finds, GNU diffutils."""
        return subprocess.run(
            ["diff", "-rq", self.left, self.right], capture_output=True, text=True
        ).stdout.splitlines()

    def test_identical_sides_are_said_to_be_so_with_counts(self):
        for words in ((), ("--content",)):
            code, told, said = self.run_it(*words)
            self.assertEqual((code, told["identical"], self.diff()), (0, True, []))
            self.assertEqual(told["left"], told["right"])
            self.assertIn("Both sides are identical", said)

    def test_it_finds_what_diff_finds_and_fills_what_is_missing_and_nothing_else(self):
        (self.right / "day1/C001.MOV").unlink()
        (self.right / "day2/C002.MOV").unlink()
        self.put(self.left, "new/caf\udce9", b"odd name")
        flipped = bytearray((self.right / "day0/C003.MOV").read_bytes())
        flipped[0] ^= 1
        self.put(self.right, "day0/C003.MOV", bytes(flipped))
        self.put(self.right, "theirs", b"somebody's own")
        self.assertEqual(self.run_it()[1]["kinds"]["different"]["files"], 0, "names and sizes do not tell")
        rows = self.base / "rows.csv"
        code, told, said = self.run_it("--content", "--rows", str(rows))
        found = {kind: tally["files"] for kind, tally in told["kinds"].items() if tally["files"]}
        self.assertEqual((code, found), (1, {"identical": 27, "missing": 3, "different": 1, "extra": 1}))
        self.assertEqual(len(self.diff()), 5)
        with rows.open() as file:
            self.assertEqual(len(list(csv.DictReader(file))), 5)
        self.assertEqual(self.run_it("--rows", str(rows))[0], 2, "a file that is there is not written over")
        code, told, said = self.run_it("--content", "--fill")
        self.assertEqual((code, told["filled"]), (1, {"copied": 3, "verified": True, "failed": []}))
        self.assertIn("Both sides are not identical", said)
        self.assertEqual(len(self.diff()), 2)
        self.assertEqual((self.right / "day0/C003.MOV").read_bytes(), bytes(flipped), "nothing is overwritten")
        self.assertEqual((self.right / "theirs").read_bytes(), b"somebody's own")
        self.put(self.right, "day0/C003.MOV", (self.left / "day0/C003.MOV").read_bytes())
        (self.right / "theirs").unlink()
        (self.right / "day1/C004.MOV").unlink()
        code, told, said = self.run_it("--content", "--fill")
        self.assertEqual((code, told["identical"], self.diff()), (0, True, []))
        self.assertEqual([one.name for one in self.right.iterdir() if one.name.startswith(".")], [])

    def test_links_are_told_and_never_pass_for_identical(self):
        (self.left / "link").symlink_to("day0")
        code, told, said = self.run_it("--fill")
        self.assertEqual((code, told["odd"], told["identical"]), (1, [str(self.left / "link")], False))
        self.assertIn(f"NEITHER FILE NOR FOLDER: {self.left / 'link'}", said)
        (self.left / "link").rename(self.right / "link")
        code, told, said = self.run_it()
        self.assertEqual((code, told["odd"], told["identical"]), (1, [str(self.right / "link")], False))
        self.assertIn("Both sides are not identical", said)

    @unittest.skipUnless(Path("/dev/shm").is_dir(), "no folder in memory")
    def test_what_came_from_memory_proves_nothing_of_the_medium(self):
        with tempfile.TemporaryDirectory(dir="/dev/shm") as memory:
            self.left, self.right = Path(memory, "left"), Path(memory, "right")
            for side in (self.left, self.right):
                self.put(side, "C001.MOV", b"x" * 5000)
            code, told, said = self.run_it("--content")
            self.assertEqual((code, told["identical"], told["cached"]), (1, True, 2))
            self.assertIn("2 files were read from this machine's memory", said)
            self.assertEqual(self.run_it("--content", "--cached")[0], 0)
            self.put(self.left, "C002.MOV", b"y" * 5000)
            code, told, said = self.run_it("--fill")
            self.assertEqual((code, told["filled"]["verified"]), (1, False))
            self.assertIn("1 file copied, written", said)
            self.assertEqual(self.run_it("--fill")[0], 0, "by names and sizes they are identical by now")

    def test_what_cannot_be_compared_is_refused(self):
        self.right = self.left / "day0"
        self.assertEqual(self.run_it()[0], 2)
        self.right = self.base / "none"
        self.assertEqual(self.run_it("--fill")[0], 2)
        self.assertFalse(self.right.exists())
