"""Pictures of recordings: against what Pillow and ffprobe say themselves, and of files made to break decoders."""

import io
import os
import random
import signal
import subprocess
import tempfile
import time
import wave
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import pillow_heif
from PIL import Image, ImageChops, ImageStat

from ruggedraft.core.cards.media import MediaFacts, MediaKind, read_media
from ruggedraft.core.pictures import STRIP_OF, Made, PictureKind, StillMaker, Wave, bounds, make_pictures
from ruggedraft.core.pictures import stills as stills_room
from ruggedraft.core.sources import Entry, EntryKind, MemorySource
from ruggedraft.standins.card_maker import media

MOMENT = datetime(2026, 5, 14, 9, 30, 7, tzinfo=UTC)
SMALL, LARGE, STRIP = PictureKind.SMALL, PictureKind.LARGE, PictureKind.STRIP


@contextmanager
def opened(content: bytes) -> Iterator[int]:
    with tempfile.TemporaryFile() as file:
        file.write(content)
        file.flush()
        yield file.fileno()


def made_of(name: str, content: bytes, facts: MediaFacts | None = None) -> Made:
    facts = facts or read_media(MemorySource({name: content}), Entry(name, EntryKind.FILE, len(content)))
    with opened(content) as descriptor:
        return make_pictures(descriptor, name, facts, _stills)


_stills = StillMaker()


def tearDownModule():
    _stills.__exit__(None, None, None)


def image(data: bytes) -> Image.Image:
    return Image.open(io.BytesIO(data)).convert("RGB")


def off_by(one: Image.Image, other: Image.Image) -> float:
    """How far two pictures are apart in the mean, of 255."""
    return max(ImageStat.Stat(ImageChops.difference(one, other.resize(one.size))).mean)


class Stills(TestCase):
    def as_files(self) -> dict[str, bytes]:
        picture = image(media.jpeg("mudlark", MOMENT, model="Tern", size=(2400, 1600)))
        files = {"a.JPG": media.jpeg("mudlark", MOMENT, model="Tern", size=(2400, 1600))}
        for name, form, mode in (("a.PNG", "PNG", "RGB"), ("b.PNG", "PNG", "RGBA"), ("a.TIF", "TIFF", "RGB"),
                                 ("b.TIF", "TIFF", "CMYK"), ("c.TIF", "TIFF", "L")):  # fmt: skip
            out = io.BytesIO()
            picture.convert(mode).save(out, form)
            files[name] = out.getvalue()
        return files

    def test_each_form_agrees_with_what_pillow_reads(self):
        for name, content in self.as_files().items():
            with self.subTest(name):
                made, own = made_of(name, content, MediaFacts(MediaKind.STILL)), image(content)
                self.assertEqual(made.note, "")
                self.assertEqual(image(made.pictures[SMALL]).size, (480, 320))
                self.assertEqual(image(made.pictures[LARGE]).size, (1920, 1280))
                for kind in (SMALL, LARGE):
                    self.assertLess(off_by(image(made.pictures[kind]), own), 3, kind)

    def test_high_efficiency_stills_are_read(self):
        """HEIF (ISO/IEC 23008-12): against the picture that was encoded."""
        picture = image(media.jpeg("mudlark", MOMENT, model="Tern", size=(2400, 1600)))
        for name in ("a.HEIC", "a.HIF"):
            made = made_of(name, heif(picture), MediaFacts(MediaKind.STILL))
            self.assertEqual((made.note, image(made.pictures[LARGE]).size), ("", (1920, 1280)))
            self.assertLess(off_by(image(made.pictures[LARGE]), picture), 3)

    def test_sixteen_bits_are_not_white(self):
        out = io.BytesIO()
        Image.linear_gradient("L").convert("I").point(lambda value: value * 256).convert("I;16").save(out, "TIFF")
        made = made_of("a.TIF", out.getvalue(), MediaFacts(MediaKind.STILL))
        self.assertLess(off_by(image(made.pictures[LARGE]), Image.linear_gradient("L").convert("RGB")), 3)

    def test_it_stands_the_right_way_up(self):
        """Exif orientation 6 (CIPA DC-008, table 6): the first row is the right-hand side."""
        picture, exif, out = image(media.jpeg("a", MOMENT, model="Tern")), Image.Exif(), io.BytesIO()
        exif[0x0112] = 6
        picture.save(out, "JPEG", exif=exif)
        for name, content in {"a.JPG": out.getvalue(), "a.HEIC": heif(picture, exif=exif.tobytes())}.items():
            with self.subTest(name):
                shown = image(made_of(name, content, MediaFacts(MediaKind.STILL)).pictures[LARGE])
                self.assertEqual(shown.size, (picture.height, picture.width))
                self.assertLess(off_by(shown, picture.rotate(-90, expand=True)), 4)

    def test_it_is_never_larger_than_it_was_taken(self):
        out = io.BytesIO()
        image(media.jpeg("a", MOMENT, model="Tern")).resize((300, 200)).save(out, "JPEG")
        made = made_of("a.JPG", out.getvalue())
        self.assertEqual({image(data).size for data in made.pictures.values()}, {(300, 200)})

    def test_a_raw_file_is_seen_by_what_it_carries(self):
        inner = media.jpeg("mudlark", MOMENT, model="Tern")
        content = bytes(5000) + inner + bytes(5000)
        made = made_of("a.NEF", content, MediaFacts(MediaKind.STILL, preview=(5000, len(inner))))
        self.assertLess(off_by(image(made.pictures[SMALL]), image(inner)), 3)
        self.assertEqual(made_of("a.NEF", content, MediaFacts(MediaKind.STILL)).note, "it cannot be decoded")

    def test_small_ones_are_small(self):
        """100,000 of them are to lie in 2 GB."""
        sizes = [len(made_of("a.JPG", media.jpeg(words, MOMENT, model="Tern", size=(3000, 2000))).pictures[SMALL])
                 for words in ("mudlark", "hen", "barge", "tide")]  # fmt: skip
        self.assertLess(sum(sizes) / len(sizes), 20_000)


class Moving(TestCase):
    def test_frames_are_those_that_the_recording_has(self):
        for form in ("mov", "mp4", "mxf", "mts"):
            with self.subTest(form):
                content = media.movie(form, MOMENT, seconds=3, rate="25")
                made = made_of(f"a.{form}", content, MediaFacts(MediaKind.VIDEO, duration_s=3, channels=1))
                self.assertEqual((made.note, set(made.pictures)), ("", set(PictureKind) - {PictureKind.LIGHT}))
                self.assertEqual(image(made.pictures[LARGE]).size, (320, 180))
                self.assertEqual(image(made.pictures[SMALL]).size, (320, 180))
                shown = image(made.pictures[STRIP])
                self.assertEqual((shown.width % STRIP_OF, shown.height), (0, 120))
                self.strip_is(content, shown)
                self.assertLess(off_by(image(made.pictures[LARGE]), self.frame(content, 0)), 12)

    def strip_is(self, content: bytes, shown: Image.Image) -> None:
        """Each frame is nearer to the one of its own moment than to any other that was looked for."""
        wide, some = shown.width // STRIP_OF, (0, 5, 11)
        own = [self.frame(content, n * 3 / STRIP_OF).resize((wide, shown.height)) for n in some]
        for at, n in enumerate(some):
            part = shown.crop((n * wide, 0, (n + 1) * wide, shown.height))
            apart = [off_by(part, one) for one in own]
            self.assertEqual(apart.index(min(apart)), at, apart)

    def frame(self, content: bytes, at: float) -> Image.Image:
        """As ffmpeg gives it when it decodes all that comes before, instead of going there."""
        with tempfile.NamedTemporaryFile() as file:
            file.write(content)
            file.flush()
            chosen = f"select=gte(t-{at}\\,-0.001)"
            words = ["-i", file.name, "-vf", chosen, "-frames:v", "1", "-f", "image2pipe", "-c:v", "png", "-"]
            return image(subprocess.run(["ffmpeg", "-v", "error", *words], capture_output=True, check=True).stdout)

    def test_without_a_length_there_is_no_strip_and_that_is_said(self):
        made = made_of("a.MOV", media.movie("mov", MOMENT), MediaFacts(MediaKind.VIDEO))
        self.assertEqual(set(made.pictures), {SMALL, LARGE})
        self.assertEqual(made.note, "it does not say how long it is")


class Sound(TestCase):
    def test_how_far_each_channel_swings_is_what_its_samples_say(self):
        out = io.BytesIO()
        with wave.open(out, "wb") as file:
            file.setparams((3, 2, 48000, 0, "NONE", ""))
            levels = (0, 8192, 32767)
            frame = b"".join(level.to_bytes(2, "little", signed=True) for level in levels)
            file.writeframes(frame * 48000 * 2)
        made = made_of("a.WAV", out.getvalue())
        told = Wave.from_json(made.pictures[PictureKind.WAVE])
        self.assertEqual(len(told.channels), 3)
        for channel, level in zip(told.channels, levels, strict=True):
            self.assertEqual(len(channel), 20)
            for swing in channel[1:-1]:  # where it is made slower, its ends ring
                self.assertAlmostEqual(swing, level / 32768, delta=0.02)

    def test_every_track_counts(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "a.mov"
            tones = [word for tone in (300, 500, 700) for word in ("-f", "lavfi", "-i", f"sine={tone}:d=1")]
            maps = [word for n in range(3) for word in ("-map", str(n))]
            subprocess.run(["ffmpeg", "-v", "error", *tones, *maps, "-c:a", "pcm_s16le", str(path)], check=True)
            made = made_of("a.MOV", path.read_bytes(), MediaFacts(MediaKind.SOUND, channels=3))
        self.assertEqual(len(Wave.from_json(made.pictures[PictureKind.WAVE]).channels), 3)


class Hostile(TestCase):
    """Broken in every way: a note on the file, and the next one is shown."""

    def corpus(self) -> Iterator[tuple[str, bytes, MediaFacts]]:
        still, moving = MediaFacts(MediaKind.STILL), MediaFacts(MediaKind.VIDEO, duration_s=3, channels=1)
        jpeg = media.jpeg("a", MOMENT, model="Tern")
        movie = media.movie("mov", MOMENT, seconds=3)
        yield "empty.JPG", b"", still
        yield "empty.MOV", b"", moving
        yield "noise.JPG", random.Random(1).randbytes(100_000), still
        yield "noise.MOV", random.Random(2).randbytes(100_000), moving
        yield "head.JPG", jpeg[:2], still
        yield "bomb.PNG", _png_of(60_000, 60_000), still
        yield "half.HEIC", heif(image(jpeg))[:-2000], still
        yield "bomb.HEIC", _heif_of(60_000, 60_000), still
        yield "head.HEIC", heif(image(jpeg))[:40], still
        yield "no-index.MOV", movie[: len(movie) // 2], moving
        yield "listed.WAV", b"RIFF" + b"\xff" * 60, MediaFacts(MediaKind.SOUND, channels=65_535)
        yield "out-of-it.NEF", jpeg, MediaFacts(MediaKind.STILL, preview=(1 << 40, 1 << 40))
        yield "playlist.MOV", b"ffconcat version 1.0\nfile '/etc/hostname'\n", moving
        yield "page.JPG", b"%!PS\n%%BoundingBox: 0 0 8 8\nshowpage\n", still
        yield "stream.MOV", b"#EXTM3U\n#EXTINF:1,\nfile:///etc/hostname\n#EXT-X-ENDLIST\n", moving

    def test_each_is_a_note_and_the_next_one_is_shown(self):
        good = media.jpeg("a", MOMENT, model="Tern")
        with StillMaker() as stills:
            for name, content, facts in self.corpus():
                with self.subTest(name), opened(content) as descriptor, opened(good) as next_one:
                    made = make_pictures(descriptor, name, facts, stills)
                    self.assertEqual(dict(made.pictures), {})
                    self.assertRegex(made.note, "^(its sound: )?(it|what|reading) ")
                    self.assertEqual(make_pictures(next_one, "g.JPG", MediaFacts(MediaKind.STILL), stills).note, "")

    def test_what_names_another_file_shows_nothing_of_it(self):
        """Lists of files and playlists, as ffmpeg reads them when it is not told otherwise."""
        with tempfile.TemporaryDirectory() as folder:
            other = Path(folder) / "other.ts"
            other.write_bytes(media.movie("mts", MOMENT, seconds=3))
            lists = {
                "playlist.MOV": f"#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\nfile://{other}\n#EXT-X-ENDLIST\n",
                "beside.MOV": f"#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n{other}\n#EXT-X-ENDLIST\n",
                "concat.MOV": f"ffconcat version 1.0\nfile '{other}'\n",
            }
            for name, content in lists.items():
                with self.subTest(name):
                    made = made_of(name, content.encode(), MediaFacts(MediaKind.VIDEO, duration_s=3, channels=1))
                    self.assertEqual(dict(made.pictures), {})

    def test_no_secret_of_ours_is_told_to_what_reads_strangers(self):
        with patch.dict(os.environ, {"RAFT_SECRET_KEY": "only-ours"}):
            said = bounds.run(["env"], 0, 5).decode()
        self.assertNotIn("only-ours", said)
        self.assertIn("PATH=", said)

    def test_half_a_still_is_not_shown_as_if_it_were_whole(self):
        jpeg = media.jpeg("a", MOMENT, model="Tern")
        made = made_of("a.JPG", jpeg[: len(jpeg) // 2], MediaFacts(MediaKind.STILL))
        self.assertEqual((dict(made.pictures), made.note), ({}, "it cannot be decoded"))

    def test_what_never_ends_is_cut_off_and_the_next_one_is_shown(self):
        good = media.jpeg("a", MOMENT, model="Tern")
        with StillMaker(seconds=5) as stills, opened(good) as descriptor:
            with patch.object(stills_room, "ASKED") as asked:
                asked.pack.return_value = b"half"  # the helper takes it for the end, and ends
                self.assertIn("cut off", stills.show(descriptor).note)
            self.assertEqual(stills.show(descriptor).note, "")
            os.kill(stills._helper.pid, signal.SIGSTOP)
            self.assertIn("leads on", stills.show(descriptor).note)
            self.assertEqual(stills.show(descriptor).note, "")
        with self.assertRaisesRegex(bounds.CannotBeShown, "cut off"):
            begun = time.monotonic()
            bounds.run(["sleep", "30"], 0, 0.3)
        self.assertLess(time.monotonic() - begun, 10)

    def test_a_helper_that_died_is_noticed_and_replaced(self):
        good = media.jpeg("a", MOMENT, model="Tern")
        with StillMaker() as stills, opened(good) as descriptor:
            self.assertEqual(stills.show(descriptor).note, "")
            os.kill(stills._helper.pid, 9)
            self.assertIn("cut off", stills.show(descriptor).note)
            self.assertEqual(stills.show(descriptor).note, "")

    def test_more_than_there_is_room_for_is_refused(self):
        with self.assertRaisesRegex(bounds.CannotBeShown, "too large"):
            bounds.run(["cat", "/dev/zero"], 0, 20)


def heif(picture: Image.Image, **words) -> bytes:
    out = io.BytesIO()
    pillow_heif.from_pillow(picture).save(out, quality=90, **words)
    return out.getvalue()


def _heif_of(width: int, height: int) -> bytes:
    """A few bytes that say they are billions of pixels: what a picture measures stands after 'ispe' and four more."""
    data = bytearray(heif(Image.new("RGB", (64, 64))))
    at = data.index(b"ispe") + 8
    data[at : at + 8] = width.to_bytes(4, "big") + height.to_bytes(4, "big")
    return bytes(data)


def _png_of(width: int, height: int) -> bytes:
    """A few bytes that say they are billions of pixels."""
    out = io.BytesIO()
    Image.new("1", (8, 8)).save(out, "PNG")
    data = bytearray(out.getvalue())
    data[16:24] = width.to_bytes(4, "big") + height.to_bytes(4, "big")
    data[29:33] = zlib.crc32(data[12:29]).to_bytes(4, "big")
    return bytes(data)
