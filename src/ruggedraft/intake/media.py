"""Cards in readers that nothing has mounted, as slots that say why nothing of them is known; mounted where wanted.

Whatever is mounted is a card of the mount table (`mounts`).
"""

import os
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from django.conf import settings

from ruggedraft.core.apart import Apart, NotAnswering
from ruggedraft.core.errors import SourceVanished
from ruggedraft.core.machine.media import Medium, mount_media, unmounted
from ruggedraft.core.sources import CardSource

from .readers import CardSeen, Slot

_PATIENCE_S = 25.0
_NOT_MOUNTED = (
    "This card is not mounted, and this station does not mount cards by itself: mount it, or start with --mount-cards."
)
_A_MOMENT_S = 10.0
_apart = Apart()


class UnmountedMedia:
    """A source of slots; see `readers.ReaderSource`."""

    def slots(self) -> Iterable[Slot]:
        try:
            found = _apart.ask("media", self._asked, _PATIENCE_S)
        except (NotAnswering, OSError):
            return
        for medium in _settled(found):
            name = medium.node.rpartition("/")[2]
            seen = CardSeen("", "card", medium.bytes, token=f"unmounted {medium.number}", trouble=medium.trouble)
            yield Slot(f"reader {name}", medium.node, seen, f"unmounted {name}")

    def pulse(self) -> object:
        """Which media lie in readers: a size of none is an empty reader."""
        return [(name, _size(name)) for name in sorted(os.listdir("/sys/block"))]

    def open(self, slot_path: str, levels_up: int) -> CardSource:
        raise SourceVanished("the card is not mounted")

    def _asked(self) -> list[Medium]:
        """Asked anew only when something came, went or was mounted: a card that is failing is left in peace."""
        state = (self.pulse(), Path("/proc/self/mountinfo").read_bytes())
        if _last.get("state") != state:
            _last.update(state=state, found=self._found())
        found: list[Medium] = _last["found"]
        return found

    def _found(self) -> list[Medium]:
        if settings.MOUNT_CARDS and os.geteuid() == 0:
            return mount_media(Path(settings.VAR) / "cards")
        return [
            Medium(one.node, one.number, one.bytes, one.kind, _NOT_MOUNTED if one.kind else one.trouble)
            for one in unmounted()
        ]


_last: dict[str, Any] = {}
_since: dict[str, float] = {}


def _settled(found: list[Medium]) -> list[Medium]:
    """Those that have not been mounted for a while: a desktop that mounts cards needs a moment."""
    now = time.monotonic()
    for number in _since.keys() - {medium.number for medium in found}:
        del _since[number]
    wait = 0.0 if settings.MOUNT_CARDS else _A_MOMENT_S
    return [medium for medium in found if now - _since.setdefault(medium.number, now) >= wait]


def _size(disk: str) -> bytes:
    """As the kernel says it. With few calls: it is asked twice a second."""
    try:
        descriptor = os.open(f"/sys/block/{disk}/size", os.O_RDONLY | os.O_CLOEXEC)
    except OSError:
        return b""
    try:
        return os.read(descriptor, 64)
    except OSError:
        return b""
    finally:
        os.close(descriptor)
