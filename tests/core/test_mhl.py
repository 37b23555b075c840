"""ASC MHL: written so that the standard's reference implementation verifies it, and judged as that judges it.

The reference is the package `ascmhl`, both ways. Cases of broken histories are ours.
"""

import os
import random
import resource
import subprocess
import sys
import tempfile
from datetime import UTC, datetime
from pathlib import Path
from unittest import TestCase

from ruggedraft.core.errors import ListError, RaftError
from ruggedraft.core.manifests import ListReport
from ruggedraft.core.manifests.mhl import (
    FOLDER,
    Creator,
    Reading,
    ToList,
    has_history,
    new_generation,
    read_history,
    verify_history,
)
from ruggedraft.core.manifests.mhl.hashes import HASHES
from ruggedraft.core.manifests.mhl.history import CHAIN, read_in

from .test_commands import raft

FILES = {
    "Clips/A001_C001.mov": b"one" * 1000, "Clips/sub/A001_C002.mov": b"two", "zero": b"",
    "Clips & <more>/é 5.wav": b"x",
}  # fmt: skip
BY = Creator(datetime(2026, 5, 14, 9, tzinfo=UTC), "cart", "Rugged Raft", "0.1", "Wren & Co", "Skerrow Creek", "fog")
THEIRS = Path(sys.executable).with_name("ascmhl")


def reading(path: str, sums: dict[str, str] | None = None) -> Reading:
    """Of one file."""
    return Reading([ToList(path, 1, 0, sums or {"md5": "0" * 32})], BY.at)


class Histories(TestCase):
    def setUp(self):
        home = tempfile.TemporaryDirectory()
        self.addCleanup(home.cleanup)
        self.root = Path(home.name) / "A001"
        self.put(FILES)

    def put(self, files: dict[str, bytes]) -> None:
        for path, content in files.items():
            place = self.root / path
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(content)

    def here(self) -> dict[str, bytes]:
        found = (one for one in self.root.rglob("*") if one.is_file() and FOLDER not in one.parts)
        return {str(one.relative_to(self.root)): one.read_bytes() for one in found}

    def make(self, *names: str, by: Creator = BY) -> dict[str, bytes]:
        """Another generation of what is here, as this application writes it."""
        files = [
            ToList(path, len(data), 10**18, {name: HASHES[name].of(data) for name in names or ("xxh64", "md5")})
            for path, data in self.here().items()
        ]
        read = read_in(self.root)
        made = new_generation(read_history(read), read(CHAIN), self.root.name, Reading(files, by.at), by)
        (self.root / FOLDER).mkdir(exist_ok=True)
        for name, content in made.items():
            (self.root / FOLDER / name).write_bytes(content)
        return made

    def theirs(self, *words: str) -> int:
        program = THEIRS.with_name("ascmhl-debug" if words[0] == "verify" else "ascmhl")
        environment = {**os.environ, "LC_ALL": "C.UTF-8"}
        return subprocess.run([program, *words, self.root], capture_output=True, env=environment).returncode

    def agree(self, good: bool) -> ListReport:
        """Both judge alike."""
        ours = verify_history(self.root)
        self.assertEqual((not ours.findings, self.theirs("verify") == 0), (good, good), ours.findings)
        return ours


class Written(Histories):
    def test_the_reference_verifies_files_and_folders_of_what_is_written(self):
        for names in (("md5",), ("sha1",), ("xxh64",), ("xxh128",), ("xxh3",), ("c4",), ("md5", "xxh64", "c4")):
            with self.subTest(names):
                for old in (self.root / FOLDER).glob("*"):
                    old.unlink()
                self.make(*names)
                self.assertEqual(self.agree(good=True).agreed, len(FILES))
                self.assertEqual(self.theirs("verify", "-dh"), 0)
                self.assertEqual(self.theirs("info"), 0)

    def test_the_same_makes_the_same_and_a_second_generation_says_what_was_verified_and_what_failed(self):
        first = self.make()
        self.assertEqual(sorted(first), ["0001_A001_2026-05-14_090000Z.mhl", CHAIN])
        for name in first:
            (self.root / FOLDER / name).unlink()
        self.assertEqual(self.make(), first)
        self.put({"Clips/sub/A001_C002.mov": b"TWO", "more.mov": b"new"})
        made = self.make("xxh64", "sha1")
        (text,) = (content.decode() for name, content in made.items() if name.startswith("0002"))
        for words in (
            'xxh64 action="failed"',
            'xxh64 action="verified"',
            'sha1 action="new"',
            'xxh64 action="original"',
        ):
            self.assertIn(words, text)
        last = read_history(read_in(self.root)).expected()
        self.assertEqual(last["Clips/sub/A001_C002.mov"]["xxh64"], HASHES["xxh64"].of(b"two"), "the first one stands")
        found = self.agree(good=False)
        self.assertEqual([(one.path, one.kind) for one in found.findings], [("Clips/sub/A001_C002.mov", "changed")])

    def test_what_was_not_read_is_not_said_to_be_verified_anew(self):
        """A generation of some files tells of these alone: no sums of folders, and nothing that is merely not in it."""
        self.make()
        self.put({"more.mov": b"new", "same.mov": b"two"})
        some = [ToList(path, 3, 10**18, {"md5": HASHES["md5"].of(data)})
                for path, data in (("more.mov", b"new"), ("same.mov", b"two"))]  # fmt: skip
        began = datetime(2026, 5, 14, 8, tzinfo=UTC)
        read = read_in(self.root)
        made = new_generation(read_history(read), read(CHAIN), "A001", Reading(some, began, whole=False), BY)
        for name, content in made.items():
            (self.root / FOLDER / name).write_bytes(content)
        (text,) = (content.decode() for name, content in made.items() if name.startswith("0002"))
        for words in ("verified", "Clips/", "roothash", "directoryhash", "previousPath"):
            self.assertNotIn(words, text)
        self.assertIn('hashdate="2026-05-14T08:00:00+00:00"', text, "as of when the reading began")
        self.assertEqual(self.agree(good=True).agreed, len(FILES) + 2)

    def test_a_renamed_file_is_followed(self):
        self.make()
        (self.root / "zero").rename(self.root / "naught")
        (self.root / "Clips/A001_C001.mov").rename(self.root / "Clips/HARBOUR.mov")
        made = self.make()
        (text,) = (content.decode() for name, content in made.items() if name.startswith("0002"))
        self.assertIn("<previousPath>Clips/A001_C001.mov</previousPath>", text)
        self.assertEqual(self.agree(good=True).agreed, len(FILES))

    def test_names_cannot_break_out_and_what_xml_cannot_hold_is_refused(self):
        for path in ("a\nb", "a\x01", "caf\udce9", "a\\b", "../a", "/a", "a//b", f"{FOLDER}/a", "a\ufffe"):
            with self.assertRaises(RaftError, msg=repr(path)):
                new_generation(read_history(lambda name: None), None, "A", reading(path), BY)
        for sums in ({"sha256": "0" * 64}, {"blake3": "0" * 64}):
            with self.assertRaises(ListError):
                new_generation(read_history(lambda name: None), None, "A", reading("a", sums), BY)
        with self.assertRaises(ListError):
            new_generation(read_history(lambda name: None), None, "A", Reading([], BY.at), BY)

    def test_random_trees_come_to_what_the_reference_makes_of_them(self):
        dice = random.Random(20261201)
        for _ in range(3):
            for old in sorted(self.root.rglob("*"), reverse=True):
                old.unlink() if old.is_file() else old.rmdir()
            for n in range(dice.randint(1, 25)):
                folders = "/".join(f"d{dice.randint(0, 3)}" for _ in range(dice.randint(0, 4)))
                self.put({f"{folders}/f{n}".lstrip("/"): dice.randbytes(dice.randint(0, 3000))})
            self.assertEqual(self.theirs("create", "-h", "xxh128", "-h", "c4"), 0)
            self.assertEqual(verify_history(self.root).findings, [])
            self.make("xxh128", "c4")
            first, second = read_history(read_in(self.root)).generations
            self.assertEqual(first.folders, second.folders)
            self.assertEqual(self.theirs("verify", "-dh"), 0)


class Read(Histories):
    def test_what_the_reference_wrote_is_verified_and_so_is_what_became_of_it(self):
        self.assertEqual(self.theirs("create", "-h", "md5"), 0)
        self.assertTrue(has_history(self.root))
        self.agree(good=True)
        self.assertEqual(self.theirs("create", "-h", "xxh64"), 0)
        self.assertEqual(self.agree(good=True).agreed, len(FILES))
        (self.root / "Clips/sub/A001_C002.mov").write_bytes(b"twO")
        self.assertEqual([one.kind for one in self.agree(good=False).findings], ["changed"])
        (self.root / "Clips/sub/A001_C002.mov").unlink()
        self.assertEqual([one.kind for one in self.agree(good=False).findings], ["missing"])

    def test_a_file_that_no_generation_names_is_told(self):
        self.make()
        self.put({"Clips/later.mov": b"later"})
        self.assertEqual([(o.path, o.kind) for o in self.agree(good=False).findings], [("Clips/later.mov", "extra")])
        (self.root / "Clips/later.mov").rename(self.root / ".DS_Store")
        self.agree(good=True)

    def test_a_link_is_never_followed(self):
        self.make()
        (self.root / "zero").unlink()
        (self.root / "zero").symlink_to("/dev/zero")
        (self.root / "out").symlink_to("/etc")
        found = {one.path: one.kind for one in verify_history(self.root).findings}
        self.assertEqual(found, {"zero": "unreadable", "out": "extra"})

    def test_histories_within_are_verified_too(self):
        self.make()
        outer, inner = self.root, self.root / "Clips"
        self.root = inner
        self.assertEqual(self.theirs("create", "-h", "md5"), 0)
        self.root = outer
        self.assertEqual(verify_history(outer).findings, [])
        (inner / "A001_C001.mov").write_bytes(b"other")
        (found,) = verify_history(outer).findings
        self.assertEqual((found.path, found.kind), ("Clips/A001_C001.mov", "changed"))

    def test_a_folder_that_is_another_than_was_noted_is_told_where_its_files_are_the_same(self):
        self.make()
        (name,) = (one for one in (self.root / FOLDER).iterdir() if one.name.startswith("0001"))
        text = name.read_bytes()
        at = text.index(b"</xxh64>", text.index(b"<directoryhash>")) - 1
        bent = text[:at] + (b"0" if text[at : at + 1] != b"0" else b"1") + text[at + 1 :]
        name.write_bytes(bent)
        known, now = (HASHES["c4"].of(one).encode() for one in (text, bent))
        chain = self.root / FOLDER / CHAIN
        chain.write_bytes(chain.read_bytes().replace(known, now))
        (found,) = verify_history(self.root).findings
        self.assertEqual(found.kind, "changed")
        self.assertIn("this folder", found.reason)

    def test_the_command_verifies_a_folder(self):
        self.make()
        self.assertEqual(raft("verify", self.root, "--cached").returncode, 0)
        (self.root / "zero").write_bytes(b"not")
        said = raft("verify", self.root, "--cached")
        self.assertEqual(said.returncode, 1)
        self.assertIn("CHANGED: zero", said.stderr)


class Broken(Histories):
    def refused(self, words: str) -> None:
        with self.assertRaises(ListError) as caught:
            verify_history(self.root)
        self.assertIn(words, str(caught.exception))

    def test_a_broken_chain_is_named(self):
        self.make()
        self.make(by=Creator(datetime(2026, 5, 15, tzinfo=UTC), "cart", "Rugged Raft", "0.1"))
        first, second = sorted((self.root / FOLDER).glob("*.mhl"))
        kept, chain = first.read_bytes(), (self.root / FOLDER / CHAIN).read_bytes()
        first.write_bytes(kept.replace(b"cart", b"card"))
        self.refused("Generation 1")
        self.assertNotEqual(self.theirs("verify"), 0)
        first.unlink()
        self.refused("is not there")
        first.write_bytes(kept)
        for bent in (
            chain.replace(b'sequencenr="2"', b'sequencenr="3"'), chain.replace(b'sequencenr="2"', b'sequencenr="1"'),
            chain.replace(second.name.encode(), first.name.encode()), chain.replace(b"<path>0002", b"<path>../0002"),
            chain.replace(b"<c4>", b"<md5>").replace(b"</c4>", b"</md5>"), chain[:-30], b"", b"<a/>",
        ):  # fmt: skip
            (self.root / FOLDER / CHAIN).write_bytes(bent)
            self.refused("")
        (self.root / FOLDER / CHAIN).unlink()
        self.refused("no ASC MHL history")

    def bent(self, before: str, after: str) -> None:
        """One list of one generation with something else in it, and a chain that says so."""
        (self.root / FOLDER).mkdir(exist_ok=True)
        made = self.make() if not has_history(self.root) else {}
        (name,) = made.keys() - {CHAIN} if made else {one.name for one in (self.root / FOLDER).glob("*.mhl")}
        text = made[name].decode() if made else self.plain
        self.plain = text
        self.write(name, text.replace(before, after, 1).encode())

    def write(self, name: str, content: bytes) -> None:
        entry = f'<hashlist sequencenr="1"><path>{name}</path><c4>{HASHES["c4"].of(content)}</c4></hashlist>'
        chain = f'<ascmhldirectory xmlns="urn:ASC:MHL:DIRECTORY:v2.0">{entry}</ascmhldirectory>'
        (self.root / FOLDER / name).write_bytes(content)
        (self.root / FOLDER / CHAIN).write_bytes(chain.encode())

    def test_nothing_outside_the_folder_is_touched_and_nothing_is_listed_twice(self):
        for path in ("../../etc/passwd", "/etc/passwd", "Clips/../../x", "", "a//b", ".", "C:\\x"):
            self.bent(">zero</path>", f">{path}</path>")
            self.refused("does not lie in its folder")
        self.bent(">zero</path>", ">Clips/A001_C001.mov</path>")
        self.refused("twice")
        self.bent("</hash>", "<previousPath>../x</previousPath></hash>")
        self.refused("does not lie in its folder")

    def test_a_checksum_that_is_none_stops_and_one_of_an_unknown_kind_alone_proves_nothing(self):
        self.bent(HASHES["md5"].of(b""), "abc")
        self.refused("no md5")
        self.bent("</hashes>", '<hash><path>more</path><blake9 action="original">00</blake9></hash></hashes>')
        self.put({"more": b"more"})
        (found,) = verify_history(self.root).findings
        self.assertEqual((found.path, found.kind), ("more", "unreadable"))

    def test_bombs_are_refused_and_do_not_fill_the_memory(self):
        self.make()
        (name,) = (one.name for one in (self.root / FOLDER).glob("*.mhl"))
        entities = "".join(f'<!ENTITY a{n} "{f"&a{n - 1};" * 10 if n else "x"}">' for n in range(12))
        deep = "<a>" * 100_000
        list_of = '<hashlist xmlns="urn:ASC:MHL:v2.0"><hashes>'
        most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
        for content in (
            f"<!DOCTYPE x [{entities}]><hashlist>&a11;</hashlist>", f"{list_of}{deep}",
            list_of + "<hash>" + "<a/>" * 3_000_000,
            '<?xml version="1.0" encoding="utf-99"?><hashlist/>', "\0", "<hashlist xmlns='urn:other'/>", list_of,
            '<!DOCTYPE x SYSTEM "file:///etc/passwd"><hashlist/>',
        ):  # fmt: skip
            self.write(name, content.encode())
            self.refused(name)
        self.write(name, f"{list_of}{'<a/>' * 3_000_000}</hashes></hashlist>".encode())
        found = verify_history(self.root)
        self.assertEqual({one.kind for one in found.findings}, {"extra"}, "it names no file")
        grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - most
        self.assertLess(grown, 150_000, "kB")

    def test_other_encodings_are_read_as_they_say(self):
        self.make()
        (name,) = (one.name for one in (self.root / FOLDER).glob("*.mhl"))
        text = (self.root / FOLDER / name).read_text()
        self.write(name, text.replace("UTF-8", "UTF-16").encode("utf-16"))
        self.assertEqual(verify_history(self.root).findings, [])
        self.write(name, b"\xef\xbb\xbf" + text.replace("\n", "\r\n").encode())
        self.assertEqual(verify_history(self.root).findings, [])
