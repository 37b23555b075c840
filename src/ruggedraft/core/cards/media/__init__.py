"""What a media file says of itself: body, time, duration, size, rate, codec, timecode, embedded preview.

Headers are read, never trusted: every read has a budget, every loop a bound, and what cannot be read is a note.
"""

from .facts import MediaFacts
from .kinds import MediaKind, ending, kind_of
from .reading import read_media, read_preview
from .timecode import is_timecode, timecode_after

__all__ = [
    "MediaFacts", "MediaKind", "ending", "is_timecode", "kind_of", "read_media", "read_preview", "timecode_after",
]  # fmt: skip
