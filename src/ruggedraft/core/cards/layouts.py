"""Card layouts: what wrote this card? One small class each, registered in `LAYOUTS`, most telling first."""

import re
from collections import Counter
from dataclasses import dataclass
from typing import Protocol

from .listing import Listing

_DCF_FOLDER = re.compile(r"[1-9][0-9]{2}[0-9A-Z_]{5}")
"""DCF directory names: three digits 100 to 999 and five free characters (JEITA CP-3461, 'Design rule for Camera
File system'; from memory)."""

_STILLS = {"JPG", "JPEG", "HIF", "HEIC", "DNG", "RAW", "TIF"}
_VIDEO = {"MP4", "MOV", "MXF", "AVI", "MTS"}
_SOUND = {"WAV", "BWF", "AIF", "FLAC", "MP3"}


class Layout(Protocol):
    """A card layout."""

    name: str

    def is_on(self, listing: Listing) -> bool:
        """Whether this listing's root carries the layout."""


class DcfStills:
    """`DCIM` with numbered folders, as stills cameras, drones and action cameras write it."""

    name = "DCIM"

    def is_on(self, listing: Listing) -> bool:
        folders = [entry.path.split("/") for entry in listing.folders]
        return any(len(f) == 2 and f[0] == "DCIM" and _DCF_FOLDER.fullmatch(f[1].upper()) for f in folders)


class Plain:
    """Anything else: a tree of files, taken whole."""

    name = "plain"

    def is_on(self, listing: Listing) -> bool:
        return True


LAYOUTS: tuple[Layout, ...] = (DcfStills(), Plain())


def recognise(listing: Listing) -> Layout:
    """The first layout that claims the listing; `Plain` claims everything."""
    return next(layout for layout in LAYOUTS if layout.is_on(listing))


@dataclass(frozen=True)
class Contents:
    """Counts of what is on a card, by the endings of file names. `other` is copied like everything else."""

    stills: int
    video: int
    sound: int
    other: int


def contents(listing: Listing) -> Contents:
    kinds = Counter(_kind(entry.path) for entry in listing.files)
    return Contents(kinds["stills"], kinds["video"], kinds["sound"], kinds["other"])


def _kind(path: str) -> str:
    ending = path.rpartition(".")[2].upper()
    kinds = {"stills": _STILLS, "video": _VIDEO, "sound": _SOUND}
    return next((kind for kind, endings in kinds.items() if ending in endings), "other")
