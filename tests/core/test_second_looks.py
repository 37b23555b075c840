"""What a single reading of a card cannot tell: lists the card carries itself, a second reading, more checksums."""

import hashlib
import os
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

import blake3
import xxhash

from ruggedraft.core.hashing import ALGORITHMS, algorithm_named
from ruggedraft.core.manifests import recorded_checksums
from ruggedraft.core.sources import FolderSource, MemorySource, list_card
from ruggedraft.core.stores import MemoryStore
from ruggedraft.core.transfer import Target, TransferReport, transfer

XXH = algorithm_named("xxh128")
FILES = {"CLIP/A001.MOV": b"moving" * 400_000, "CLIP/A001.XML": b"<about/>", "zero": b""}
REFERENCES = {
    "xxh128": lambda data: xxhash.xxh3_128(data).hexdigest(),
    "xxh64": lambda data: xxhash.xxh64(data).hexdigest(),
    "md5": lambda data: hashlib.md5(data).hexdigest(),
    "sha1": lambda data: hashlib.sha1(data).hexdigest(),
    "sha256": lambda data: hashlib.sha256(data).hexdigest(),
    "blake3": lambda data: blake3.blake3(data).hexdigest(),
}


def run(card: MemorySource, *stores: MemoryStore, **words) -> TransferReport:
    return transfer(card, list_card(card), [Target(store, "day/A001") for store in stores], XXH, **words)


class Fickle(MemorySource):
    """A reader that gives another byte at the nth opening of a file."""

    def __init__(self, files, path, nth):
        super().__init__(files)
        self.path, self.nth, self.opened = path, nth, 0

    def open(self, path):
        file = super().open(path)
        if path == self.path:
            self.opened += 1
            if self.opened == self.nth:
                real = file.read_into

                def read_into(view):
                    count = real(view)
                    if count:
                        view[count // 2] ^= 1
                    return count

                file.read_into = read_into
        return file


class SecondReading(TestCase):
    def test_what_a_reader_gives_differently_the_second_time_is_not_kept(self):
        for path in ("CLIP/A001.MOV", "CLIP/A001.XML"):
            for nth in (1, 2):
                with self.subTest(path, nth=nth):
                    card, one, two = Fickle(dict(FILES), path, nth), MemoryStore("one"), MemoryStore("two")
                    report = run(card, one, two, twice=True)
                    self.assertFalse(report.verified)
                    self.assertEqual([failure.path for failure in report.unread], [path])
                    self.assertIn("other bytes when it was read a second time", report.unread[0].reason)
                    for result, store in zip(report.stores, (one, two), strict=True):
                        self.assertEqual(result.agreed, FILES.keys() - {path})
                        self.assertNotIn(f"day/A001/{path}", store.files)
                    card.nth = 0
                    self.assertTrue(run(card, one, two, twice=True).verified)

    def test_without_it_such_a_reader_is_believed(self):
        """Why it can be asked for: one reading cannot know."""
        report = run(Fickle(dict(FILES), "CLIP/A001.MOV", 1), MemoryStore("one"))
        self.assertTrue(report.verified)

    def test_both_readings_are_whole_and_what_was_there_before_stays(self):
        card, one = MemorySource(dict(FILES)), MemoryStore("one")
        run(card, one)
        card.served = 0
        again = run(card, one, twice=True)
        self.assertTrue(again.verified)
        self.assertEqual((again.stores[0].already, card.served), (len(FILES), 2 * sum(map(len, FILES.values()))))


class MoreChecksums(TestCase):
    def test_all_are_taken_in_one_reading_and_are_those_of_other_programs(self):
        card = MemorySource(dict(FILES))
        others = [algorithm for algorithm in ALGORITHMS.values() if algorithm is not XXH]
        report = run(card, MemoryStore("one"), others=others)
        self.assertEqual(card.served, sum(map(len, FILES.values())), "each byte once")
        for path, content in FILES.items():
            read = report.read[path]
            for algorithm, checksum in zip([XXH, *others], [read.checksum, *read.others], strict=True):
                self.assertEqual(checksum, REFERENCES[algorithm.name](content), algorithm.name)


class ListsOnTheCard(TestCase):
    def card(self, name: str, text: str) -> MemorySource:
        return MemorySource({**FILES, name: text.encode()})

    def recorded(self, card: MemorySource) -> dict[str, str]:
        return {path: sum_ for path, (_, sum_) in recorded_checksums(card, list_card(card)).items()}

    def lines(self) -> str:
        return "".join(f"{hashlib.md5(data).hexdigest()}  {path}\n" for path, data in FILES.items())

    def test_a_list_that_agrees_is_compared_and_all_is_well(self):
        card = self.card("A001.md5", self.lines())
        recorded = recorded_checksums(card, list_card(card))
        self.assertEqual(recorded.keys(), FILES.keys())
        self.assertTrue(run(card, MemoryStore("one"), recorded=recorded).verified)

    def test_a_list_that_contradicts_is_told_and_the_file_is_copied_all_the_same(self):
        wrong = self.lines().replace(hashlib.md5(FILES["CLIP/A001.MOV"]).hexdigest(), "0" * 32)
        card, one = self.card("A001.md5", wrong), MemoryStore("one")
        report = run(card, one, recorded=recorded_checksums(card, list_card(card)))
        self.assertFalse(report.verified)
        self.assertEqual([failure.path for failure in report.doubted], ["CLIP/A001.MOV"])
        self.assertIn("md5", report.doubted[0].reason)
        self.assertTrue(report.stores[0].verified, "the copy is what the card gave")

    def test_a_bad_reading_is_caught_by_the_list_and_mended_by_trying_again(self):
        for path in ("CLIP/A001.MOV", "CLIP/A001.XML"):
            card = Fickle({**FILES, "A001.md5": self.lines().encode()}, path, 1)
            one = MemoryStore("one")
            report = run(card, one, recorded=recorded_checksums(card, list_card(card)))
            self.assertTrue(report.verified, (report.doubted, report.stores[0].failed))
            self.assertEqual(one.files[f"day/A001/{path}"][0], FILES[path])

    def test_paths_are_the_lists_own_and_lead_nowhere_else(self):
        sum_ = "0" * 32
        for name, text, found in (
            ("CLIP/x.md5", f"{sum_}  A001.MOV\n", {"CLIP/A001.MOV"}),
            ("CLIP/x.md5", f"{sum_}  ./A001.MOV\n{sum_}  ../zero\n", {"CLIP/A001.MOV", "zero"}),
            ("x.md5", f"{sum_}  ../../etc/passwd\n{sum_}  /zero\n", {"zero"}),
            ("MD5SUMS", f"{sum_} *zero\n", {"zero"}),
            ("x.md5", "this is no list\n", set()),
            ("notes.txt", f"{sum_}  zero\n", set()),
        ):
            with self.subTest(name, text=text):
                self.assertEqual(self.recorded(self.card(name, text)).keys(), found)

    def test_xml_hash_lists_of_both_generations(self):
        md5, xxh = hashlib.md5(b"").hexdigest(), xxhash.xxh64(b"").hexdigest()
        older = (
            f'<hashlist version="1.1"><hash><file>zero</file><size>0</size><xxhash64be>{xxh}</xxhash64be></hash>'
            f"<hash><file>CLIP\\A001.XML</file><md5>{md5}</md5></hash></hashlist>"
        )
        newer = (
            f'<hashlist version="2.0" xmlns="urn:x"><hashes><hash><path size="0">zero</path><md5>{md5}</md5>'
            f'<xxh64 action="original">{xxh}</xxh64></hash></hashes></hashlist>'
        )
        self.assertEqual(self.recorded(self.card("A001.mhl", older)), {"zero": xxh, "CLIP/A001.XML": md5})
        self.assertEqual(self.recorded(self.card("A001.mhl", newer)), {"zero": md5})
        bomb = '<!DOCTYPE x [<!ENTITY a "aaaa">]><hashlist>&a;</hashlist>'
        self.assertEqual(self.recorded(self.card("A001.mhl", bomb)), {})

    def test_a_list_that_md5sum_made_in_the_cards_folder(self):
        with tempfile.TemporaryDirectory() as folder:
            for name, content in {"one.MOV": b"1" * 9000, "two words.MOV": b"2", "back\\slash": b"3"}.items():
                (Path(folder) / name).write_bytes(content)
            made = subprocess.run(["md5sum", *sorted(os.listdir(folder))], cwd=folder, check=True, capture_output=True)
            (Path(folder) / "card.md5").write_bytes(made.stdout)
            source = FolderSource(Path(folder))
            listing = list_card(source)
            recorded = recorded_checksums(source, listing)
            self.assertEqual(recorded.keys(), {"one.MOV", "two words.MOV", "back\\slash"})
            report = transfer(source, listing, [Target(MemoryStore("one"), "x")], XXH, recorded=recorded)
            self.assertTrue(report.verified, report.doubted)
