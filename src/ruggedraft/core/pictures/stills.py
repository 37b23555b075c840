"""Stills, through Pillow in a process of its own that lasts for many files: beginning one for each would be slow."""

import socket
import subprocess
import sys
from pathlib import Path
from types import TracebackType

from ..cards.media import MediaFacts
from ..cards.media.kinds import RAW, ending
from ..cards.media.strangers import bare
from .bounds import BEHIND_ALL
from .helper import ANSWERED, ASKED, NO_WINDOW, ON_WHITE
from .kinds import CannotBeShown, Made, PictureKind

_SECONDS = 20.0
_MEMORY = 3 << 30
"""Bytes of address space: of a still of 400 million pixels as three bytes each, and once more."""
_SOURCES = Path(__file__).parents[3]


class StillMaker:
    """Makes pictures of stills, one after the other. To be used with `with`."""

    def __init__(self, seconds: float = _SECONDS) -> None:
        self._seconds = seconds
        self._helper: subprocess.Popen[bytes] | None = None
        self._line: socket.socket | None = None

    def __enter__(self) -> "StillMaker":
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        self._end()

    def show(self, descriptor: int, begins: int = 0, length: int = 0, *, on_white: bool = False) -> Made:
        """Small and large pictures of an open file. begins, length: bytes, where the picture is only a part of it

        on_white: what is transparent lies on white, and otherwise on black

        What ends the helper, or takes it too long, is a note; the next file gets another helper.
        """
        try:
            small, large = self._asked(descriptor, ASKED.pack(begins, length, *(ON_WHITE if on_white else NO_WINDOW)))
        except CannotBeShown as problem:
            return Made(note=str(problem))
        return Made({PictureKind.SMALL: small, PictureKind.LARGE: large})

    def window(self, descriptor: int, x: float, y: float, begins: int = 0, length: int = 0) -> bytes:
        """A part of a still, pixel for pixel, as PNG; x, y: its middle, each of 0 to 1. Raises CannotBeShown."""
        return self._asked(descriptor, ASKED.pack(begins, length, x, y))[0]

    def _asked(self, descriptor: int, asked: bytes) -> tuple[bytes, bytes]:
        try:
            line = self._begun()
            socket.send_fds(line, [asked], [descriptor])
            sizes = ANSWERED.unpack(_exactly(line, ANSWERED.size))
            first, second, note = (_exactly(line, size) for size in sizes)
        except TimeoutError as error:
            self._end()
            raise CannotBeShown("it leads on and on; reading it was cut off") from error
        except (OSError, EOFError) as error:
            self._end()
            raise CannotBeShown("reading it took too much and was cut off") from error
        if note:
            raise CannotBeShown(note.decode())
        return first, second

    def _begun(self) -> socket.socket:
        if self._line is None:
            ours, theirs = socket.socketpair()
            words = [sys.executable, "-m", f"{__package__}.helper", str(theirs.fileno())]
            bounds = [*BEHIND_ALL, "prlimit", f"--as={_MEMORY}", "--core=0"]
            env = {**bare(), "PYTHONPATH": str(_SOURCES)}
            quiet, handed = subprocess.DEVNULL, [theirs.fileno()]
            with theirs:
                self._helper = subprocess.Popen(
                    [*bounds, *words], env=env, pass_fds=handed, stdin=quiet, stdout=quiet, stderr=quiet
                )
            ours.settimeout(self._seconds)
            self._line = ours
        return self._line

    def _end(self) -> None:
        if self._line is not None:
            self._line.close()
        if self._helper is not None:
            self._helper.kill()
            self._helper.wait()
        self._line = self._helper = None


def carried(path: str, facts: MediaFacts) -> tuple[int, int] | None:
    """Where the picture is that a RAW file carries for looking at: first byte and length. None of any other file.

    What is seen of such a file is that picture.
    """
    return facts.preview if ending(path) in RAW else None


def _exactly(line: socket.socket, count: int) -> bytes:
    """Raises EOFError where the other end closed before."""
    got = bytearray()
    while len(got) < count:
        piece = line.recv(min(1 << 20, count - len(got)))
        if not piece:
            raise EOFError
        got += piece
    return bytes(got)
