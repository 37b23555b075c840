"""Damaged files are moved aside, where people can still reach them. We never delete them."""

from collections.abc import Callable

from ..errors import Conflict

ASIDE = ".raft-set-aside"
_MOST = 1000


def free_place(path: str, is_taken: Callable[[str], bool]) -> str:
    """A free path beneath `ASIDE`, which lies at the store's root. Raises Conflict where a thousand are taken."""
    for number in range(1, _MOST):
        place = f"{ASIDE}/{number}/{path}"
        if not is_taken(place):
            return place
    raise Conflict(f"{path} was set aside a thousand times: look into {ASIDE}, and at the drive")
