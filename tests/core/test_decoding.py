"""Whether recordings decode: broken in known places, which ffprobe's own list of packets tells."""

import json
import subprocess
import time
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.cards.media import is_timecode, timecode_after
from ruggedraft.core.cards.media.timecode import frame_number, timecode
from ruggedraft.core.pictures import Decoded, GaveWay, decode
from tests.recorder import InFolder

PICTURES = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=25:d=4")
SOUND = ("-f", "lavfi", "-i", "sine=440:d=4")


class Decoding(InFolder, TestCase):
    def decoded(self, path: Path, duration_s: float | None = 4.0, **words) -> Decoded:
        with path.open("rb") as file:
            return decode(file.fileno(), duration_s, **words)

    def packets(self, path: Path, stream: str) -> list[dict[str, str]]:
        words = ["-select_streams", stream, "-show_packets", "-of", "json", "-v", "error", str(path)]
        told = subprocess.run(["ffprobe", *words], check=True, capture_output=True)
        return json.loads(told.stdout)["packets"]

    def broken_at(self, path: Path, packet: dict[str, str]) -> None:
        """A stretch in the middle of what one packet holds is no picture any more."""
        at = int(packet["pos"]) + int(packet["size"]) // 3
        with path.open("r+b") as file:
            file.seek(at)
            file.write(b"\xff\xd9" + b"\x5a" * (int(packet["size"]) // 3))

    def test_what_is_whole_decodes_in_every_format_that_is_recorded(self):
        for name, *words in (
            ("a.mp4", *PICTURES, *SOUND, "-c:v", "libx264", "-bf", "2", "-c:a", "aac"),
            ("a.mov", *PICTURES, *SOUND, "-c:v", "prores_ks", "-c:a", "pcm_s24le", "-timecode", "10:00:00:00"),
            ("b.mov", *PICTURES, "-c:v", "dnxhd", "-profile:v", "dnxhr_lb", "-pix_fmt", "yuv422p"),
            ("a.mxf", *PICTURES, "-c:v", "mpeg2video", "-b:v", "4M"),
            ("a.avi", *PICTURES, "-c:v", "mjpeg"),
            ("a.wav", *SOUND, "-c:a", "pcm_s24le"),
            ("a.mts", *PICTURES, *SOUND, "-c:v", "libx264", "-c:a", "ac3"),
        ):
            with self.subTest(name):
                path = self.recorded(name, *words)
                found = self.decoded(path)
                self.assertTrue(found.sound, found)
                if name != "a.wav":
                    self.assertGreaterEqual(found.frames, 100)

    def test_a_broken_frame_is_found_at_its_own_timecode(self):
        for name, *words in (
            ("a.avi", *PICTURES, "-c:v", "mjpeg"),
            ("a.mov", *PICTURES, "-c:v", "prores_ks"),
            ("a.mxf", *PICTURES, "-c:v", "mpeg2video", "-g", "1", "-b:v", "8M"),
        ):
            with self.subTest(name):
                path = self.recorded(name, *words)
                packet = self.packets(path, "v")[61]
                self.broken_at(path, packet)
                found = self.decoded(path)
                self.assertEqual(found.note, "")
                self.assertIn(float(packet["pts_time"]), [one.at_s for one in found.breaks])
                at = timecode_after("10:00:00:00", "25/1", found.breaks[0].at_s or 0)
                self.assertEqual(at, "10:00:02:11")

    def test_a_break_in_the_sound_is_of_its_track(self):
        path = self.recorded("a.mp4", *PICTURES, *SOUND, "-c:v", "libx264", "-c:a", "aac")
        self.broken_at(path, self.packets(path, "a")[80])
        found = self.decoded(path)
        self.assertEqual({one.track for one in found.breaks}, {1})

    def test_one_that_ends_before_its_header_says_is_told_where(self):
        path = self.recorded("a.mp4", *PICTURES, "-c:v", "libx264", "-g", "5", "-movflags", "+faststart")
        whole = path.read_bytes()
        path.write_bytes(whole[: len(whole) * 6 // 10])
        found = self.decoded(path)
        self.assertIn("this track ends here, and its header says 4.00 seconds", [one.said for one in found.breaks])
        self.assertLess(found.reached_s, 3.9)

    def test_sound_that_ends_before_the_pictures_is_told_where(self):
        path = self.recorded(
            "a.mov", *PICTURES, "-f", "lavfi", "-i", "sine=440:d=2", "-c:v", "mjpeg", "-c:a", "pcm_s16le"
        )
        (found,) = self.decoded(path).breaks
        self.assertEqual((found.track, round(found.at_s or 0, 1)), (1, 2.0))

    def test_a_track_that_holds_nothing_is_not_passed_over(self):
        """The table of its samples says that there are none ('stsz', ISO/IEC 14496-12; its place from memory)."""
        path = self.recorded("a.mp4", *PICTURES, *SOUND, "-c:v", "libx264", "-c:a", "aac")
        data = bytearray(path.read_bytes())
        at = data.rindex(b"stsz") + 12
        data[at : at + 4] = bytes(4)
        path.write_bytes(data)
        found = self.decoded(path)
        self.assertEqual((found.sound, found.note), (False, "track 2 holds nothing"))

    def test_what_is_not_recognised_is_not_called_broken(self):
        for content in (b"\0" * 100_000, b"none of our business " * 500):
            path = self.folder / "a.mov"
            path.write_bytes(content)
            found = self.decoded(path)
            self.assertEqual(found.in_all, 0)
            self.assertIn("not recognised here", found.note)

    def test_what_cannot_be_opened_is_broken_and_says_so(self):
        path = self.recorded("a.mov", *PICTURES, "-c:v", "prores_ks")
        path.write_bytes(path.read_bytes()[:40_000])  # its table of contents stood at its end
        found = self.decoded(path)
        self.assertFalse(found.sound)
        self.assertEqual([one.said for one in found.breaks], ["moov atom not found"])

    def test_what_nothing_here_decodes_is_not_called_broken(self):
        path = self.recorded("a.mov", *PICTURES, "-c:v", "prores_ks")
        path.write_bytes(path.read_bytes().replace(b"apch", b"zzzz"))
        found = self.decoded(path)
        self.assertEqual((found.in_all, found.note), (0, "nothing here decodes pictures of its kind"))
        other = self.recorded("a.nut", *PICTURES, "-c:v", "mjpeg")
        found = self.decoded(other)
        self.assertEqual((found.in_all, found.note), (0, "nothing here reads recordings of its format"))

    def test_one_that_takes_too_long_is_cut_off_and_nothing_is_said_of_the_rest(self):
        path = self.recorded("a.mp4", "-f", "lavfi", "-i", "testsrc2=s=1920x1080:r=25:d=8", "-c:v", "libx264",
                             "-preset", "ultrafast")  # fmt: skip
        found = self.decoded(path, 8.0, seconds=0.5)
        self.assertEqual((found.in_all, found.sound), (0, False))
        self.assertIn("took too much", found.note)

    def test_it_gives_way_in_the_middle(self):
        path = self.recorded("a.mp4", "-f", "lavfi", "-i", "testsrc2=s=1920x1080:r=25:d=8", "-c:v", "libx264",
                             "-preset", "ultrafast")  # fmt: skip
        began = time.monotonic()
        with patch("ruggedraft.core.pictures.bounds._ASK_S", 0.05), self.assertRaises(GaveWay):
            self.decoded(path, 8.0, has_to_wait=lambda: time.monotonic() - began > 0.2)

    def test_other_files_that_one_names_are_not_read(self):
        self.recorded("b.avi", *PICTURES, "-c:v", "mjpeg")
        playlist = self.folder / "a.mts"
        playlist.write_text(f"ffconcat version 1.0\nfile {self.folder}/b.avi\n")
        self.assertEqual(self.decoded(playlist).frames, 0)


class Timecodes(TestCase):
    """SMPTE ST 12-1 from memory: 17,982 numbers in ten minutes where two are dropped; one a frame without."""

    def test_numbers_come_back(self):
        for per_s, drop in ((24, False), (25, False), (30, True), (60, True), (50, False)):
            for number in (0, 1, per_s * 60 - 1, per_s * 60, 17_981, 17_982, 107_892, 2_000_000):
                words = timecode(number, per_s, drop=drop)
                self.assertTrue(is_timecode(words))
                self.assertEqual(frame_number(words, per_s), number % _a_day(per_s, drop=drop), words)

    def test_known_ones(self):
        self.assertEqual(timecode_after("00:00:00;00", "30000/1001", 17_982 * 1001 / 30_000), "00:10:00;00")
        self.assertEqual(timecode_after("23:59:59:24", "25/1", 0.04), "00:00:00:00")
        self.assertEqual(timecode_after("", "25/1", 2.0), "")
        self.assertEqual(timecode_after("10:00:00:00", "0/0", 2.0), "")
        self.assertIsNone(frame_number("00:01:00;01", 30), "a number that is left out")
        self.assertEqual(frame_number("00:10:00;00", 30), 17_982)


def _a_day(per_s: int, *, drop: bool) -> int:
    return 24 * 3600 * per_s - (2 * round(per_s / 30) * (24 * 60 - 24 * 6) if drop else 0)
