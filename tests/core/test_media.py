"""What headers say, against general-purpose readers; and headers that lie."""

import io
import json
import random
import subprocess
import tempfile
import time
import tracemalloc
import wave
from datetime import UTC, datetime, timedelta, timezone
from fractions import Fraction
from pathlib import Path
from unittest import TestCase

import exifread
import pillow_heif
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from ruggedraft.core.cards.media import MediaFacts, MediaKind, read_media, read_preview
from ruggedraft.core.cards.media.timecode import timecode
from ruggedraft.core.sources import Entry, EntryKind, FolderSource, MemorySource, list_card
from ruggedraft.standins import card_maker as make
from ruggedraft.standins.card_maker import media, traps

from .made_card import START, MadeCard

MOMENT = datetime(2026, 5, 14, 9, 30, 7, tzinfo=UTC)


def read(name: str, content: bytes) -> MediaFacts:
    facts = read_media(MemorySource({name: content}), Entry(name, EntryKind.FILE, len(content)))
    assert facts is not None
    return facts


class Exif(TestCase):
    def test_values_agree_with_two_general_purpose_readers(self):
        """Pillow and exifread, both of them other code than ours."""
        made = {
            "a.JPG": media.jpeg("a", MOMENT, model="Tern", zone="+02:00"),
            "a.DNG": media.raw("a", MOMENT, model="Tern"),
        }
        for name, content in made.items():
            with self.subTest(name):
                facts = read(name, content)
                tags = exifread.process_file(io.BytesIO(content))
                picture = Image.open(io.BytesIO(content))
                exif = picture.getexif()
                self.assertEqual(facts.body, f"{exif[0x010F]} {exif[0x0110]}")
                self.assertEqual(facts.body, f"{tags['Image Make']} {tags['Image Model']}")
                stamp = str(tags.get("EXIF DateTimeOriginal", tags["Image DateTime"]))
                self.assertEqual(facts.clock.strftime("%Y:%m:%d %H:%M:%S"), stamp)
                self.assertEqual((facts.width, facts.height), picture.size)
        with_zone = read("a.JPG", made["a.JPG"])
        self.assertEqual(with_zone.clock.utcoffset(), timedelta(hours=2))
        self.assertEqual(
            with_zone.body_serial, str(exifread.process_file(io.BytesIO(made["a.JPG"]))["EXIF BodySerialNumber"])
        )
        self.assertIsNone(read("a.DNG", made["a.DNG"]).clock.tzinfo, "without a zone it is the camera's wall clock")

    def test_a_file_that_pillow_wrote_big_endian_or_rotated(self):
        for order in ("<", ">"):
            exif = Image.Exif()
            exif.endian = order
            exif[0x0110], exif[0x0112], exif[0x0132] = "Tern", 6, "2026:05:14 09:30:07"
            out = io.BytesIO()
            Image.new("RGB", (64, 48)).save(out, "JPEG", exif=exif)
            facts = read("x.jpg", out.getvalue())
            self.assertEqual((facts.body, facts.rotation, facts.width, facts.height), ("Tern", 90, 64, 48))
            self.assertEqual(facts.clock, MOMENT.replace(tzinfo=None))

    def test_the_lens_is_the_one_other_readers_find(self):
        """Exif 2.32 (CIPA DC-008) 4.6.5: LensModel, written by Pillow and read by exifread."""
        exif = Image.Exif()
        exif[0x0110] = "Tern"
        exif.get_ifd(0x8769)[0xA434] = "Fine 50mm f/1.4"
        out = io.BytesIO()
        Image.new("RGB", (64, 48)).save(out, "JPEG", exif=exif)
        facts = read("x.jpg", out.getvalue())
        self.assertEqual(facts.lens, str(exifread.process_file(io.BytesIO(out.getvalue()))["EXIF LensModel"]))
        self.assertEqual((facts.lens, facts.gear), ("Fine 50mm f/1.4", "tern fine 50mm f/1.4"))

    def test_a_heif_still_that_another_library_wrote_says_what_exiftool_reads(self):
        exif = Image.Exif()
        exif[0x010F], exif[0x0110], exif[0x0112] = "Lanternworks", "Tern", 6
        exif.get_ifd(0x8769)[0x9003] = "2026:05:14 09:30:07"
        exif.get_ifd(0x8769)[0xA434] = "Fine 50mm f/1.4"
        for words in ({"exif": exif.tobytes()}, {"exif": exif.tobytes(), "quality": 40}, {}):
            out = io.BytesIO()
            pillow_heif.from_pillow(Image.new("RGB", (640, 480))).save(out, **words)
            with tempfile.NamedTemporaryFile(suffix=".heic") as file:
                file.write(out.getvalue())
                file.flush()
                said = ["exiftool", "-j", "-n", "-ImageSize", "-Model", "-LensModel", "-DateTimeOriginal", file.name]
                (told,) = json.loads(subprocess.run(said, check=True, capture_output=True, text=True).stdout)
            for name in ("a.HEIC", "a.HIF"):
                facts = read(name, out.getvalue())
                self.assertEqual(f"{facts.width} {facts.height}", told["ImageSize"])
                self.assertEqual(facts.lens, told.get("LensModel", ""))
                self.assertTrue(facts.body.endswith(told.get("Model", "")))
                taken = facts.clock.strftime("%Y:%m:%d %H:%M:%S") if facts.clock else None
                self.assertEqual((taken, facts.note), (told.get("DateTimeOriginal"), ""))

    def test_a_heif_still_cut_off_or_scrambled_anywhere_is_a_note_and_never_an_error(self):
        exif = Image.Exif()
        exif[0x0110] = "Tern"
        out = io.BytesIO()
        pillow_heif.from_pillow(Image.new("RGB", (64, 64))).save(out, exif=exif.tobytes())
        whole, chance = out.getvalue(), random.Random(1)
        for n in range(400):
            content = bytearray(whole[: chance.randrange(1, len(whole))] if n % 2 else whole)
            for _ in range(chance.randrange(0, 6)):
                content[chance.randrange(len(content))] = chance.randrange(256)
            facts = read("a.HEIC", bytes(content))
            self.assertIsInstance(facts.note, str)

    def test_the_embedded_preview_is_the_one_other_readers_find(self):
        content = media.jpeg("a", MOMENT, model="Tern")
        entry, source = Entry("a.JPG", EntryKind.FILE, len(content)), MemorySource({"a.JPG": content})
        preview = read_preview(source, entry, read_media(source, entry))
        self.assertEqual(preview, exifread.process_file(io.BytesIO(content))["JPEGThumbnail"])
        self.assertEqual(Image.open(io.BytesIO(preview)).size, (160, 106))
        self.assertLess(source.served, 1, "read by place, not through")

    def test_a_jpeg_without_exif_still_has_a_size(self):
        out = io.BytesIO()
        Image.new("RGB", (40, 30)).save(out, "JPEG")
        self.assertEqual((read("x.jpg", out.getvalue()).width, read("x.jpg", out.getvalue()).clock), (40, None))


class AgainstFfprobe(MadeCard):
    """Durations, rates, sizes and timecodes as ffprobe (Debian's ffmpeg) tells them."""

    def _probe(self, content: bytes) -> dict:
        file = self.card / "probed"
        file.write_bytes(content)
        words = ["ffprobe", "-v", "error", "-of", "json", "-show_format", "-show_streams", str(file)]
        return json.loads(subprocess.run(words, capture_output=True, check=True).stdout)

    def _read(self, ending: str, content: bytes) -> MediaFacts:
        (self.card / f"c.{ending}").write_bytes(content)
        source = FolderSource(self.card)
        return next(read_media(source, e) for e in list_card(source).files if e.path.endswith(ending))

    def test_movies(self):
        cases = (
            ("mov", {"rate": "25", "timecode": "10:20:30:12"}),
            ("mov", {"rate": "50", "timecode": "23:59:59:49"}),
            ("mp4", {"rate": "30000/1001", "seconds": 2}),
            ("mp4", {"rate": "30000/1001", "timecode": "00:01:00;02"}),
            ("mp4", {"rate": "60000/1001", "timecode": "01:10:01;04"}),
            ("mxf", {"rate": "25", "timecode": "01:00:00:00"}),
            ("mts", {"rate": "25", "seconds": 2}),
        )
        for form, words in cases:
            with self.subTest(form, **words):
                content = media.movie(form, MOMENT, **words)
                facts, told = self._read(form, content), self._probe(content)
                picture = next(s for s in told["streams"] if s["codec_type"] == "video")
                self.assertAlmostEqual(facts.duration_s, float(told["format"]["duration"]), delta=0.03)
                self.assertEqual(Fraction(facts.rate), Fraction(picture["avg_frame_rate"]))
                self.assertEqual((facts.width, facts.height), (picture["width"], picture["height"]))
                self.assertEqual(facts.timecode, words.get("timecode", ""))
                tags = {k: v for s in (told["format"], *told["streams"]) for k, v in s.get("tags", {}).items()}
                self.assertEqual(facts.timecode, tags.get("timecode", ""))
                if form in ("mov", "mp4"):
                    self.assertEqual(facts.clock, datetime.fromisoformat(tags["creation_time"]))
                self.assertEqual(facts.note, "")

    def test_the_body_a_movie_names(self):
        self.assertEqual(self._read("mov", media.movie("mov", MOMENT, model="Halyard")).body, "Lanternworks Halyard")

    def test_the_first_frame_of_a_movie_of_jpegs_is_its_preview(self):
        content = media.movie("mov", MOMENT)
        entry, source = Entry("a.MOV", EntryKind.FILE, len(content)), MemorySource({"a.MOV": content})
        (self.card / "a.MOV").write_bytes(content)
        movie, first = str(self.card / "a.MOV"), str(self.card / "first.jpg")
        taken = ["-frames:v", "1", "-c", "copy", "-f", "image2", first]
        subprocess.run(["ffmpeg", "-v", "error", "-i", movie, *taken], check=True)
        preview = read_preview(source, entry, read_media(source, entry))
        self.assertEqual(preview, (self.card / "first.jpg").read_bytes(), "as ffmpeg takes it out")
        self.assertLess(source.served, 4, "read by place, not through")
        content = media.movie("mp4", MOMENT)
        self.assertIsNone(self._read("mp4", content).preview, "frames that lean on others are no pictures")

    def test_sound(self):
        content = media.wave(MOMENT, seconds=3, channels=4)
        facts, told = self._read("WAV", content), self._probe(content)
        stream = told["streams"][0]
        self.assertEqual((facts.channels, facts.sample_rate), (stream["channels"], int(stream["sample_rate"])))
        self.assertAlmostEqual(facts.duration_s, float(told["format"]["duration"]), places=6)
        tags = told["format"]["tags"]
        self.assertEqual(facts.sample_time, int(tags["time_reference"]))
        self.assertEqual(facts.clock.isoformat(" "), f"{tags['date']} {tags['creation_time']}")
        self.assertEqual(facts.body, tags["encoded_by"])

    def test_sound_that_pythons_own_library_wrote(self):
        out = io.BytesIO()
        with wave.open(out, "wb") as sound:
            sound.setparams((2, 3, 96_000, 0, "NONE", ""))
            sound.writeframes(bytes(6 * 96_000))
        facts = read("x.wav", out.getvalue())
        self.assertEqual((facts.duration_s, facts.channels, facts.sample_rate), (1.0, 2, 96_000))


class Timecode(TestCase):
    def test_drop_frame_skips_the_first_numbers_of_every_minute_but_each_tenth(self):
        """SMPTE ST 12-1 (from memory): 108,000 frames a nominal hour less 108 numbers that are left out."""
        self.assertEqual(timecode(1799, 30, drop=True), "00:00:59;29")
        self.assertEqual(timecode(1800, 30, drop=True), "00:01:00;02")
        self.assertEqual(timecode(17982, 30, drop=True), "00:10:00;00")
        self.assertEqual(timecode(107_892, 30, drop=True), "01:00:00;00")
        self.assertEqual(timecode(215_784, 60, drop=True), "01:00:00;00")
        self.assertEqual(timecode(90_000 * 24, 25), "00:00:00:00", "a day has 24 hours")


class Hostile(MadeCard):
    def test_a_playlist_says_nothing_of_the_file_that_it_names(self):
        with tempfile.TemporaryDirectory() as folder:
            home = Path(folder)
            (home / "other.ts").write_bytes(media.movie("mts", MOMENT, seconds=3))
            words = f"#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n{home / 'other.ts'}\n#EXT-X-ENDLIST\n"
            (home / "CLIP.MTS").write_text(words)
            entry = Entry("CLIP.MTS", EntryKind.FILE, len(words))
            facts = read_media(FolderSource(home), entry)
        self.assertEqual((facts.duration_s, facts.note), (None, "its header cannot be read"))

    def test_bombs_are_notes_and_are_cut_off_in_time_and_memory(self):
        traps.add_bombs(self.card, START)
        started, memory = time.monotonic(), tracemalloc.start()
        self.addCleanup(tracemalloc.stop)
        found = self.media()
        peak = tracemalloc.get_traced_memory()[1]
        self.assertEqual(len(found), len(traps.BOMBS), memory)
        noted = {Path(path).name for path, facts in found.items() if facts.note}
        self.assertEqual(noted, set(traps.BOMBS))
        self.assertLess(peak, 20_000_000)
        self.assertLess(time.monotonic() - started, 60, "a bound to hang on, not a measurement")

    def test_a_card_full_of_bombs_is_still_described_and_can_be_copied(self):
        traps.add_bombs(self.card, START)
        described = self.described()
        self.assertEqual(len(described.clips), len(traps.BOMBS))
        self.assertIn("They are copied as they are", self.findings("header")[0].sentence)

    def test_any_damage_to_a_real_file_gives_facts_or_a_note_and_never_an_error(self):
        real = {
            "a.JPG": media.jpeg("a", MOMENT, model="Tern", size=(64, 48)),
            "a.DNG": media.raw("a", MOMENT, model="Tern"),
            "a.MOV": media.movie("mov", MOMENT, size="64x48", timecode="01:00:00:00", model="Halyard"),
            "a.WAV": media.wave(MOMENT, seconds=0.01),
        }

        @settings(max_examples=150, deadline=None)
        @given(st.sampled_from(sorted(real)), st.integers(0, 2**32), st.integers(1, 12), st.booleans())
        def check(name, seed, flips, cut):
            rng, content = random.Random(seed), bytearray(real[name])
            for _ in range(flips):
                place = rng.randrange(min(len(content), 4000)) if rng.random() < 0.7 else rng.randrange(len(content))
                content[place] = rng.randrange(256)
            if cut:
                del content[rng.randrange(len(content)) :]
            facts = read(name, bytes(content))
            self.assertEqual(MediaFacts.from_data(json.loads(json.dumps(facts.as_data()))), facts)

        check()

    def test_an_unreadable_file_is_a_note_and_a_file_of_no_kind_is_nothing(self):
        card = MemorySource({"a.JPG": b"x" * 10, "b.TXT": b"x", "c.JPG": b""}, unreadable={"a.JPG"})
        entries = {path: Entry(path, EntryKind.FILE, len(content)) for path, content in card.files.items()}
        self.assertIn("could not be read", read_media(card, entries["a.JPG"]).note)
        self.assertIsNone(read_media(card, entries["b.TXT"]))
        self.assertEqual(read_media(card, entries["c.JPG"]), MediaFacts(MediaKind.STILL, note="it is empty"))

    def test_reading_headers_changes_nothing_on_the_card(self):
        make.add_m4root(self.card, count=1, start=START)
        before = [(e.path, e.size, e.modified_ns) for e in list_card(FolderSource(self.card)).entries]
        self.described()
        self.assertEqual([(e.path, e.size, e.modified_ns) for e in list_card(FolderSource(self.card)).entries], before)

    def test_zones_survive_the_ledger(self):
        facts = MediaFacts(
            MediaKind.STILL, clock=datetime(2026, 5, 14, tzinfo=timezone(timedelta(hours=-3))), preview=(4, 9)
        )
        self.assertEqual(MediaFacts.from_data(json.loads(json.dumps(facts.as_data()))), facts)
