"""Real, small media. The same arguments give the same bytes; each is made once per process."""

import functools
import hashlib
import io
import random
import struct
import subprocess
import tempfile
from datetime import datetime
from pathlib import Path

from PIL import Image, ImageDraw

from .exif_writer import exif_block, jpeg_with_exif

MAKER = "Lanternworks"


def jpeg(
    words: str,
    moment: datetime,
    *,
    model: str,
    size: tuple[int, int] = (1200, 800),
    serial: str = "2100417",
    zone: str = "",
) -> bytes:
    """A JPEG with EXIF and an embedded thumbnail. `moment` is written as the camera's wall clock."""
    thumbnail = _jpeg(_picture(words, size).resize((160, 160 * size[1] // size[0])), 70)
    block = exif_block(moment, make=MAKER, model=model, serial=serial, zone=zone, thumbnail=thumbnail)
    return jpeg_with_exif(_jpeg(_picture(words, size), 90), block)


def raw(words: str, moment: datetime, *, model: str) -> bytes:
    """A picture as a TIFF with EXIF, as many cameras build their RAW files."""
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0132] = MAKER, model, moment.strftime("%Y:%m:%d %H:%M:%S")
    out = io.BytesIO()
    _picture(words, (1200, 800)).resize((600, 400)).save(out, format="TIFF", exif=exif)
    return out.getvalue()


def thumbnail(words: str, size: tuple[int, int] = (160, 90)) -> bytes:
    return _jpeg(_picture(words, (640, 360)).resize(size), 70)


def bitmap(words: str) -> bytes:
    out = io.BytesIO()
    _picture(words, (80, 60)).save(out, format="BMP")
    return out.getvalue()


@functools.lru_cache(maxsize=200)
def movie(
    form: str, moment: datetime, *, seconds: float = 1, size: str = "320x180", rate: str = "25", seed: int = 1,
    timecode: str = "", quality: str = "8", model: str = "", reel: str = "",
) -> bytes:  # fmt: skip
    """A moving test picture with a tone. form: mov, mp4, mxf, mts or lrv."""
    codecs = {
        "mov": ["-c:v", "mjpeg", "-q:v", quality, "-c:a", "pcm_s16le", "-f", "mov"],
        "mp4": ["-c:v", "mpeg4", "-q:v", quality, "-c:a", "aac", "-f", "mp4"],
        "lrv": ["-c:v", "mpeg4", "-q:v", "20", "-c:a", "aac", "-f", "mp4"],
        "mxf": ["-c:v", "mpeg2video", "-q:v", quality, "-c:a", "pcm_s16le", "-ar", "48000", "-f", "mxf"],
        "mts": ["-c:v", "mpeg2video", "-q:v", quality, "-c:a", "ac3", "-f", "mpegts", "-mpegts_m2ts_mode", "1"],
    }
    picture = f"testsrc2=size={size}:rate={rate}:duration={seconds},noise=alls=18:all_seed={seed}"
    words = ["-f", "lavfi", "-i", picture, "-f", "lavfi", "-i", f"sine=frequency={220 + seed}:duration={seconds}"]
    told = {"creation_time": moment.isoformat(), "reel_name": reel, "make": MAKER if model else "", "model": model}
    stamps = [word for name, value in told.items() if value for word in ("-metadata", f"{name}={value}")]
    exact = ["-threads", "1", "-fflags", "+bitexact", "-flags:v", "+bitexact", "-flags:a", "+bitexact"]
    code = ["-timecode", timecode] if timecode else []
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "made"
        _ffmpeg(*words, *codecs[form], *exact, *stamps, *code, str(made))
        return made.read_bytes()


@functools.lru_cache(maxsize=50)
def sound_mxf(seconds: float, tone: int) -> bytes:
    """One track of sound alone, as the layouts that keep picture and sound apart have it."""
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "made"
        tone_words = ["-f", "lavfi", "-i", f"sine=frequency={tone}:duration={seconds}:sample_rate=48000"]
        _ffmpeg(
            *tone_words,
            "-c:a",
            "pcm_s16le",
            "-fflags",
            "+bitexact",
            "-flags:a",
            "+bitexact",
            "-f",
            "mxf_opatom",
            str(made),
        )
        return made.read_bytes()


def wave(
    moment: datetime, *, seconds: float = 1, channels: int = 2, seed: int = 1, recorder: str = "Hearken 8"
) -> bytes:
    """A Broadcast WAV, 48 kHz, 16 bit (EBU Tech 3285): room tone, and when it began."""
    rate = 48_000
    data = random.Random(seed).randbytes(2 * channels * int(rate * seconds))  # noqa: S311  room tone
    since_midnight = (moment.hour * 3600 + moment.minute * 60 + moment.second) * rate
    origin = struct.pack(
        "<256s32s32s10s8sQH", b"", recorder.encode(), b"", moment.strftime("%Y-%m-%d").encode(),
        moment.strftime("%H:%M:%S").encode(), since_midnight, 1,
    ).ljust(602, b"\0")  # fmt: skip
    form = struct.pack("<HHIIHH", 1, channels, rate, rate * 2 * channels, 2 * channels, 16)
    chunks = b"".join(_chunk(name, body) for name, body in ((b"bext", origin), (b"fmt ", form), (b"data", data)))
    return b"RIFF" + struct.pack("<I", 4 + len(chunks)) + b"WAVE" + chunks


def _chunk(name: bytes, body: bytes) -> bytes:
    return name + struct.pack("<I", len(body)) + body + b"\0" * (len(body) % 2)


@functools.lru_cache(maxsize=64)
def _picture(words: str, size: tuple[int, int]) -> Image.Image:
    seed = int.from_bytes(hashlib.sha256(words.encode()).digest()[:4], "big")
    rng = random.Random(seed)  # noqa: S311  a picture, not a secret
    image = Image.new("RGB", size, _shade(rng))
    draw = ImageDraw.Draw(image)
    for _ in range(160):
        x, y = rng.randrange(size[0]), rng.randrange(size[1])
        draw.ellipse((x, y, x + rng.randrange(20, 200), y + rng.randrange(10, 90)), fill=_shade(rng))
    draw.text((20, 20), words, fill="white")
    return image


def _jpeg(image: Image.Image, quality: int) -> bytes:
    out = io.BytesIO()
    image.save(out, format="JPEG", quality=quality)
    return out.getvalue()


def _shade(rng: random.Random) -> tuple[int, int, int]:
    return rng.randrange(30, 120), rng.randrange(60, 150), rng.randrange(90, 190)


def _ffmpeg(*words: str) -> None:
    subprocess.run(["ffmpeg", "-nostdin", "-loglevel", "error", "-y", *words], check=True)
