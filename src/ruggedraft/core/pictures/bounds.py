"""Programs that read what may be broken or hostile: each a process of its own, bound in time, memory and output."""

import subprocess
import threading
import time
from collections.abc import Callable, Sequence

from ..cards.media.strangers import bare
from .kinds import CannotBeShown

_MEMORY = 2 << 30
"""Bytes of address space."""
_MOST = 64 << 20
"""Bytes that may come of one file."""
_PIECE = 1 << 18
BEHIND_ALL = ("nice", "-n", "19", "ionice", "-c", "3")
"""A program that is begun like this gets the processor and the disk when nobody else wants them."""


class GaveWay(Exception):
    """Something else comes first. Nothing is known of a recording by that."""


_ASK_S = 1.0


def asking(has_to_wait: Callable[[], bool]) -> Callable[[], None]:
    """What asks, at most every second or so, whether something else comes first; and then raises GaveWay."""
    last = time.monotonic()

    def ask() -> None:
        """Costs nothing most of the time."""
        nonlocal last
        if time.monotonic() - last > _ASK_S:
            last = time.monotonic()
            if has_to_wait():
                raise GaveWay

    return ask


def run(command: Sequence[str], descriptor: int, seconds: float) -> bytes:
    """What a program prints of an open file, which it reads as /dev/fd/N: no path is followed.

    It has the least claim to the processor. Raises CannotBeShown.
    """
    told = bytearray()

    def keep(piece: bytes) -> None:
        """As long as there is not too much."""
        told.extend(piece)
        if len(told) > _MOST:
            raise CannotBeShown("what it holds is too large to be shown")

    stream(command, descriptor, seconds, keep)
    if not told:
        raise CannotBeShown("it cannot be decoded")
    return bytes(told)


def stream(
    command: Sequence[str],
    descriptor: int,
    seconds: float,
    consume: Callable[[bytes], object],
    *,
    all_said: bool = False,
    writes: int | None = None,
    most: int = 0,
) -> None:
    """The same, piece by piece. Raises CannotBeShown, after which what was consumed is not all of it.

    all_said: what it complains of too, where it comes between what it prints
    writes: an open file that it may write too, of at most so many bytes
    """
    handed = [descriptor] if writes is None else [descriptor, writes]
    bounds = [*BEHIND_ALL, "prlimit", f"--as={_MEMORY}", f"--cpu={max(1, int(seconds))}", "--core=0", f"--fsize={most}"]
    quiet = subprocess.DEVNULL
    try:
        program = subprocess.Popen(
            [*bounds, *command], pass_fds=handed, stdin=quiet, stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT if all_said else quiet, env=bare(),
        )  # fmt: skip
    except FileNotFoundError as error:
        raise CannotBeShown("the program that shows it is not installed here") from error
    cut_off = threading.Timer(seconds, program.kill)
    cut_off.start()
    try:
        while piece := program.stdout.read(_PIECE) if program.stdout else b"":
            consume(piece)
        code = program.wait()
    finally:
        cut_off.cancel()
        program.kill()
        program.wait()
        if program.stdout:
            program.stdout.close()
    if code:
        raise CannotBeShown(_REASONS.get(code, "reading it took too much and was cut off" if code < 0 else _BROKEN))


_BROKEN = "it cannot be decoded"
_REASONS = {127: "the program that shows it is not installed here"}
