"""Cards with very many files are kept in columns: nothing is another than it was, and little is kept of each."""

import os
import tempfile
import tracemalloc
from contextlib import ExitStack
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.files.confinement import Folders, Root
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import (
    Entries,
    Entry,
    EntryKind,
    FolderSource,
    Listing,
    MemorySource,
    Places,
    list_card,
    listing,
)
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.local import names
from ruggedraft.core.transfer import FileRead, Readings, Sums, Target, transfer
from ruggedraft.core.transfer.of_each import PathsAmong

XXH = algorithm_named("xxh128")
PATHS = st.text(st.characters(exclude_characters="\0"), min_size=1, max_size=6) | st.sampled_from(
    ["a", "a.b", "a/c", "a-", "é", "e\u0301", "\udce9", "\ud83d\ude00"]
)
ENTRIES = st.lists(
    st.builds(
        Entry, PATHS, st.sampled_from(EntryKind), st.integers(0, 2**64 - 1), st.integers(-(2**70), 2**70),
        st.sampled_from(["", "elsewhere"]), st.none() | st.integers(0, 0o200000),
    ),
    unique_by=lambda entry: entry.path,
)  # fmt: skip


class InColumns(TestCase):
    @given(ENTRIES)
    def test_every_entry_comes_out_as_it_went_in_and_all_in_path_order(self, entries):
        packed, plain = Entries.of(entries), sorted(entries)
        self.assertEqual((list(packed), len(packed)), (plain, len(plain)))
        self.assertEqual([packed[n] for n in range(-len(plain), len(plain))], plain * 2)
        self.assertEqual(list(packed[1:-1]), plain[1:-1])
        for n, entry in enumerate(plain):
            self.assertEqual((packed.path(n), packed.size(n), packed.modified_ns(n)), (entry[0], entry[2], entry[3]))

    @given(ENTRIES)
    def test_what_a_listing_tells_is_the_same(self, entries):
        packed, plain = Listing(Entries.of(entries)), Listing(tuple(sorted(entries)))
        for what in ("files", "folders", "odd", "closed"):
            self.assertEqual(list(getattr(packed, what)), list(getattr(plain, what)), what)
        self.assertEqual((packed.bytes, packed.span_ns), (plain.bytes, plain.span_ns))
        self.assertEqual(list(packed.files[:2]), list(plain.files[:2]), "some of some")

    @given(ENTRIES, st.lists(PATHS))
    def test_entries_are_found_by_their_paths_whatever_was_asked_before(self, entries, others):
        packed = Entries.of(entries)
        places, paths = Places(packed), sorted(entry.path for entry in entries)
        for path in [*paths, *reversed(paths), *others, *(path for path in paths for _ in range(2))]:
            self.assertEqual(places.of(path), paths.index(path) if path in paths else -1)

    def test_a_card_is_listed_alike_below_and_beyond_what_is_many(self):
        card = MemorySource({f"{n % 7}/{n}": b"x" * n for n in range(40)})
        plain = list_card(card)
        for many in (1, 39, 47):
            with patch.object(listing, "_MANY", many):
                packed = list_card(card)
            self.assertIsInstance(packed.entries, Entries)
            self.assertEqual(list(packed.entries), list(plain.entries))

    def test_a_folder_is_gone_through_in_path_order(self):
        """So that a large card need not be sorted: what is in `a` comes behind `a.b`."""
        with tempfile.TemporaryDirectory() as folder:
            for path in ("a/c", "a/b/x", "a.b", "a-", "a0", "b/c"):
                file = Path(folder, path)
                file.parent.mkdir(parents=True, exist_ok=True)
                file.touch()
            found = [entry.path for entry in FolderSource(Path(folder)).walk()]
        self.assertEqual(found, sorted(found))
        self.assertEqual(found, ["a", "a-", "a.b", "a/b", "a/b/x", "a/c", "a0", "b", "b/c"])


FILES = Entries.of(Entry(name, EntryKind.FILE, n, n) for n, name in enumerate("abcdefgh"))
PATH = st.sampled_from([*"abcdefgh", "none"])
TEXT = st.sampled_from(["", "0a" * 8, "0b" * 8, "0A" * 8, "0a" * 4, "0a 0b", "abc", "xyz"])
FINGERPRINT = st.sampled_from(["", "x" + "1" * 31, "x" + "a" * 31, "a" * 32, "x", "x0A", "x" + "g" * 31])


class OfEach(TestCase):
    @given(st.lists(st.tuples(st.sampled_from(["add", "discard", "cut"]), PATH)))
    def test_a_set_of_files_is_a_set(self, acts):
        marked, plain = PathsAmong(FILES), set()
        for act, path in acts:
            if act == "add" and path in "abcdefgh":
                marked.add(path)
                plain.add(path)
            elif act == "cut":
                marked.discard_of_size(path, 3)
                plain.discard("d" if path == "d" else "")
            elif act == "discard":
                marked.discard(path)
                plain.discard(path)
        self.assertEqual((set(marked), len(marked), marked), (plain, len(plain), plain))
        for path in [*"hgfedcba", "none", 7]:
            self.assertEqual(path in marked, path in plain)
        other = {"a", "c", "none"}
        self.assertEqual(
            (marked | other, marked & other, marked - other), (plain | other, plain & other, plain - other)
        )
        self.assertEqual((other | marked, other - marked), (other | plain, other - plain))
        self.assertEqual(PathsAmong(FILES, bytes(marked.marks)), marked)

    def test_a_copy_is_of_its_own_and_nothing_foreign_is_added(self):
        marked = PathsAmong(FILES)
        marked.add("a")
        copy = marked.copy()
        marked.clear()
        self.assertEqual((set(marked), len(marked), set(copy)), (set(), 0, {"a"}))
        self.assertRaises(KeyError, marked.add, "none")
        self.assertRaises(ValueError, PathsAmong, FILES, b"\1")

    @given(st.lists(st.tuples(
        PATH, st.none() | st.builds(
            FileRead, st.integers(0, 8), st.integers(0, 8), TEXT, st.sampled_from([(), ("0a" * 2,), ("q",)]),
            FINGERPRINT,
        ),
    )))  # fmt: skip
    def test_readings_come_back_as_they_were(self, acts):
        """Also where sums have other lengths, or are no numbers, and where a size is not the listing's."""
        kept, plain = Readings(FILES), {}
        for path, read in acts:
            if path == "none":
                self.assertRaises(KeyError, kept.__setitem__, path, read)
            elif read:
                own = FILES[FILES_BY[path]]
                kept[path] = plain[path] = read if read.size < 4 else read._replace(size=own.size, modified_ns=own[3])
            elif path in plain:
                del kept[path], plain[path]
            else:
                self.assertRaises(KeyError, kept.__delitem__, path)
        self.assertEqual((dict(kept), len(kept)), (plain, len(plain)))
        self.assertEqual(list(kept), sorted(plain))
        self.assertEqual(dict(Sums(kept, 0)), {path: read.checksum for path, read in plain.items()})
        self.assertEqual("none" in kept, False)


FILES_BY = {name: n for n, name in enumerate("abcdefgh")}


class ARun(TestCase):
    def test_each_further_file_is_remembered_in_few_bytes(self):
        """At most 160; a listing's entry, its reading and a set took 700 as objects."""
        took = {}
        for count in (1_000, 21_000):
            tracemalloc.start()
            try:
                walked = (
                    Entry(f"DCIM/{100 + n // 500}AAAAA/AAAA{n:05d}.JPG", EntryKind.FILE, n, 10**18 + n, mode=0o644)
                    for n in range(count)
                )
                files = Entries.of(walked)
                agreed, read = PathsAmong(files), Readings(files)
                for entry in files:
                    agreed.add(entry.path)
                    read[entry.path] = FileRead(entry.size, entry.modified_ns, f"{entry.size:032x}", (), "x" + "1" * 31)
                took[count] = tracemalloc.get_traced_memory()[0]
            finally:
                tracemalloc.stop()
        self.assertEqual((len(agreed), len(read)), (count, count))
        self.assertLess((took[21_000] - took[1_000]) / 20_000, 160)

    def test_a_large_one_is_copied_and_completed_like_any_other(self):
        """With everything that counts as many set to few; the second run finds what stands there folder by folder."""
        with ExitStack() as stack:
            base = Path(stack.enter_context(tempfile.TemporaryDirectory()))
            for module, name, value in ((listing, "_MANY", 5), (names, "_MOST", 4)):
                stack.enter_context(patch.object(module, name, value))
            for n in range(60):
                file = base / f"card/{n % 9}/{n}"
                file.parent.mkdir(parents=True, exist_ok=True)
                file.write_bytes(os.urandom(n * 10))
            (base / "drive").mkdir()
            for already in (0, 59):
                source = FolderSource(base / "card")
                report = transfer(source, list_card(source), [Target(LocalStore("d", base / "drive"), "c")], XXH)
                self.assertTrue(report.verified, report.stores)
                self.assertEqual(report.stores[0].already, already)
                (base / "drive/c/4/13").unlink()

    def test_names_of_a_folder_that_was_forgotten_are_looked_for_again(self):
        with tempfile.TemporaryDirectory() as folder, patch.object(names, "_MOST", 1):
            for path in ("a/1", "b/1"):
                Path(folder, path).parent.mkdir()
                Path(folder, path).touch()
            known, folders = names.Names(), Folders(Root.at(Path(folder)))
            self.assertTrue(known.may_be(("a",), "1", folders))
            self.assertTrue(known.may_be(("b",), "1", folders), "and `a` is forgotten")
            known.add(("a",), "2")
            self.assertTrue(known.may_be(("a",), "1", folders))
            self.assertFalse(known.may_be(("a",), "3", folders))

    def test_another_file_under_the_cards_own_name_is_not_taken_for_what_is_kept_under_another(self):
        """`a` is kept as `b`. At the last look `b` is gone, and somebody's `a` of the same size stands there."""
        with tempfile.TemporaryDirectory() as folder:
            drive, card = Path(folder), MemorySource({"a": b"content", "c": b"other"})
            real = LocalStore.settle

            def settle(store, folders):
                (drive / "day/b").rename(drive / "day/a")
                real(store, folders)

            with patch.object(LocalStore, "settle", settle):
                report = transfer(
                    card, list_card(card), [Target(LocalStore("d", drive), "day")], XXH, kept_as={"a": "b"}
                )
            self.assertEqual(set(report.stores[0].agreed), {"c"})
            self.assertIn("not in its place", str(report.stores[0].failed))
