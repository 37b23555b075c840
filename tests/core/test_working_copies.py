"""Working copies match their recordings frame for frame, as ffprobe and ffmpeg themselves see them."""

import json
import subprocess
from pathlib import Path
from unittest import TestCase

from ruggedraft.core.cards.media import MediaFacts, read_media
from ruggedraft.core.pictures import CannotBeShown, GaveWay
from ruggedraft.core.sources import Entry, EntryKind, MemorySource
from ruggedraft.core.working import Codec, Recipe, make_working_copy, why_not_the_same
from tests.recorder import InFolder

PICTURES = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=30000/1001:d=1")
SOUNDS = ("-f", "lavfi", "-i", "sine=300:d=1", "-f", "lavfi", "-i", "anoisesrc=d=1:c=pink")
START = "10:00:59;25"
FONT = Path(__file__).parents[2] / "web/node_modules/@fontsource/atkinson-hyperlegible/files"


class WorkingCopies(InFolder, TestCase):
    def source(self, *words: str, name: str = "A012C003.mov") -> Path:
        usual = (*PICTURES, *SOUNDS, "-map", "0", "-map", "1", "-map", "2", "-timecode", START, "-c:v", "mjpeg")
        return self.recorded(name, *(words or (*usual, "-c:a", "pcm_s16le")))

    def facts(self, path: Path) -> MediaFacts:
        content = path.read_bytes()
        found = read_media(MemorySource({path.name: content}), Entry(path.name, EntryKind.FILE, len(content)))
        self.assertIsNotNone(found)
        return found

    def made(self, path: Path, recipe: Recipe, **words) -> tuple[Path, str]:
        """The file that was made, and why it is not the same recording."""
        facts = words.pop("facts", None) or self.facts(path)
        target = self.folder / f"made.{recipe.ending}"
        how = {
            "font": FONT / "atkinson-hyperlegible-latin-400-normal.woff2", "most": 10**9,
            "on_second": lambda _: None, "has_to_wait": lambda: False,
        } | words  # fmt: skip
        with path.open("rb") as source, target.open("w+b") as made:
            make_working_copy(source.fileno(), facts, recipe, path.stem, made.fileno(), **how)
            return target, why_not_the_same(source.fileno(), made.fileno(), facts, lambda: False)

    @staticmethod
    def probed(path: Path) -> dict:
        words = ["ffprobe", "-v", "error", "-count_frames", "-show_streams", "-show_format", "-of", "json", str(path)]
        return json.loads(subprocess.run(words, check=True, capture_output=True).stdout)

    def test_every_recipe_keeps_frames_length_rate_timecode_and_all_sound(self):
        source = self.source()
        was = self.probed(source)["streams"]
        for codec, called in ((Codec.PRORES_PROXY, "prores"), (Codec.PRORES, "prores"), (Codec.DNXHR_LB, "dnxhd"),
                              (Codec.DNXHR_SQ, "dnxhd"), (Codec.H264, "h264")):  # fmt: skip
            made, why = self.made(source, Recipe(codec))
            self.assertEqual(why, "", codec)
            found = self.probed(made)["streams"]
            pictures, one, other = found[:3]
            self.assertEqual(pictures["codec_name"], called)
            for column in ("nb_read_frames", "r_frame_rate", "width", "height"):
                self.assertEqual(pictures[column], was[0][column], (codec, column))
            self.assertAlmostEqual(float(pictures["duration"]), float(was[0]["duration"]), places=2)
            self.assertEqual([one["codec_type"], other["codec_type"]], ["audio", "audio"])
            self.assertIn(START, [stream.get("tags", {}).get("timecode") for stream in found], codec)

    def test_pictures_are_made_smaller_and_never_larger(self):
        source = self.source()
        self.assertEqual(self.probed(self.made(source, Recipe(Codec.H264, 720))[0])["streams"][0]["height"], 180)
        small = self.made(self.source(*PICTURES[:3], "testsrc2=s=1280x720:r=25:d=1"), Recipe(Codec.DNXHR_LB, 540))[0]
        stream = self.probed(small)["streams"][0]
        self.assertEqual((stream["width"], stream["height"]), (960, 540))

    def test_name_and_timecode_are_burnt_in_where_they_are_asked_for(self):
        """Compared by Pillow: the foot of the picture changes, the rest stays as it is without them."""
        from PIL import Image, ImageChops

        source = self.source()
        frames = []
        for burn_in in (False, True):
            made, why = self.made(source, Recipe(Codec.H264, 0, burn_in))
            self.assertEqual(why, "")
            png = self.folder / f"{burn_in}.png"
            subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", made, "-frames:v", "1", str(png)], check=True)
            frames.append(Image.open(png).convert("L"))
        changed = ImageChops.difference(*frames)
        foot, rest = changed.crop((0, 158, 320, 180)), changed.crop((0, 0, 320, 150))
        self.assertGreater(foot.getextrema()[1], 150)
        self.assertLess(rest.getextrema()[1], 60)

    def test_a_name_cannot_say_anything_to_the_program(self):
        source = self.source()
        hostile = self.folder / "a':text=%{pts},drawtext=x;[0:v]\\.mov"
        source.rename(hostile)
        facts = MediaFacts(self.facts_of_renamed(hostile).kind, rate="30000/1001", timecode=START)
        self.assertEqual(self.made(hostile, Recipe(Codec.H264, 0, True), facts=facts)[1], "")

    def facts_of_renamed(self, path: Path) -> MediaFacts:
        content = path.read_bytes()
        found = read_media(MemorySource({"a.mov": content}), Entry("a.mov", EntryKind.FILE, len(content)))
        self.assertIsNotNone(found)
        return found

    def test_what_is_not_the_same_is_said(self):
        source, facts = self.source(), self.facts(self.source())
        short = (*PICTURES[:3], "testsrc2=s=320x180:r=30000/1001:d=0.5", *SOUNDS, "-map", "0", "-map", "1", "-map", "2")
        lying = {
            "frames": (*short, "-timecode", START),
            "sound": (*PICTURES, *SOUNDS[:4], "-map", "0", "-map", "1", "-timecode", START),
            "timecode": (*PICTURES, *SOUNDS, "-map", "0", "-map", "1", "-map", "2", "-timecode", "10:00:00;00"),
        }
        for words, how in lying.items():
            other = self.recorded("other.mov", *how, "-c:v", "mjpeg", "-c:a", "pcm_s16le")
            with source.open("rb") as one, other.open("rb") as made:
                self.assertIn(words, why_not_the_same(one.fileno(), made.fileno(), facts, lambda: False))
        broken = self.recorded("broken.mp4", *PICTURES, "-c:v", "libx264", "-timecode", START)
        alike = self.recorded("alike.mov", *PICTURES, "-c:v", "mjpeg", "-timecode", START)
        data = bytearray(broken.read_bytes())
        middle = data.index(b"mdat") + len(data) // 3
        data[middle : middle + 4000] = bytes(4000)
        broken.write_bytes(data)
        with alike.open("rb") as one, broken.open("rb") as made:
            self.assertIn("does not decode", why_not_the_same(one.fileno(), made.fileno(), facts, lambda: False))

    def test_what_cannot_work_is_a_sentence_and_what_comes_first_goes_first(self):
        source = self.source()
        tiny = self.source("-f", "lavfi", "-i", "testsrc2=s=64x48:r=25:d=1", "-c:v", "mjpeg", name="tiny.mov")
        with self.assertRaises(CannotBeShown):
            self.made(tiny, Recipe(Codec.DNXHR_LB))
        with self.assertRaises(CannotBeShown):
            self.made(source, Recipe(Codec.PRORES), most=1000)
        cut = self.folder / "cut.mov"
        cut.write_bytes(source.read_bytes()[:3000])
        with self.assertRaises(CannotBeShown):
            self.made(cut, Recipe(Codec.H264), facts=self.facts(source))
        with self.assertRaises(GaveWay), self.asks_at_once():
            self.made(source, Recipe(Codec.PRORES), has_to_wait=lambda: True)

    @staticmethod
    def asks_at_once():
        from unittest.mock import patch

        return patch("ruggedraft.core.pictures.bounds._ASK_S", 0)

    def test_how_far_it_is_is_told(self):
        told: list[float] = []
        self.made(self.source(), Recipe(Codec.H264), on_second=told.append)
        self.assertEqual(told, sorted(told))
        self.assertAlmostEqual(told[-1], 1.0, delta=0.2)
