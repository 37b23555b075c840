"""Where pictures are kept: in a folder, each under the checksum of what it is."""

import hashlib
import os
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from django.conf import settings


def digest_of(data: bytes) -> str:
    """What a picture is found under: its SHA-256, in hexadecimal."""
    return hashlib.sha256(data).hexdigest()


class PictureFolder:
    """A folder of files that never change. What is not what it was is as good as lost, and is made again."""

    def __init__(self, home: Path) -> None:
        self._home = home

    def keep(self, data: bytes) -> str:
        """Keep a picture, all of it or nothing. Returns what it is found under. Raises OSError."""
        digest = digest_of(data)
        place = self._place(digest)
        if self.get(digest) is None:
            place.parent.mkdir(parents=True, exist_ok=True)
            part = place.with_name(f".{digest}.{os.getpid()}")
            try:
                part.write_bytes(data)
                part.replace(place)
            finally:
                part.unlink(missing_ok=True)
        return digest

    def get(self, digest: str) -> bytes | None:
        """None where it is not there, or not what it was."""
        try:
            data = self._place(digest).read_bytes()
        except OSError:
            return None
        return data if digest_of(data) == digest else None

    def forget(self, digest: str) -> None:
        """Nothing where it is not there."""
        with suppress(OSError):
            self._place(digest).unlink()

    def all(self) -> Iterator[str]:
        """What there is, by what it is found under."""
        return (path.name for path in self._home.glob("??/*"))

    def _place(self, digest: str) -> Path:
        return self._home / digest[:2] / digest


def pictures_kept() -> PictureFolder:
    """That of this ledger, on the server's machine."""
    return PictureFolder(Path(settings.PICTURES))
