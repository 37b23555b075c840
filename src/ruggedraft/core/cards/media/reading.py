"""Reading one file's header, by whatever it says it is."""

from collections.abc import Callable

from ...errors import SourceUnreadable
from ...sources.listing import Entry
from ...sources.port import CardSource, OpenFile
from .exif import read_jpeg, read_tiff
from .facts import MediaFacts
from .heif import read_heif
from .kinds import RAW, THUMBNAIL, MediaKind, ending, kind_of
from .probing import read_probed
from .quicktime import read_movie
from .wave import read_wave
from .window import HeaderUnreadable, Window

_LARGEST_PREVIEW = 400_000  # bytes
_HEADED_AS_TIFF = (RAW - {"CR3", "RAF", "ARI", "RAW"}) | {"TIF", "TIFF"}
_READERS: dict[str, Callable[[Window], MediaFacts]] = {
    **dict.fromkeys(("JPG", "JPEG", "THM"), read_jpeg),
    **dict.fromkeys(_HEADED_AS_TIFF, lambda window: read_tiff(window, "RAW")),
    **dict.fromkeys(("TIF", "TIFF"), lambda window: read_tiff(window, "TIFF")),
    **dict.fromkeys(("MP4", "MOV", "M4V", "M4A", "LRV", "LRF"), read_movie),
    **dict.fromkeys(("WAV", "BWF"), read_wave),
    **dict.fromkeys(("HEIC", "HIF"), read_heif),
}
_PROBED = {"MXF", "MTS", "M2TS", "AVI", "MPG", "MKV"}


def has_header(path: str) -> bool:
    """Whether a file of this name is one whose header is read."""
    return ending(path) in _READERS or ending(path) in _PROBED


def read_media(source: CardSource, entry: Entry) -> MediaFacts | None:
    """What the file says of itself; None for a kind whose headers are not read.

    What cannot be read, or would cost too much, is a note. Raises SourceVanished, and nothing else.
    """
    if not has_header(entry.path):
        return None
    kind = MediaKind.STILL if ending(entry.path) in THUMBNAIL else kind_of(entry.path)
    if entry.size == 0:
        return MediaFacts(kind, note="it is empty")
    try:
        file = source.open(entry.path)
    except SourceUnreadable as error:
        return MediaFacts(kind, note=error.sentence)
    try:
        return _read(file, entry)
    except (HeaderUnreadable, SourceUnreadable) as error:
        return MediaFacts(kind, note=error.sentence)
    finally:
        file.close()


def _read(file: OpenFile, entry: Entry) -> MediaFacts:
    last = ending(entry.path)
    if last in _PROBED:
        return read_probed(file.descriptor())
    return _READERS[last](Window(file, entry.size))


def read_preview(source: CardSource, entry: Entry, facts: MediaFacts) -> bytes | None:
    """The JPEG a file carries for looking at; a small JPEG file is its own. None where there is none."""
    whole = ending(entry.path) in ("JPG", "JPEG", "THM") and entry.size <= _LARGEST_PREVIEW and not facts.note
    place = facts.preview or ((0, entry.size) if whole else None)
    if place is None or place[1] > _LARGEST_PREVIEW:
        return None
    try:
        file = source.open(entry.path)
    except SourceUnreadable:
        return None
    try:
        data = Window(file, entry.size).at(*place)
    except (HeaderUnreadable, SourceUnreadable):
        return None
    finally:
        file.close()
    return data if data[:2] == b"\xff\xd8" else None
