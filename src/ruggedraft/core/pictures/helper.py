"""A process that reads stills for another one: what is broken or hostile harms nothing but this process.

`python -m ruggedraft.core.pictures.helper SOCKET`, started by `stills.StillMaker` bound in its memory. Over that socket
comes, for each file, its descriptor with four numbers of eight bytes: where in it the picture begins, and how long that
is (0 and 0: all of it), and the middle of a window, or what is wanted instead of one; back go the sizes of the small
picture, or the window, of the large one and of a note, four bytes each, and then those.
"""

import io
import os
import socket
import struct
import sys
import warnings
from typing import BinaryIO

from PIL import Image, ImageCms, ImageOps
from PIL.JpegImagePlugin import JpegImageFile
from PIL.PngImagePlugin import PngImageFile
from PIL.TiffImagePlugin import TiffImageFile
from pillow_heif import HeifImageFile, options, register_heif_opener

from .kinds import LONGEST, WINDOW, PictureKind

ASKED = struct.Struct("<QQdd")
NO_WINDOW = (-1.0, -1.0)
"""In place of the middle of a window."""
ON_WHITE = (-2.0, -2.0)
"""The same, with white behind what is transparent; otherwise it is black."""
ANSWERED = struct.Struct("<III")
_FORMATS = (JpegImageFile.format, PngImageFile.format, TiffImageFile.format, HeifImageFile.format)
"""Pillow knows more, and begins other programs for some of them."""
_MOST_PIXELS = 400_000_000
options.DECODE_THREADS = 1
register_heif_opener(thumbnails=False)
_QUALITY = {PictureKind.SMALL: 72, PictureKind.LARGE: 82}


class Part(io.RawIOBase):
    """A stretch of a file as if it were one."""

    def __init__(self, descriptor: int, begins: int, length: int) -> None:
        self._descriptor, self._begins, self._length, self._at = descriptor, begins, length, 0

    def readable(self) -> bool:
        """It is."""
        return True

    def seekable(self) -> bool:
        """It is."""
        return True

    def seek(self, offset: int, whence: int = os.SEEK_SET) -> int:
        """Counted from the stretch's own beginning or end."""
        base = {os.SEEK_SET: 0, os.SEEK_CUR: self._at, os.SEEK_END: self._length}[whence]
        self._at = max(0, base + offset)
        return self._at

    def tell(self) -> int:
        """In bytes from the stretch's beginning."""
        return self._at

    def readinto(self, buffer: memoryview) -> int:  # type: ignore[override]
        """As `io.RawIOBase` has it; fewer bytes at the end of the stretch."""
        most = max(0, min(len(buffer), self._length - self._at))
        data = os.pread(self._descriptor, most, self._begins + self._at)
        buffer[: len(data)] = data
        self._at += len(data)
        return len(data)


def show_still(file: BinaryIO, behind: str = "black") -> tuple[bytes, bytes]:
    """A still, small and large, as JPEGs in sRGB, the right way up; never larger than it was taken.

    behind: a colour for what is transparent

    Raises whatever Pillow does for a file that it cannot read.
    """
    with Image.open(file, formats=_FORMATS) as opened:
        if opened.width * opened.height > _MOST_PIXELS:
            raise ValueError("too many pixels")
        longest = LONGEST[PictureKind.LARGE]
        opened.draft("RGB", (longest, longest))  # a JPEG is decoded no larger than is needed
        opened.thumbnail(
            (longest, longest), Image.Resampling.BOX if opened.format == "JPEG" else Image.Resampling.LANCZOS
        )
        large = _in_srgb(ImageOps.exif_transpose(opened), behind)
    small = large.copy()
    small.thumbnail((LONGEST[PictureKind.SMALL],) * 2, Image.Resampling.LANCZOS)
    return _jpeg(small, PictureKind.SMALL), _jpeg(large, PictureKind.LARGE)


def window(file: BinaryIO, x: float, y: float) -> bytes:
    """A part of a still, pixel for pixel, as PNG in sRGB, the right way up. x, y: its middle, each of 0 to 1.

    Raises whatever Pillow does for a file that it cannot read.
    """
    with Image.open(file, formats=_FORMATS) as opened:
        if opened.width * opened.height > _MOST_PIXELS:
            raise ValueError("too many pixels")
        turned = ImageOps.exif_transpose(opened)
        wide, high = (min(most, has) for most, has in zip(WINDOW, turned.size, strict=True))
        left = max(0, min(turned.width - wide, round(turned.width * x - wide / 2)))
        top = max(0, min(turned.height - high, round(turned.height * y - high / 2)))
        part = turned.crop((left, top, left + wide, top + high))
        part.info = turned.info
    out = io.BytesIO()
    _in_srgb(part).save(out, "PNG", compress_level=1)
    return out.getvalue()


def _in_srgb(image: Image.Image, behind: str = "black") -> Image.Image:
    """Sixteen bits a pixel become eight, and what is transparent lies on a colour."""
    if image.mode.startswith("I"):
        image = image.point(lambda value: value / 256).convert("L") if image.mode != "I;8" else image
    profile = image.info.get("icc_profile")
    if image.mode in ("RGBA", "LA", "PA", "P"):
        image = Image.alpha_composite(Image.new("RGBA", image.size, behind), image.convert("RGBA")).convert("RGB")
    if profile and image.mode in ("RGB", "CMYK"):
        try:
            given = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            turned = ImageCms.profileToProfile(image, given, ImageCms.createProfile("sRGB"), outputMode="RGB")
            return turned or image
        except ImageCms.PyCMSError:  # a broken profile: its colours are shown as they are
            pass
    return image.convert("RGB")


def _jpeg(image: Image.Image, kind: PictureKind) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=_QUALITY[kind], optimize=True)
    return out.getvalue()


def _answer(descriptor: int, begins: int, length: int, x: float, y: float) -> tuple[bytes, bytes, bytes]:
    try:
        size = os.fstat(descriptor).st_size
        file = io.BufferedReader(Part(descriptor, begins, length or size), 1 << 20)
        if x >= 0:
            return window(file, x, y), b"", b""
        return *show_still(file, "white" if (x, y) == ON_WHITE else "black"), b""
    except MemoryError:
        return b"", b"", b"it takes too much memory to be shown"
    except Exception as problem:  # whatever a decoder raises
        reason = "it has too many pixels to be shown" if "pixels" in str(problem) else "it cannot be decoded"
        return b"", b"", reason.encode()


def main() -> None:
    """Answer until the other end is closed."""
    warnings.simplefilter("ignore")
    with socket.socket(fileno=int(sys.argv[1])) as line:
        while True:
            asked, descriptors, _, _ = socket.recv_fds(line, ASKED.size, 1)
            if len(asked) < ASKED.size or not descriptors:
                return
            try:
                answer = _answer(descriptors[0], *ASKED.unpack(asked))
            finally:
                os.close(descriptors[0])
            line.sendall(ANSWERED.pack(*map(len, answer)) + b"".join(answer))


if __name__ == "__main__":
    main()
