"""Waiting for the kernel to mount or unmount something."""

import os
import select
import time
from types import TracebackType

_MOUNTS = "/proc/self/mountinfo"


class MountNews:
    """To be used with `with`. The kernel marks the table of mounts when it changes (proc(5), /proc/[pid]/mounts)."""

    def __init__(self) -> None:
        self._descriptor = -1
        self._poll = select.poll()

    def __enter__(self) -> "MountNews":
        try:
            self._descriptor = os.open(_MOUNTS, os.O_RDONLY | os.O_CLOEXEC)
        except OSError:  # it is not told of here: whoever waits looks now and then
            return self
        self._poll.register(self._descriptor, select.POLLPRI | select.POLLERR)
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        if self._descriptor >= 0:
            os.close(self._descriptor)

    def wait(self, seconds: float) -> None:
        """Until the mounts change, but no longer than so many seconds."""
        if self._descriptor < 0:
            time.sleep(seconds)
        else:
            self._poll.poll(seconds * 1000)
