"""Cards with real, small media: JPEG with EXIF, QuickTime video, WAV. The same words make the same bytes."""

import hashlib
import json
import os
import random
import subprocess
import wave
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from PIL import Image, ImageDraw

_EXIF = {"make": 0x010F, "model": 0x0110, "time": 0x0132}  # TIFF 6.0 tags; Exif 2.3, 4.6.4


@dataclass(frozen=True)
class CardSheet:
    """What a stand-in card is: its file-system serial, the label on its sticker, kind, capacity in bytes."""

    serial: str
    label: str
    kind: str
    capacity: int


def make_card(home: Path, sheet: CardSheet) -> Path:
    """An empty card; returns the folder that its files go into."""
    folder = home / "cards" / sheet.serial
    folder.mkdir(parents=True, exist_ok=True)
    told = {"label": sheet.label, "kind": sheet.kind, "capacity": sheet.capacity}
    folder.with_suffix(".json").write_text(json.dumps(told))
    return folder


def format_card(folder: Path) -> None:
    """What a camera does to a cleared card."""
    for file in sorted(folder.rglob("*"), reverse=True):
        file.rmdir() if file.is_dir() else file.unlink()


def add_stills(folder: Path, *, prefix: str, first: int, count: int, start: datetime, camera: str) -> None:
    """RAW plus JPEG pairs in a DCF tree, one a minute. `prefix` has four characters, as DCF asks."""
    tree = folder / "DCIM" / "100SKERR"
    tree.mkdir(parents=True, exist_ok=True)
    for n in range(count):
        number, moment = first + n, start + timedelta(minutes=n)
        image = _picture(f"{prefix}{number:04d}", size=(1200, 800))
        exif = Image.Exif()
        exif[_EXIF["make"]], exif[_EXIF["model"]] = "Lanternworks", camera
        exif[_EXIF["time"]] = moment.strftime("%Y:%m:%d %H:%M:%S")
        jpeg, raw = tree / f"{prefix}{number:04d}.JPG", tree / f"{prefix}{number:04d}.DNG"
        image.save(jpeg, quality=90, exif=exif)
        image.resize((600, 400)).save(raw, format="TIFF", exif=exif)
        for file in (jpeg, raw):
            _set_time(file, moment)


def add_clips(
    folder: Path, *, reel: str, first: int, count: int, start: datetime, seconds: int = 2, fine: bool = True
) -> None:
    """QuickTime clips of a moving test picture. `fine` ones are large, for runs that can be watched."""
    tree = folder / reel
    tree.mkdir(parents=True, exist_ok=True)
    size, quality = ("1280x720", "9") if fine else ("320x180", "8")
    for n in range(count):
        moment = start + timedelta(minutes=7 * n)
        clip = tree / f"{reel}_C{first + n:03d}.MOV"
        picture = f"testsrc2=size={size}:rate=25:duration={seconds},noise=alls=18:all_seed={first + n}"
        words = ["-f", "lavfi", "-i", picture, "-f", "lavfi", "-i", f"sine=frequency={220 + n}:duration={seconds}"]
        stamp = ["-metadata", f"creation_time={moment.isoformat()}", "-metadata", f"reel_name={reel}"]
        codec = ["-c:v", "mjpeg", "-q:v", quality, "-threads", "1", "-c:a", "pcm_s16le", "-fflags", "+bitexact"]
        _ffmpeg(*words, *codec, "-flags:v", "+bitexact", "-flags:a", "+bitexact", *stamp, str(clip))
        _set_time(clip, moment)


def add_sound(folder: Path, *, day: str, first: int, count: int, start: datetime, seconds: int = 4) -> None:
    """Two-track takes of a sound recorder: 48 kHz, 16 bit."""
    tree = folder / day
    tree.mkdir(parents=True, exist_ok=True)
    for n in range(count):
        moment, take = start + timedelta(minutes=9 * n), tree / f"T{first + n:03d}.WAV"
        with wave.open(str(take), "wb") as sound:
            sound.setnchannels(2)
            sound.setsampwidth(2)
            sound.setframerate(48_000)
            sound.writeframes(random.Random(first + n).randbytes(48_000 * 4 * seconds))  # noqa: S311  room tone
        _set_time(take, moment)


def add_file(folder: Path, path: str, content: bytes, moment: datetime) -> Path:
    file = folder / path
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_bytes(content)
    _set_time(file, moment)
    return file


def _picture(words: str, *, size: tuple[int, int]) -> Image.Image:
    seed = int.from_bytes(hashlib.sha256(words.encode()).digest()[:4], "big")
    rng = random.Random(seed)  # noqa: S311  a picture, not a secret
    image = Image.new("RGB", size, _shade(rng))
    draw = ImageDraw.Draw(image)
    for _ in range(160):
        x, y = rng.randrange(size[0]), rng.randrange(size[1])
        draw.ellipse((x, y, x + rng.randrange(20, 200), y + rng.randrange(10, 90)), fill=_shade(rng))
    draw.text((20, 20), words, fill="white")
    return image


def _shade(rng: random.Random) -> tuple[int, int, int]:
    return rng.randrange(30, 120), rng.randrange(60, 150), rng.randrange(90, 190)


def _ffmpeg(*words: str) -> None:
    subprocess.run(["ffmpeg", "-nostdin", "-loglevel", "error", "-y", *words], check=True)


def _set_time(file: Path, moment: datetime) -> None:
    os.utime(file, (moment.timestamp(), moment.timestamp()))
