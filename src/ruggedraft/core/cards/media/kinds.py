"""Kinds of media by the endings of file names. An ending is a first guess; the header decides."""

from enum import StrEnum


class MediaKind(StrEnum):
    """What a file holds, judged by its ending."""

    STILL = "still"
    VIDEO = "video"
    SOUND = "sound"
    OTHER = "other"


RAW = frozenset({"DNG", "RAW", "CR2", "CR3", "NEF", "ARW", "RAF", "ORF", "RW2", "PEF", "SRW", "3FR", "IIQ", "ARI"})
PROCESSED = frozenset({"JPG", "JPEG", "HIF", "HEIC", "TIF", "TIFF", "PNG", "DPX", "EXR"})
VIDEO = frozenset({"MP4", "MOV", "MXF", "AVI", "MTS", "M2TS", "M4V", "MPG", "MKV", "R3D", "BRAW", "CRM"})
SOUND = frozenset({"WAV", "BWF", "AIF", "AIFF", "FLAC", "MP3", "M4A"})
PROXY = frozenset({"LRV", "LRF"})
THUMBNAIL = frozenset({"THM", "BMP"})


def ending(path: str) -> str:
    """The ending of a file's name in capitals, without the dot; empty where there is none.

    >>> ending("DCIM/100AAAAA/AAAA0001.jpg")
    'JPG'
    """
    dot = path.rfind(".")
    return path[dot + 1 :].upper() if dot > path.rfind("/") + 1 else ""


_KINDS = {
    **dict.fromkeys(RAW | PROCESSED, MediaKind.STILL),
    **dict.fromkeys(VIDEO, MediaKind.VIDEO),
    **dict.fromkeys(SOUND, MediaKind.SOUND),
}


def kind_of(path: str) -> MediaKind:
    """By the ending of its name; None where that tells nothing."""
    return _KINDS.get(ending(path), MediaKind.OTHER)
