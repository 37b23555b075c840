"""Every card layout with real media in it, as the cameras of the scenario would write them. Invented camera names."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from pathlib import Path

from . import media
from .card import add_file

TERN, HALYARD, PETREL, LIMPET = "Tern", "Halyard", "Petrel 2", "Limpet"


def add_stills(
    folder: Path, *, prefix: str, first: int, count: int, start: datetime, camera: str = TERN,
    tree: str = "100SKERR", kinds: Iterable[str] = ("JPG", "DNG"), apart: timedelta = timedelta(minutes=1),
    zone: str = "",
) -> None:  # fmt: skip
    """RAW plus JPEG pairs in a DCF tree. `prefix` has four characters, as DCF asks; numbers go on past 9999 at 0001."""
    for n in range(count):
        number, moment = (first + n - 1) % 9999 + 1, start + n * apart
        name = f"{prefix}{number:04d}"
        if "JPG" in kinds:
            add_file(folder, f"DCIM/{tree}/{name}.JPG", media.jpeg(name, moment, model=camera, zone=zone), moment)
        if "DNG" in kinds:
            add_file(folder, f"DCIM/{tree}/{name}.DNG", media.raw(name, moment, model=camera), moment)


def add_clips(
    folder: Path, *, reel: str, first: int, count: int, start: datetime, seconds: int = 2, fine: bool = True
) -> None:
    """QuickTime clips in a reel folder. `fine` ones are large, for runs that can be watched."""
    size, quality = ("1280x720", "9") if fine else ("320x180", "8")
    for n in range(count):
        moment = start + timedelta(minutes=7 * n)
        clip = media.movie(
            "mov", moment, seconds=seconds, size=size, quality=quality, seed=first + n, model=HALYARD, reel=reel,
            timecode=moment.strftime("%H:%M:%S:00"),
        )  # fmt: skip
        add_file(folder, f"{reel}/{reel}_C{first + n:03d}.MOV", clip, moment + timedelta(seconds=seconds))


def add_sound(
    folder: Path, *, day: str, first: int, count: int, start: datetime, seconds: int = 4, tracks: int = 0
) -> None:
    """Takes of a sound recorder: one file of two tracks, or with `tracks` a file for each."""
    for n in range(count):
        moment = start + timedelta(minutes=9 * n)
        closed = moment + timedelta(seconds=seconds)
        if not tracks:
            add_file(folder, f"{day}/T{first + n:03d}.WAV", media.wave(moment, seconds=seconds, seed=first + n), closed)
        for track in range(1, tracks + 1):
            take = media.wave(moment, seconds=seconds, channels=1, seed=100 * track + first + n)
            add_file(folder, f"{day}/T{first + n:03d}_{track}.WAV", take, closed)
    add_file(folder, f"{day}/REPORT.CSV", b"take,note\r\n", start)


def add_action_clips(
    folder: Path,
    *,
    first: int,
    count: int,
    start: datetime,
    seconds: float = 1,
    tree: str = "100LIMPT",
    prefix: str = "LMPT",
) -> None:
    """Clips of an action camera or drone: video with a small proxy and a thumbnail, in a DCF tree."""
    for n in range(count):
        moment, name = start + timedelta(minutes=3 * n), f"{prefix}{first + n:04d}"
        closed = moment + timedelta(seconds=seconds)
        add_file(folder, f"DCIM/{tree}/{name}.MP4", media.movie("mp4", moment, seconds=seconds, seed=first + n), closed)
        proxy = media.movie("lrv", moment, seconds=seconds, size="160x90", seed=first + n)
        add_file(folder, f"DCIM/{tree}/{name}.LRV", proxy, closed)
        add_file(folder, f"DCIM/{tree}/{name}.THM", media.thumbnail(name), closed)


def add_rig_clips(
    folder: Path, *, shots: Iterable[tuple[datetime, float]], first: int = 1, prefix: str = "LMPT"
) -> None:
    """One camera's clips of what its rig recorded: when each began by this camera's clock, and its seconds."""
    for n, (moment, seconds) in enumerate(shots):
        clip = media.movie("mp4", moment, seconds=seconds, size="160x90", seed=first + n)
        name = f"DCIM/100LIMPT/{prefix}{first + n:04d}"
        closed = moment + timedelta(seconds=seconds)
        add_file(folder, f"{name}.MP4", clip, closed)
        add_file(folder, f"{name}.THM", media.thumbnail(f"{prefix}{first + n:04d}"), closed)


def add_avchd(folder: Path, *, count: int, start: datetime) -> None:
    """Numbered streams with a description each, and a playlist that names them all."""
    root = "PRIVATE/AVCHD/BDMV"
    for n in range(count):
        moment = start + timedelta(minutes=5 * n)
        add_file(
            folder, f"{root}/STREAM/{n:05d}.MTS", media.movie("mts", moment, seed=n), moment + timedelta(seconds=1)
        )
        add_file(folder, f"{root}/CLIPINF/{n:05d}.CPI", b"HDMV0100" + bytes(64), moment)
    names = b"".join(b"%05dM2TS\0\0" % n for n in range(count))
    add_file(folder, f"{root}/PLAYLIST/00000.MPL", b"MPLS0100" + bytes(40) + names, start)
    for name in ("INDEX.BDM", "MOVIEOBJ.BDM"):
        add_file(folder, f"{root}/{name}", b"INDX0100" + bytes(80), start)


def add_bpav(folder: Path, *, count: int, start: datetime) -> None:
    """A folder a clip, and a media profile that names each clip's file."""
    clips = [f"KEEL_{n:04d}_01" for n in range(1, count + 1)]
    for n, clip in enumerate(clips):
        moment, at = start + timedelta(minutes=6 * n), f"BPAV/CLPR/{clip}/{clip}"
        add_file(folder, at + ".MP4", media.movie("mp4", moment, seed=n), moment + timedelta(seconds=1))
        add_file(folder, at + "M01.XML", b"<Clip/>", moment)
        add_file(folder, at + "R01.BIM", bytes(200), moment)
        add_file(folder, at + "I01.PPN", bytes(100), moment)
    uris = [f"./CLPR/{clip}/{clip}.MP4" for clip in clips]
    add_file(folder, "BPAV/MEDIAPRO.XML", media_profile(uris), start)
    add_file(folder, "BPAV/CUEUP.XML", b"<CueUp/>", start)


def add_m4root(folder: Path, *, count: int, start: datetime, first: int = 1) -> None:
    """Clips, thumbnails and proxies in folders of their own, and a media profile."""
    root = "PRIVATE/M4ROOT"
    numbers = range(first, first + count)
    for n in numbers:
        moment = start + timedelta(minutes=4 * (n - first))
        closed = moment + timedelta(seconds=1)
        clip = media.movie("mp4", moment, seed=n, timecode=moment.strftime("%H:%M:%S:00"))
        add_file(folder, f"{root}/CLIP/C{n:04d}.MP4", clip, closed)
        add_file(folder, f"{root}/CLIP/C{n:04d}M01.XML", b"<NonRealTimeMeta/>", closed)
        add_file(folder, f"{root}/THMBNL/C{n:04d}T01.JPG", media.thumbnail(f"C{n:04d}"), closed)
        add_file(folder, f"{root}/SUB/C{n:04d}S03.MP4", media.movie("mp4", moment, size="160x90", seed=n), closed)
    add_file(folder, f"{root}/MEDIAPRO.XML", media_profile([f"./CLIP/C{n:04d}.MP4" for n in numbers]), start)


def media_profile(uris: Iterable[str]) -> bytes:
    materials = "".join(f'<Material uri="{uri}" type="MP4" ch="2"/>' for uri in uris)
    return (
        f'<?xml version="1.0" encoding="UTF-8"?><MediaProfile><Contents>{materials}</Contents></MediaProfile>'.encode()
    )


def add_contents_list(folder: Path, *, count: int, start: datetime) -> None:
    """Picture and sound apart, a description for each clip."""
    for n in range(1, count + 1):
        moment, name = start + timedelta(minutes=8 * n), f"{n:04d}KL"
        closed = moment + timedelta(seconds=1)
        add_file(folder, f"CONTENTS/CLIP/{name}.XML", f"<P><ClipName>{name}</ClipName></P>".encode(), closed)
        add_file(
            folder, f"CONTENTS/VIDEO/{name}.MXF", media.movie("mxf", moment, seed=n, timecode="01:00:00:00"), closed
        )
        for track in range(2):
            add_file(folder, f"CONTENTS/AUDIO/{name}{track:02d}.MXF", media.sound_mxf(1, 300 + 10 * n + track), closed)
        add_file(folder, f"CONTENTS/ICON/{name}.BMP", media.bitmap(name), closed)
    add_file(folder, "CONTENTS/LASTCLIP.TXT", b"0001KL", start)


def add_contents_folders(folder: Path, *, count: int, start: datetime) -> None:
    """A folder a clip, with picture, description and relations."""
    for n in range(1, count + 1):
        moment, name = start + timedelta(minutes=8 * n), f"OAR_{n:06d}"
        closed = moment + timedelta(seconds=1)
        at = f"CONTENTS/CLIPS001/{name}/{name}"
        add_file(folder, at + ".MXF", media.movie("mxf", moment, seed=40 + n, timecode="02:00:00:00"), closed)
        for last in (".CIF", ".XMP", ".CPF"):
            add_file(folder, at + last, b"<Clip/>", closed)
    add_file(folder, "CONTENTS/CLIPS001/INDEX.MIF", bytes(512), start)


def add_sequence(folder: Path, *, reel: str, clip: int, frames: int, start: datetime, skip: Iterable[int] = ()) -> None:
    """A clip as a folder of numbered RAW frames at 25 a second."""
    name = f"{reel}C{clip:03d}"
    for n in range(frames):
        if n not in skip:
            moment = start + timedelta(seconds=n / 25)
            frame = media.raw(f"{name}", moment, model=HALYARD)
            add_file(folder, f"{reel}_SKERR/{name}/{name}_{n:06d}.DNG", frame, moment)
