"""Light copies for looking: against what ffprobe says of them, and against the recordings frame by frame."""

import json
import subprocess
import time
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.cards.media import MediaFacts, MediaKind, read_media
from ruggedraft.core.pictures import CannotBeShown, GaveWay, light_copy
from ruggedraft.core.sources import Entry, EntryKind, MemorySource
from tests.recorder import InFolder

PICTURES = ("-f", "lavfi", "-i", "testsrc2=s=1280x720:r=24000/1001:d=3")
TWO_TONES = ("-f", "lavfi", "-i", "sine=300:d=3", "-f", "lavfi", "-i", "sine=3000:d=3")


class LightCopies(InFolder, TestCase):
    def light(self, path: Path, **words) -> Path:
        content = path.read_bytes()
        facts = read_media(MemorySource({path.name: content}), Entry(path.name, EntryKind.FILE, len(content)))
        made = path.with_suffix(".light.mp4")
        with path.open("rb") as file:
            made.write_bytes(light_copy(file.fileno(), facts, **words))
        return made

    def told(self, path: Path) -> dict:
        words = ["-v", "error", "-count_frames", "-show_streams", "-show_format", "-of", "json", str(path)]
        return json.loads(subprocess.run(["ffprobe", *words], check=True, capture_output=True).stdout)

    def test_pictures_and_all_sound_at_the_same_rate_and_length(self):
        path = self.recorded("a.mov", *PICTURES, *TWO_TONES, "-map", "0", "-map", "1", "-map", "2", "-c:v", "prores_ks",
                             "-c:a", "pcm_s16le")  # fmt: skip
        made = self.light(path)
        pictures, sound = self.told(made)["streams"]
        self.assertEqual((pictures["codec_name"], pictures["width"], pictures["height"]), ("h264", 960, 540))
        self.assertEqual((pictures["r_frame_rate"], pictures["nb_read_frames"]), ("24000/1001", "72"))
        self.assertEqual((sound["codec_name"], sound["channels"]), ("aac", 2))
        self.assertAlmostEqual(float(self.told(made)["format"]["duration"]), 3.0, delta=0.1)
        self.assertLess(made.stat().st_size, path.stat().st_size // 4)
        for tone in (300, 3000):
            self.assertGreater(self.loudness(made, tone), -30, f"{tone} Hz is to be heard")
        self.assertLess(self.loudness(made, 1000), -40)
        self.assertGreater(self.likeness(path, made), 0.9)

    def loudness(self, path: Path, tone: int) -> float:
        """In dB, of a narrow band about a tone."""
        band = f"bandpass=f={tone}:w=50,bandpass=f={tone}:w=50,volumedetect"
        words = ["-nostats", "-i", str(path), "-af", band, "-vn", "-f", "null", "-"]
        said = subprocess.run(["ffmpeg", *words], check=True, capture_output=True, text=True).stderr
        return float(said.split("mean_volume: ")[1].split(" dB")[0])

    def likeness(self, path: Path, made: Path) -> float:
        """Of all frames, as ffmpeg's SSIM filter tells (Wang and others, 2004): 1.0 is the same."""
        graph = "[0:v]scale=960:540,format=yuv420p[a];[1:v]format=yuv420p[b];[a][b]ssim"
        words = ["-nostats", "-i", str(path), "-i", str(made), "-filter_complex", graph, "-an", "-f", "null", "-"]
        said = subprocess.run(["ffmpeg", *words], check=True, capture_output=True, text=True).stderr
        return float(said.split("All:")[1].split()[0])

    def test_sound_alone(self):
        made = self.light(self.recorded("a.wav", "-f", "lavfi", "-i", "sine=300:d=3", "-c:a", "pcm_s24le"))
        (sound,) = self.told(made)["streams"]
        self.assertEqual((sound["codec_type"], sound["codec_name"]), ("audio", "aac"))

    def test_one_that_is_small_upright_or_silent_stays_what_it_is(self):
        made = self.light(self.recorded("a.mp4", "-f", "lavfi", "-i", "testsrc2=s=180x320:r=25:d=1", "-c:v", "libx264"))
        (pictures,) = self.told(made)["streams"]
        self.assertEqual((pictures["width"], pictures["height"]), (180, 320))

    def test_what_is_broken_is_no_light_copy(self):
        for name, content in (("a.mov", b"none"), ("a.wav", b"RIFF")):
            path = self.folder / name
            path.write_bytes(content)
            kind = MediaKind.VIDEO if name == "a.mov" else MediaKind.SOUND
            with path.open("rb") as file, self.assertRaises(CannotBeShown):
                light_copy(file.fileno(), MediaFacts(kind))

    def test_it_gives_way_in_the_middle_and_leaves_nothing(self):
        path = self.recorded("a.mp4", "-f", "lavfi", "-i", "testsrc2=s=1920x1080:r=25:d=8", "-c:v", "libx264",
                             "-preset", "ultrafast")  # fmt: skip
        began = time.monotonic()
        with patch("ruggedraft.core.pictures.bounds._ASK_S", 0.05), self.assertRaises(GaveWay):
            self.light(path, has_to_wait=lambda: time.monotonic() - began > 0.2)
        self.assertFalse(path.with_suffix(".light.mp4").exists())
