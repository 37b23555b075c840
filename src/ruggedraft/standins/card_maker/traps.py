"""What goes wrong with real cards, one function each."""

import os
import shutil
from datetime import datetime, timedelta
from pathlib import Path

from . import media
from .card import add_file
from .layouts import add_bpav, add_stills

HOSTILE_NAMES: tuple[bytes, ...] = (
    b"line\nbreak.JPG",
    b"-rf.JPG",
    b"trailing space .JPG ",
    b"trailing dot.JPG.",
    b"l" * 251 + b".JPG",
    "caf\u00e9.JPG".encode(),
    "cafe\u0301.JPG".encode(),
    b"Case.JPG",
    b"CASE.JPG",
    "right\u202eto left.JPG".encode(),
    b"latin-\xe9.JPG",
    b'quote"back\\slash.JPG',
    "emoji \U0001f6a4.JPG".encode(),
)


def add_hostile_names(folder: Path, start: datetime) -> None:
    tree = os.fsencode(folder / "DCIM" / "100SKERR")
    os.makedirs(tree, exist_ok=True)  # noqa: PTH103  bytes, on purpose
    for n, name in enumerate(HOSTILE_NAMES):
        content = media.jpeg(f"hostile {n}", start, model="Tern", size=(120, 80))
        path = os.path.join(tree, name)  # noqa: PTH118
        with open(path, "wb") as file:  # noqa: PTH123
            file.write(content)
        os.utime(path, (start.timestamp() + n, start.timestamp() + n))


def add_links_and_pipes(folder: Path) -> None:
    """Links that lead out, nowhere, and round in a circle; a pipe that never answers."""
    (folder / "out").symlink_to("/etc")
    (folder / "nowhere").symlink_to("missing")
    (folder / "round").symlink_to("round")
    os.mkfifo(folder / "pipe")


def add_sparse_and_empty(folder: Path, moment: datetime) -> None:
    """A file of 5 GiB that occupies nothing, and one of no bytes."""
    sparse = add_file(folder, "DCIM/100SKERR/SPRS0001.MP4", b"", moment)
    os.truncate(sparse, 5 * 2**30)
    os.utime(sparse, (moment.timestamp(), moment.timestamp()))
    add_file(folder, "DCIM/100SKERR/ZERO0001.JPG", b"", moment)


def add_split_recording(folder: Path, *, parts: int, start: datetime, limit: int, first: int = 11) -> None:
    """One recording that the file system made into files of at most `limit` bytes: each a movie of its own.

    Each file is padded to the limit with a free box, which ISO/IEC 14496-12 lets a reader skip.
    """
    moment = start
    for n in range(parts):
        seconds = 2.0 if n < parts - 1 else 1.0
        clip = media.movie("mp4", moment.replace(microsecond=0), seconds=seconds, seed=first + n)
        if n < parts - 1:
            room = limit - len(clip)
            clip += room.to_bytes(4, "big") + b"free" + bytes(room - 8)
        moment += timedelta(seconds=seconds)
        add_file(folder, f"DCIM/100PETRL/PTRL{first + n:04d}.MP4", clip, moment)


def half_format(folder: Path) -> None:
    """A format that was broken off: folders and indexes are there, recordings are not."""
    for file in folder.rglob("*"):
        if file.suffix.upper() in (".MP4", ".MXF", ".MOV", ".MTS", ".JPG", ".DNG", ".WAV"):
            file.unlink()


def lose_an_indexed_clip(folder: Path, start: datetime) -> None:
    """The index names three clips; the middle one's folder is gone."""
    add_bpav(folder, count=3, start=start)
    shutil.rmtree(folder / "BPAV/CLPR/KEEL_0002_01")


def add_stray_clip(folder: Path, start: datetime) -> None:
    """A clip that lies among the others and that the index does not name."""
    add_file(folder, "BPAV/CLPR/STRAY_0001/STRAY_0001.MP4", media.movie("mp4", start, seed=77), start)


def mix_owners(folder: Path, start: datetime) -> None:
    """Somebody else's pictures under ours."""
    add_stills(folder, prefix="SKR_", first=1, count=4, start=start)
    add_stills(
        folder, prefix="GAN_", first=700, count=2, start=start - timedelta(hours=3), camera="Gannet", tree="101GANNT"
    )


def add_many_stills(folder: Path, *, count: int, start: datetime) -> None:
    """Small pictures by the thousand, each with its own time, number and EXIF; 999 a folder."""
    first = media.jpeg("many", start, model="Tern", size=(320, 214))
    stamp = start.strftime("%Y:%m:%d %H:%M:%S").encode()
    for n in range(count):
        moment = start + timedelta(seconds=2 * n)
        content = first.replace(stamp, moment.strftime("%Y:%m:%d %H:%M:%S").encode())
        add_file(folder, f"DCIM/{100 + n // 999}SKERR/SKR_{n % 9999 + 1:04d}.JPG", content, moment)


_EXIF = b"\xff\xd8\xff\xe1\x00\x22Exif\0\0II*\0\x08\0\0\0"
BOMBS: dict[str, bytes] = {
    "LOOP0001.JPG": _EXIF + b"\x01\0\x69\x87\x04\0\x01\0\0\0\x08\0\0\0\x08\0\0\0",
    "HUGE0001.JPG": _EXIF + b"\xff\xff\x0f\x01\x02\0\xff\xff\xff\xff\x08\0\0\0\x00\0\0\0",
    "NOTA0001.JPG": b"PK\x03\x04 this is no picture",
    "BOXS0001.MP4": b"\0\0\0\x08free" * 200_000,
    "LIES0001.MP4": b"\0\0\0\x10ftypisom\0\0\0\0\0\x0f\xff\xffmoov\0\0\0\x08trak",
    "CUTS0001.MP4": b"\0\0\0\x10ftypisom\0\0\0\0\x7f\xff\xff\xffmdat" + bytes(500),
    "RIFF0001.WAV": b"RIFF\xff\xff\xff\xffWAVE" + b"junk\0\0\0\0" * 50_000,
    "DEEP0001.MXF": b"\x06\x0e\x2b\x34\x02\x05\x01\x01\x0d\x01\x02\x01\x01\x02\x04\0"
    + b"\x87\xff\xff\xff\xff\xff\xff\xff" * 4000,
}
"""Headers made to exhaust whoever believes them."""


def add_bombs(folder: Path, moment: datetime) -> None:
    for name, content in BOMBS.items():
        add_file(folder, f"DCIM/100SKERR/{name}", content, moment)
