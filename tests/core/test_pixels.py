"""A window on a recording holds its own pixels: against Pillow's, and against frames as ffmpeg counts them."""

import io
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from PIL import Image, ImageChops

from ruggedraft.core.cards.media import MediaFacts, MediaKind
from ruggedraft.core.pictures import CannotBeShown, Place, pixels

STILL, VIDEO = MediaFacts(MediaKind.STILL), MediaFacts(MediaKind.VIDEO, rate="30000/1001")
ORIENTATION = 0x0112
"""The tag of Exif 2.32 that says which way up a picture is; 6: its first row is at the right."""


class Pixels(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def window(self, path: Path, facts: MediaFacts, *place: float) -> Image.Image:
        with path.open("rb") as file:
            return Image.open(io.BytesIO(pixels(file.fileno(), path.name, facts, Place(*place))))

    def assert_same(self, one: Image.Image, other: Image.Image):
        self.assertEqual(one.size, other.size)
        self.assertIsNone(ImageChops.difference(one.convert("RGB"), other.convert("RGB")).getbbox())

    def noise(self, name: str, **words) -> Path:
        path = self.folder / name
        Image.effect_noise((1600, 1200), 90).convert("RGB").save(path, **words)
        return path

    def test_of_a_still_at_each_edge_and_in_the_middle(self):
        for name in ("a.png", "a.jpg", "a.tif"):
            path = self.noise(name)
            own = Image.open(path).convert("RGB")
            for (x, y), (left, top) in {
                (0.5, 0.5): (320, 330), (0, 0): (0, 0), (1, 1): (640, 660), (0.4, 0.6): (160, 450),
            }.items():  # fmt: skip
                with self.subTest(name, x=x, y=y):
                    self.assert_same(self.window(path, STILL, x, y), own.crop((left, top, left + 960, top + 540)))

    def test_of_a_still_that_was_taken_upright(self):
        exif = Image.Exif()
        exif[ORIENTATION] = 6
        path = self.noise("a.jpg", exif=exif)
        upright = Image.open(path).convert("RGB").rotate(-90, expand=True)
        self.assertEqual(upright.size, (1200, 1600))
        self.assert_same(self.window(path, STILL, 0, 0), upright.crop((0, 0, 960, 540)))

    def test_one_that_is_smaller_is_seen_wholly_and_as_it_is(self):
        path = self.folder / "a.png"
        Image.effect_noise((300, 200), 90).save(path)
        self.assert_same(self.window(path, STILL, 0.9, 0.1), Image.open(path))

    def test_of_the_frame_that_is_meant(self):
        """Lossless (FFV1), so that frames are told apart by their pixels; numbered by ffmpeg's `select`."""
        path = self.folder / "a.mkv"
        source = "testsrc2=s=1280x720:r=30000/1001:d=2"
        subprocess.run(
            ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", source, "-pix_fmt", "bgr0", "-c:v", "ffv1", str(path)],
            check=True,
        )
        for frame in (0, 1, 29, 30, 58):
            with self.subTest(frame):
                shown = self.window(path, VIDEO, 0.5, 0.5, (frame + 0.5) * 1001 / 30000)
                self.assert_same(shown, self.frame(path, frame).crop((160, 90, 1120, 630)))

    def frame(self, path: Path, number: int) -> Image.Image:
        words = [
            "-i",
            str(path),
            "-vf",
            f"select=eq(n\\,{number})",
            "-frames:v",
            "1",
            "-f",
            "image2pipe",
            "-c:v",
            "png",
            "-",
        ]
        return Image.open(
            io.BytesIO(subprocess.run(["ffmpeg", "-v", "error", *words], check=True, capture_output=True).stdout)
        )

    def test_what_cannot_be_shown_is_said(self):
        path = self.folder / "a.jpg"
        path.write_bytes(self.noise("b.jpg").read_bytes()[:4000])
        for name, facts in {"a.jpg": STILL, "a.mov": VIDEO, "a.wav": MediaFacts(MediaKind.SOUND)}.items():
            with self.subTest(name), self.assertRaises(CannotBeShown):
                self.window(path, facts, 0.5, 0.5)
