"""Reaching a WebDAV server, and what its answers mean."""

import base64
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field

import urllib3

from ...errors import Conflict, FileRefused, StoreError, StoreFull, StoreVanished
from ..remote import missing

AT_ONCE = 16
"""Requests of one store under way side by side."""


@dataclass(frozen=True)
class WebdavAddress:
    """url: of the folder, such as https://files.example/dav/rolls"""

    url: str


@dataclass(frozen=True)
class WebdavSecret:
    """Never shown. Sent as RFC 7617 has it ('Basic'): `stores.addresses` refuses to send it in the clear."""

    user: str = field(default="", repr=False)
    password: str = field(default="", repr=False)


class WebdavLine:
    """Connections to one server, which many threads may share. patience_s: seconds without a byte"""

    def __init__(self, secret: WebdavSecret, patience_s: float = 60.0) -> None:
        words = base64.b64encode(f"{secret.user}:{secret.password}".encode()).decode()
        self._headers = {"Authorization": f"Basic {words}"}
        self._pool = urllib3.PoolManager(
            maxsize=AT_ONCE + 8, block=True, retries=False,
            timeout=urllib3.Timeout(connect=min(15.0, patience_s), read=patience_s),
        )  # fmt: skip

    def ask(
        self, method: str, url: str, body: bytes | Iterable[bytes] | None = None, headers: Mapping[str, str] = {},
        *, stream: bool = False,
    ) -> urllib3.BaseHTTPResponse:  # fmt: skip
        """One request; nothing is sent a second time, and no other server is asked. Raises urllib3's HTTPError."""
        return self._pool.request(
            method, url, body=body, headers={**self._headers, **headers}, redirect=False, preload_content=not stream
        )


def error_of(status: int, store: str) -> StoreError:
    """What an answer with this status says of a request. What the server says in its own words is not repeated."""
    return _MEANINGS.get(status, _unable)(store)


def _unable(name: str) -> StoreError:
    return StoreVanished(f"the server of '{name}' cannot do what it was asked: try later")


def _shut(name: str) -> StoreError:
    return StoreVanished(f"the server of '{name}' does not accept our user and password: give it the right ones")


_MEANINGS: Mapping[int, Callable[[str], StoreError]] = {
    401: _shut,
    403: _shut,
    404: missing,
    412: lambda name: Conflict(f"something else is under this name on '{name}'"),
    413: lambda name: FileRefused(f"it is larger than the server of '{name}' takes"),
    414: lambda name: FileRefused(f"its path is too long for '{name}'"),
    423: lambda name: FileRefused(f"somebody else holds it locked on '{name}'"),
    507: lambda name: StoreFull(f"'{name}' is full: make room on it, and offload again"),
}
"""RFC 9110, 15.5, and RFC 4918, 11."""
