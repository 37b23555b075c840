"""Where the lanes of a run do their work: in this process, or each in one of its own."""

import functools
import logging
import multiprocessing
import os
import threading
from collections.abc import Callable, Sequence
from multiprocessing.connection import Connection
from multiprocessing.context import ForkContext, ForkServerContext
from multiprocessing.process import BaseProcess
from typing import Any

from ..files.medium import LARGE
from ..sources.listing import Listing
from ..turns import Turns
from .any_lane import AnyLane
from .asked import LaneWork
from .buffers import Pool
from .far_end import FarWork, be_far_end
from .lane import Lane
from .lane_elsewhere import LaneElsewhere, Started
from .progress import StoreProgress

_LOG = logging.getLogger(__name__)
_WORTH_FILES = 1000
"""So many small files outweigh the start of a process."""
_LEAVES_S = 2.0

Start = Callable[[Connection, FarWork, Sequence[Connection]], Started]
"""Starts a far end at this connection. The others are ends of other lanes, which it must not keep open."""


def lanes_for(
    works: Sequence[LaneWork], progress: Sequence[StoreProgress], listing: Listing, silent_s: float
) -> tuple[list[AnyLane], Pool, Turns]:
    """A lane for each, the buffers that they get, and the turns that all threads of this process take.

    Each in a process of its own where that is worth it; where that or shared memory cannot be had it is done without.
    """
    start: Start | None = in_processes if worth_processes(listing) else None
    turns, lanes, ours = Turns(), list[AnyLane](), list[Connection]()
    pool = _pool(shared=start is not None)
    for work, tally in zip(works, progress, strict=True):
        lane: AnyLane | None = None
        if start and pool.memory >= 0 and work.target.store.moves:
            lane = _elsewhere(LaneElsewhere(work, tally, pool, silent_s), start, ours)
        lanes.append(lane or Lane(work, tally, turns))
    pool.close()
    return lanes, pool, turns


def worth_processes(listing: Listing) -> bool:
    """Many small files keep one interpreter busier than its devices, where there is a second processor for it."""
    if len(os.sched_getaffinity(0)) < 2 or multiprocessing.current_process().daemon:
        return False
    return sum(entry.size < LARGE for entry in listing.files) >= _WORTH_FILES


def in_processes(connection: Connection, work: FarWork, others: Sequence[Connection]) -> Started:
    """A process for a far end: a copy of this one as long as it has but one thread, else of one that has nothing open.

    Raises OSError.
    """
    if threading.active_count() == 1:
        forked: ForkContext = multiprocessing.get_context("fork")
        return _Process(forked.Process(target=be_far_end, args=(connection, work, others), **_process(work)))
    served: ForkServerContext = multiprocessing.get_context("forkserver")
    served.set_forkserver_preload([be_far_end.__module__])
    return _Process(served.Process(target=be_far_end, args=(connection, work), **_process(work)))


def _process(work: FarWork) -> dict[str, Any]:
    return {"name": f"write {work.target.store.name}", "daemon": True}


def _pool(*, shared: bool) -> Pool:
    try:
        return Pool(shared=shared)
    except OSError as error:
        _say_once(f"memory that processes share cannot be had ({error})")
        return Pool()


def _elsewhere(lane: LaneElsewhere, start: Start, ours: list[Connection]) -> LaneElsewhere | None:
    try:
        near, far = multiprocessing.Pipe()
    except OSError as error:
        _say_once(f"no connection to another process can be had ({error})")
        return None
    ours.append(near)
    try:
        lane.connect(near, start(far, lane.work, ours))
    except OSError as error:
        _say_once(f"a further process cannot be had ({error})")
        near.close()
        ours.remove(near)
        return None
    finally:
        far.close()
    return lane


@functools.cache
def _say_once(why: str) -> None:
    _LOG.warning("Stores are written by one process: %s. Many small files take longer so, and are as safe.", why)


class _Process:
    def __init__(self, process: BaseProcess) -> None:
        self._process, self._lock = process, threading.Lock()
        process.start()

    def stop(self) -> str:
        """By force where it does not leave."""
        with self._lock:
            self._process.join(_LEAVES_S)
            if self._process.exitcode is None:
                self._process.kill()
                self._process.join(_LEAVES_S)  # one that hangs in a device ends when the device lets go of it
                return " (it did not leave)"
            return f" (signal {-self._process.exitcode})" if self._process.exitcode < 0 else ""
