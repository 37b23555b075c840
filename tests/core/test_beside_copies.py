"""What is written beside copies on request: sidecars, and split recordings as one file."""

import json
import subprocess
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from ruggedraft.core.joining import JoinFailed, join, packets
from ruggedraft.core.sidecars import Tags, format_xmp, sidecar_path
from ruggedraft.standins import card_maker as make
from ruggedraft.standins.card_maker import traps

from .made_card import START, MadeCard


def read_by_exiftool(content: bytes) -> dict:
    """The properties as exiftool, a general-purpose reader, names them."""
    with tempfile.NamedTemporaryFile(suffix=".xmp") as file:
        file.write(content)
        file.flush()
        words = ["exiftool", "-json", "-XMP:all", file.name]
        return json.loads(subprocess.run(words, capture_output=True, check=True).stdout)[0]


class Sidecars(TestCase):
    def test_exiftool_reads_every_property_back(self):
        """ISO 16684-1 and the IPTC Core's names for the same."""
        rights = "\N{COPYRIGHT SIGN} 2026 <Tidewrack> & crew"
        tags = Tags("Wren Tarn", rights, ("barge", "Skerrow Creek"), "line\nbreak")
        found = read_by_exiftool(format_xmp(tags))
        self.assertEqual(found["Creator"], "Wren Tarn")
        self.assertEqual(found["Rights"], tags.rights)
        self.assertEqual(found["Subject"], ["barge", "Skerrow Creek"])
        self.assertEqual(found["Description"].replace("..", "\n").replace("\r", ""), tags.notes)

    @settings(max_examples=12, deadline=None)
    @given(st.text(max_size=60), st.lists(st.text(min_size=1, max_size=20), max_size=3))
    def test_whatever_people_type_makes_a_sidecar_that_can_be_read(self, words, keywords):
        self.assertNotIn("Warning", read_by_exiftool(format_xmp(Tags(words, words, tuple(keywords), words))))

    def test_empty_properties_are_not_written(self):
        self.assertNotIn(b"dc:", format_xmp(Tags(creator=" ")))
        self.assertFalse(Tags())

    def test_a_sidecar_lies_beside_its_clip_under_the_same_base_name(self):
        self.assertEqual(sidecar_path("DCIM/100SKERR/SKR_0001.DNG"), "DCIM/100SKERR/SKR_0001.xmp")
        self.assertEqual(sidecar_path("noending"), "noending.xmp")


class Joining(MadeCard):
    def parts(self) -> list[Path]:
        traps.add_split_recording(self.card, parts=3, start=START, limit=400_000)
        return sorted((self.card / "DCIM/100PETRL").iterdir())

    def seconds(self, path: Path) -> float:
        words = ["ffprobe", "-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0", str(path)]
        return float(subprocess.run(words, capture_output=True, check=True).stdout)

    def test_the_joined_file_holds_every_packet_and_the_parts_stay(self):
        parts = self.parts()
        before = [part.read_bytes() for part in parts]
        target = self.card / "it's one.MP4"
        join(parts, target)
        self.assertEqual(len(packets(target)[0]), sum(len(packets(part)[0]) for part in parts))
        self.assertAlmostEqual(self.seconds(target), sum(map(self.seconds, parts)), delta=0.2)
        self.assertEqual([part.read_bytes() for part in parts], before)
        self.assertEqual([file.name for file in self.card.iterdir() if file.is_file()], [target.name])

    def test_nothing_is_overwritten_and_nothing_half_done_is_left(self):
        parts = self.parts()
        target = self.card / "there.MP4"
        target.write_bytes(b"mine")
        with self.assertRaisesRegex(JoinFailed, "left alone"):
            join(parts, target)
        self.assertEqual(target.read_bytes(), b"mine")
        parts[1].write_bytes(b"not a movie at all")
        with self.assertRaises(JoinFailed):
            join(parts, self.card / "other.MP4")
        self.assertEqual({file.name for file in self.card.iterdir() if file.is_file()}, {"there.MP4"})

    def test_files_that_are_not_chapters_of_one_recording_are_refused(self):
        parts = self.parts()
        make.add_sound(self.card, day="DAY", first=1, count=1, start=START + timedelta(hours=1))
        sound = self.card / "DAY/T001.WAV"
        with self.assertRaises(JoinFailed):
            join([parts[0], sound], self.card / "mixed.MP4")
