"""Kinds of media by the endings of file names. An ending is a first guess; the header decides."""

from enum import StrEnum


class MediaKind(StrEnum):
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
    name = path.rpartition("/")[2]
    stem, dot, last = name.rpartition(".")
    return last.upper() if dot and stem else ""


def kind_of(path: str) -> MediaKind:
    last = ending(path)
    if last in RAW or last in PROCESSED:
        return MediaKind.STILL
    if last in VIDEO:
        return MediaKind.VIDEO
    return MediaKind.SOUND if last in SOUND else MediaKind.OTHER
