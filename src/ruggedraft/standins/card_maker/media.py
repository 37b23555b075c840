"""Real, small media. The same arguments give the same bytes; each is made once per process."""

import array
import functools
import io
import math
import random
import struct
import subprocess
import tempfile
from datetime import datetime
from pathlib import Path

from PIL import Image

from .exif_writer import exif_block, jpeg_with_exif
from .scenes import draw

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
    picture = _picture(words, size, moment)
    thumbnail = _jpeg(picture.resize((160, 160 * size[1] // size[0])), 70)
    block = exif_block(moment, make=MAKER, model=model, serial=serial, zone=zone, thumbnail=thumbnail)
    return jpeg_with_exif(_jpeg(picture, 90), block)


def raw(words: str, moment: datetime, *, model: str) -> bytes:
    """A picture as a TIFF with EXIF, as many cameras build their RAW files."""
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0132] = MAKER, model, moment.strftime("%Y:%m:%d %H:%M:%S")
    out = io.BytesIO()
    _picture(words, (1200, 800), moment).resize((600, 400)).save(out, format="TIFF", exif=exif)
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
    """A slow pan over a scene, grainy, with a voice-like tone. form: mov, mp4, mxf, mts or lrv."""
    codecs = {
        "mov": ["-c:v", "mjpeg", "-q:v", quality, "-c:a", "pcm_s16le", "-f", "mov"],
        "mp4": ["-c:v", "mpeg4", "-q:v", quality, "-c:a", "aac", "-f", "mp4"],
        "lrv": ["-c:v", "mpeg4", "-q:v", "20", "-c:a", "aac", "-f", "mp4"],
        "mxf": ["-c:v", "mpeg2video", "-q:v", quality, "-c:a", "pcm_s16le", "-ar", "48000", "-f", "mxf"],
        "mts": ["-c:v", "mpeg2video", "-q:v", quality, "-c:a", "ac3", "-f", "mpegts", "-mpegts_m2ts_mode", "1"],
    }
    wide, high = map(int, size.split("x"))
    pan = f"crop={wide}:{high}:(iw-{wide})*t/{seconds}:0,noise=alls=18:all_seed={seed}"
    told = {"creation_time": moment.isoformat(), "reel_name": reel, "make": MAKER if model else "", "model": model}
    stamps = [word for name, value in told.items() if value for word in ("-metadata", f"{name}={value}")]
    exact = ["-threads", "1", "-fflags", "+bitexact", "-flags:v", "+bitexact", "-flags:a", "+bitexact"]
    code = ["-timecode", timecode] if timecode else []
    with tempfile.TemporaryDirectory() as folder:
        made, still = Path(folder) / "made", Path(folder) / "still.png"
        _picture(f"clip {seed}", (wide * 5 // 4 // 2 * 2, high), moment).save(still)
        words = ["-loop", "1", "-framerate", rate, "-t", str(seconds), "-i", str(still)]
        words += ["-f", "lavfi", "-i", _spoken(seed, seconds), "-vf", pan]
        _ffmpeg(*words, *codecs[form], *exact, *stamps, *code, str(made))
        return made.read_bytes()


def _spoken(seed: int, seconds: float) -> str:
    """A source for ffmpeg: a buzz that swells and falls like syllables."""
    tone = 110 + seed % 90
    buzz = "+".join(f"{0.3 / n:.3f}*sin(2*PI*{tone * n}*t)" for n in (1, 2, 3, 5, 8))
    return f"aevalsrc='({buzz})*abs(sin(2*PI*1.9*t+{seed % 7}))*(0.5+0.5*sin(2*PI*0.4*t))':d={seconds}:s=44100"


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
    """A Broadcast WAV, 48 kHz, 16 bit (EBU Tech 3285): somebody who talks in a room, and when it began."""
    rate = 48_000
    data = _talk(seed, channels, int(rate * seconds))
    since_midnight = (moment.hour * 3600 + moment.minute * 60 + moment.second) * rate
    origin = struct.pack(
        "<256s32s32s10s8sQH", b"", recorder.encode(), b"", moment.strftime("%Y-%m-%d").encode(),
        moment.strftime("%H:%M:%S").encode(), since_midnight, 1,
    ).ljust(602, b"\0")  # fmt: skip
    form = struct.pack("<HHIIHH", 1, channels, rate, rate * 2 * channels, 2 * channels, 16)
    chunks = b"".join(_chunk(name, body) for name, body in ((b"bext", origin), (b"fmt ", form), (b"data", data)))
    return b"RIFF" + struct.pack("<I", 4 + len(chunks)) + b"WAVE" + chunks


@functools.lru_cache(maxsize=32)
def _talk(seed: int, channels: int, frames: int) -> bytes:
    """Samples of 16 bits at 48 kHz, the same in every channel: a second of speech-like sound, over and over."""
    rng = random.Random(seed)  # noqa: S311  room tone
    pitch, second = 2 * math.pi * (95 + seed % 110) / 48_000, min(frames, 48_000)
    voice = array.array("h")
    for n in range(second):
        syllable = abs(math.sin(2 * math.pi * 3.1 * n / 48_000 + seed))
        buzz = math.sin(pitch * n) + 0.6 * math.sin(2 * pitch * n) + 0.45 * math.sin(7 * pitch * n)
        voice.append(round(5000 * syllable * buzz) + rng.randrange(-300, 300))
    said = (voice * (frames // max(1, second) + 1))[:frames]
    samples = array.array("h", bytes(2 * channels * frames))
    for channel in range(channels):
        samples[channel::channels] = said
    return samples.tobytes()


def _chunk(name: bytes, body: bytes) -> bytes:
    return name + struct.pack("<I", len(body)) + body + b"\0" * (len(body) % 2)


@functools.lru_cache(maxsize=64)
def _picture(words: str, size: tuple[int, int], moment: datetime | None = None) -> Image.Image:
    return draw(words, size, moment)


def _jpeg(image: Image.Image, quality: int) -> bytes:
    out = io.BytesIO()
    image.save(out, format="JPEG", quality=quality)
    return out.getvalue()


def _ffmpeg(*words: str) -> None:
    subprocess.run(["ffmpeg", "-nostdin", "-loglevel", "error", "-y", *words], check=True)
