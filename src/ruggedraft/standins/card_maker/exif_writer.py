"""A small EXIF block with a thumbnail, as cameras write it (CIPA DC-008; TIFF 6.0), little-endian."""

import struct
from datetime import datetime
from typing import Any

_ASCII, _SHORT, _LONG = 2, 3, 4


def exif_block(
    moment: datetime, *, make: str, model: str, serial: str, zone: str = "", thumbnail: bytes = b""
) -> bytes:
    """The TIFF structure that goes behind `Exif\\0\\0` in a JPEG's APP1 segment."""
    stamp = moment.strftime("%Y:%m:%d %H:%M:%S")
    first = [(0x010F, _ASCII, make), (0x0110, _ASCII, model), (0x0112, _SHORT, 1), (0x0132, _ASCII, stamp)]
    exif = [(0x9003, _ASCII, stamp), (0xA431, _ASCII, serial)]
    if zone:
        exif.insert(1, (0x9011, _ASCII, zone))
    first_at = 8
    exif_at = first_at + _length([*first, (0x8769, _LONG, 0)])
    second_at = exif_at + _length(exif)
    second = [(0x0103, _SHORT, 6), (0x0201, _LONG, 0), (0x0202, _LONG, len(thumbnail))]
    thumbnail_at = second_at + _length(second)
    second[1] = (0x0201, _LONG, thumbnail_at)
    blocks = [
        struct.pack("<2sHI", b"II", 42, first_at),
        _directory([*first, (0x8769, _LONG, exif_at)], first_at, second_at if thumbnail else 0),
        _directory(exif, exif_at, 0),
    ]
    if thumbnail:
        blocks += [_directory(second, second_at, 0), thumbnail]
    return b"".join(blocks)


def jpeg_with_exif(jpeg: bytes, block: bytes) -> bytes:
    """A JPEG with an Exif segment directly behind its start."""
    return b"\xff\xd8\xff\xe1" + struct.pack(">H", len(block) + 8) + b"Exif\0\0" + block + jpeg[2:]


def _length(entries: list[Any]) -> int:
    return 2 + 12 * len(entries) + 4 + sum(_outside(kind, value) for _, kind, value in entries)


def _outside(kind: int, value: object) -> int:
    size = len(str(value).encode()) + 1 if kind == _ASCII else 0
    return (size + size % 2) if size > 4 else 0


def _directory(entries: list[Any], at: int, following: int) -> bytes:
    rows, values = [], b""
    place = at + 2 + 12 * len(entries) + 4
    for tag, kind, value in sorted(entries):
        if kind != _ASCII:
            rows.append(
                struct.pack(
                    "<HHIHH" if kind == _SHORT else "<HHII", *((tag, kind, 1, value, 0)[: 5 if kind == _SHORT else 4])
                )
            )
            continue
        text = str(value).encode() + b"\0"
        if len(text) <= 4:
            rows.append(struct.pack("<HHI4s", tag, kind, len(text), text))
        else:
            rows.append(struct.pack("<HHII", tag, kind, len(text), place + len(values)))
            values += text + b"\0" * (len(text) % 2)
    return struct.pack("<H", len(entries)) + b"".join(rows) + struct.pack("<I", following) + values
