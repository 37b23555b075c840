"""A folder of a WebDAV server (RFC 4918), over HTTP (RFC 9110, RFC 9112). All of this kind of store is in this file.

What is on its way lies under a name of its own in the run's folder, and is moved to its name once it is whole, with
`Overwrite: F`, so that the server refuses to put it over anything. The protocol keeps no times that a client gives, and
knows no checksums: what was written is read back.
"""

import base64
import queue
import secrets
import threading
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime
from functools import partial
from itertools import count
from urllib.parse import quote, unquote, urlsplit
from xml.etree.ElementTree import Element, ParseError

import urllib3
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from urllib3.exceptions import HTTPError

from ..errors import Conflict, FileRefused, StoreError, StoreFull, StoreVanished, UnsafePath
from ..evidence import Evidence
from ..files.confinement import parts_of
from ..turns import Turns
from .port import UNBOUNDED, Consume, Data, Found, PendingFile, Room, Whole
from .remote import RUNS, RemoteStore, missing

AT_ONCE = 16
"""Requests of one store under way side by side."""
_SMALL = 4 << 20
"""A file of fewer bytes is sent at once; a larger one goes as it comes."""
_WAITING = 4
"""Pieces of a large file that wait to be sent."""
_READ = 1 << 20  # bytes
_DEAD_AFTER = timedelta(hours=48)
_LONGEST_ANSWER = 64 << 20
"""Bytes of a listing of one folder: far more than a folder of a hundred thousand files."""
_D = "{DAV:}"
_PROPFIND = (
    b'<?xml version="1.0" encoding="utf-8"?><propfind xmlns="DAV:"><prop><resourcetype/><getcontentlength/>'
    b"<getlastmodified/></prop></propfind>"
)
_QUOTA = (
    b'<?xml version="1.0" encoding="utf-8"?><propfind xmlns="DAV:"><prop><quota-available-bytes/>'
    b"<quota-used-bytes/></prop></propfind>"
)
"""RFC 4331, 'Quota and Size Properties for DAV Collections'."""


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


@dataclass(frozen=True)
class _Member:
    """Of a listing. path: beneath the store. modified: by the server's clock, None where it does not say"""

    path: str
    folder: bool
    size: int
    modified: datetime | None


class WebdavStore(RemoteStore):
    """line: may be shared with other stores of the same server. Nothing can be sealed there."""

    def __init__(self, name: str, line: WebdavLine, address: WebdavAddress, mark: str = "") -> None:
        super().__init__()
        self.name, self.mark = name, mark
        self._line, self._url = line, address.url.rstrip("/")
        self._base = unquote(urlsplit(self._url).path)
        self._run, self._numbers = "", count(1)
        self._pool: ThreadPoolExecutor | None = None
        self._made: set[str] = set()
        self._making = threading.Lock()

    # What the engine asks

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreError, also where the mark is not there."""
        self.require()
        self.forget_names()
        self._made = set()
        self._pool = self._pool or ThreadPoolExecutor(AT_ONCE, thread_name_prefix=f"webdav {self.name}")
        self._clear_old_runs()
        self._run = f"{RUNS}/{secrets.token_hex(8)}"
        self._make_folders(self._run)

    def close(self) -> None:
        """What was not named goes."""
        with suppress(StoreError):
            if self._run:
                self._ask("DELETE", f"{self._run}/", may_be=(404,))
        self._run = ""
        pool, self._pool = self._pool, None
        if pool:
            pool.shutdown(wait=False, cancel_futures=True)

    def room(self) -> Room:
        """By its quota, where the server tells it; else it knows of no end."""
        properties = self._properties(_QUOTA)
        free, used = (_number(properties.get(f"quota-{name}-bytes")) for name in ("available", "used"))
        if free is None:
            return Room(UNBOUNDED, UNBOUNDED)
        return Room(free, free + (used or 0))

    def found(self, path: str) -> Found | None:
        """A folder is something else under the name."""
        parts_of(path)
        if not self.may_be_there(path):
            return None
        member = self._member(path)
        return Found(not member.folder, member.size) if member else None

    def facts(self, path: str) -> tuple[int, int | None] | None:
        """A server knows when something was sent, and not which time it has."""
        member = self._member(path)
        return None if member is None or member.folder else (member.size, None)

    def write(self, path: str, size: int = 0, mode: int | None = None) -> "Sending":
        """Under a name in the run's folder."""
        parts_of(path)
        self._url_of(path)
        return Sending(self, path, f"{self._run}/{next(self._numbers)}")

    def write_whole(self, files: Sequence[Whole]) -> "list[PendingFile | StoreError]":
        """Side by side."""
        return list(self._running().map(self._written, files))

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Side by side, each only where nothing is under its name unless `replace`."""
        ours = [file for file in files if isinstance(file, Sending)]
        try:
            self.require()
            for folder in sorted({file.path.rpartition("/")[0] for file in ours}):
                self._make_folders(folder)
        except StoreError as error:
            for file in ours:
                file.discard()
            return [error] * len(ours)
        return list(self._running().map(partial(self._name, replace=replace), ours))

    def _name(self, file: "Sending", *, replace: bool) -> StoreError | None:
        try:
            self._move(file.at, file.path, replace=replace)
            file.is_named()
        except StoreError as error:
            file.discard()
            return error
        finally:
            self.named(file.path)  # or somebody else's is there
        return None

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """Folders get no times. When the server's disk has what it took is its own affair."""
        self.require()
        for folder, _ in folders:
            self._make_folders(folder)

    def read_at(self, path: str, offset: int, size: int) -> bytes:
        """By ranges, until there are enough or it ends; a server that knows no ranges is read from the start."""
        content = bytearray()
        while len(content) < size:
            piece = self._range(path, offset + len(content), size - len(content))
            if not piece:
                break
            content += piece
        return bytes(content)

    def _range(self, path: str, offset: int, size: int) -> bytes:
        wanted = {"Range": f"bytes={offset}-{offset + size - 1}"}
        answer = self._ask("GET", path, headers=wanted, may_be=(416,), stream=True)
        with self._held(answer):
            if answer.status == 416:
                answer.drain_conn()
                return b""
            if answer.status == 206:
                if not answer.headers.get("Content-Range", "").startswith(f"bytes {offset}-"):
                    raise StoreVanished(f"the server of '{self.name}' gives other bytes than it was asked for")
                return self._to_the_end(answer, size)
            return self._from_the_start(answer, offset, size)

    @contextmanager
    def _held(self, answer: urllib3.BaseHTTPResponse) -> Iterator[None]:
        """Its connection is used again, unless something went wrong with it."""
        try:
            yield
        except BaseException:
            answer.close()
            raise
        answer.release_conn()

    def _to_the_end(self, answer: urllib3.BaseHTTPResponse, most: int) -> bytes:
        content = b"".join(self._pieces(answer))
        if len(content) > most:
            raise StoreVanished(f"the server of '{self.name}' gives other bytes than it was asked for")
        return content

    def _from_the_start(self, answer: urllib3.BaseHTTPResponse, offset: int, size: int) -> bytes:
        content, at = bytearray(), 0
        for piece in self._pieces(answer):
            content += piece[max(0, offset - at) : max(0, offset + size - at)]
            at += len(piece)
        return bytes(content)

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """As one stream, which the server must give to its end."""
        answer = self._ask("GET", path, stream=True)
        with self._held(answer):
            for piece in self._pieces(answer):
                consume(piece)
        return Evidence.READ_BACK

    def read_many(self, paths: Sequence[str], expected: Sequence[int]) -> list[bytes | StoreError]:
        """Each as a whole."""
        if self._pool is None:
            with ThreadPoolExecutor(AT_ONCE) as pool:
                return list(pool.map(self._whole, paths))
        return list(self._pool.map(self._whole, paths))

    def _whole(self, path: str) -> bytes | StoreError:
        content = bytearray()
        try:
            self.read_back(path, content.extend)
        except StoreError as error:
            return error
        return bytes(content)

    def look(self, folder: str) -> dict[str, tuple[int, int | None]]:
        """Folder by folder: many servers refuse to tell of everything at once."""
        if folder:
            parts_of(folder)
        self.require()
        found: dict[str, tuple[int, int | None]] = {}
        inside = f"{folder}/" if folder else ""
        waiting = [folder]
        while waiting:
            for member in self._members(waiting.pop()):
                if member.folder:
                    waiting.append(member.path)
                else:
                    found[member.path.removeprefix(inside)] = member.size, None
        self.require()
        return found

    def names_in(self, folder: str) -> set[str]:
        """Of files and folders."""
        return {member.path.rpartition("/")[2] for member in self._members(folder)}

    def move(self, path: str, to: str) -> None:
        """The server does it, over nothing."""
        self._make_folders(to.rpartition("/")[0])
        self._move(path, to, replace=False)

    def withdraw(self, path: str) -> None:
        """Whether the server keeps it elsewhere is its own affair."""
        self._ask("DELETE", path)

    # Requests

    def _move(self, path: str, to: str, *, replace: bool) -> None:
        headers = {"Destination": self._url_of(to), "Overwrite": "T" if replace else "F"}
        self._ask("MOVE", path, headers=headers)

    def _members(self, folder: str) -> list[_Member]:
        """Directly in a folder; none where there is no folder."""
        answer = self._ask("PROPFIND", f"{folder}/" if folder else "", _PROPFIND, {"Depth": "1"}, may_be=(404,))
        if answer.status == 404:
            return []
        return [one for one in self._parsed(answer) if one.path != folder]

    def _member(self, path: str) -> _Member | None:
        answer = self._ask("PROPFIND", path, _PROPFIND, {"Depth": "0"}, may_be=(404,))
        return next(iter(self._parsed(answer)), None) if answer.status != 404 else None

    def _properties(self, asked: bytes) -> dict[str, str]:
        answer = self._ask("PROPFIND", "", asked, {"Depth": "0"})
        tree = self._tree(answer)
        return {one.tag.removeprefix(_D): one.text or "" for prop in _given(tree) for one in prop}

    def _parsed(self, answer: urllib3.BaseHTTPResponse) -> Iterator[_Member]:
        for response in self._tree(answer).iter(f"{_D}response"):
            href = response.findtext(f"{_D}href", "")
            path = self._inside(href)
            properties = {one.tag: one for prop in _given(response) for one in prop}
            kind = properties.get(f"{_D}resourcetype")
            folder = kind is not None and kind.find(f"{_D}collection") is not None
            size = _number(_text(properties.get(f"{_D}getcontentlength")))
            if not folder and size is None:
                raise StoreError(f"the server of '{self.name}' does not say how large a file is")
            yield _Member(path, folder, size or 0, _moment(_text(properties.get(f"{_D}getlastmodified"))))

    def _inside(self, href: str) -> str:
        """Raises StoreError for what is not beneath the store: no answer makes us go elsewhere."""
        path = unquote(urlsplit(href).path).rstrip("/")
        if path != self._base and not path.startswith(f"{self._base}/"):
            raise StoreError(f"the server of '{self.name}' tells of something outside of it")
        inside = path[len(self._base) + 1 :]
        try:
            return "/".join(parts_of(inside)) if inside else ""
        except UnsafePath as error:
            raise StoreError(f"the server of '{self.name}' tells of something outside of it") from error

    def _tree(self, answer: urllib3.BaseHTTPResponse) -> Element:
        try:
            if len(answer.data) > _LONGEST_ANSWER:
                raise StoreError(f"the server of '{self.name}' tells more than can be taken in")
            tree: Element = fromstring(answer.data)
        except (ParseError, DefusedXmlException, HTTPError) as error:
            raise StoreVanished(f"the server of '{self.name}' gives an answer that cannot be read") from error
        return tree

    def _make_folders(self, folder: str) -> None:
        """With those above; each once a run."""
        with self._making:
            for end in [n for n, sign in enumerate(folder) if sign == "/"] + [len(folder)]:
                one = folder[:end]
                if one and one not in self._made:
                    self._ask("MKCOL", f"{one}/", may_be=(405,))  # 405: it is there (RFC 4918, 9.3.1)
                    self._made.add(one)

    def _clear_old_runs(self) -> None:
        """Of runs that died long ago, by the server's own clock."""
        answer = self._ask("PROPFIND", f"{RUNS}/", _PROPFIND, {"Depth": "1"}, may_be=(404,))
        now = _moment(answer.headers.get("Date"))
        if answer.status == 404 or now is None:
            return
        for member in self._parsed(answer):
            if member.path != RUNS and member.modified and now - member.modified > _DEAD_AFTER:
                with suppress(StoreError):  # the next run tries again
                    self._ask("DELETE", f"{member.path}/" if member.folder else member.path)

    def _ask(
        self, method: str, path: str, body: bytes | Iterable[bytes] | None = None, headers: Mapping[str, str] = {},
        *, may_be: Sequence[int] = (), stream: bool = False,
    ) -> urllib3.BaseHTTPResponse:  # fmt: skip
        """Raises StoreError for every answer that is not as it should be and not in `may_be`."""
        url = self._url_of(path)
        try:
            answer = self._line.ask(method, url, body, headers, stream=stream)
        except (HTTPError, OSError) as error:
            raise self._away(error) from error
        if 200 <= answer.status < 300 or answer.status in may_be:
            if answer.status == 207 and method != "PROPFIND":
                raise StoreError(f"the server of '{self.name}' did only part of what it was asked")
            return answer
        if stream:
            answer.drain_conn()  # else the next request over this connection would meet its rest
            answer.release_conn()
        raise self._as_error(answer.status)

    def _pieces(self, answer: urllib3.BaseHTTPResponse) -> Iterator[bytes]:
        """To the very end: fewer bytes than the server announced are no end."""
        try:
            yield from answer.stream(_READ, decode_content=True)
        except (HTTPError, OSError) as error:
            raise StoreVanished(f"'{self.name}' broke off while it was read: see to the network") from error

    def _away(self, error: Exception) -> StoreVanished:
        return StoreVanished(
            f"'{self.name}' does not answer ({type(error).__name__}): see to its server and the network"
        )

    def _as_error(self, status: int) -> StoreError:
        return _MEANINGS.get(status, _unable)(self.name) if status != 404 else missing(self.name)

    def _url_of(self, path: str) -> str:
        """Raises FileRefused for a name of which no address can be made."""
        if not path:
            return f"{self._url}/"
        parts_of(path.rstrip("/"))
        try:
            return f"{self._url}/{quote(path, safe='/')}"
        except UnicodeEncodeError as error:
            raise FileRefused(f"its name is no Unicode, and cannot be kept in '{self.name}'") from error

    def _running(self) -> ThreadPoolExecutor:
        if self._pool is None:
            raise RuntimeError("a store is written between open() and close()")
        return self._pool


def _unable(name: str) -> StoreError:
    return StoreVanished(f"the server of '{name}' cannot do what it was asked: try later")


def _shut(name: str) -> StoreError:
    return StoreVanished(f"the server of '{name}' does not accept our user and password: give it the right ones")


_MEANINGS: Mapping[int, Callable[[str], StoreError]] = {
    401: _shut,
    403: _shut,
    412: lambda name: Conflict(f"something else is under this name on '{name}'"),
    413: lambda name: FileRefused(f"it is larger than the server of '{name}' takes"),
    414: lambda name: FileRefused(f"its path is too long for '{name}'"),
    423: lambda name: FileRefused(f"somebody else holds it locked on '{name}'"),
    507: lambda name: StoreFull(f"'{name}' is full: make room on it, and offload again"),
}
"""RFC 9110, 15.5, and RFC 4918, 11."""


class Sending(PendingFile):
    """A file on its way. path: its name to be. at: where it is until then"""

    def __init__(self, store: WebdavStore, path: str, at: str) -> None:
        self.path, self.at, self._store = path, at, store
        self._buffer = bytearray()
        self._going: _Stream | None = None
        self._sent = self._over = False

    def write(self, data: Data) -> None:
        """Copies it. Raises StoreError, perhaps for what was sent before."""
        self._buffer += data
        while len(self._buffer) >= _SMALL:
            self._going = self._going or _Stream(self._put)
            self._going.give(bytes(self._buffer[:_SMALL]))
            del self._buffer[:_SMALL]

    def skip(self, count: int) -> None:
        """There are no holes: zeros are sent."""
        while count:
            piece = min(count, _SMALL)
            self.write(bytes(piece))
            count -= piece

    def end(self, modified_ns: int) -> None:
        """Waits until the server has taken it. Keeps no time."""
        if self._going:
            self._going.give(bytes(self._buffer))
            self._going.finish()
        else:
            self._put(bytes(self._buffer))
        self._buffer.clear()
        self._sent = True

    def is_named(self) -> None:
        """There is nothing left to be discarded."""
        self._over = True

    def _put(self, body: bytes | Iterable[bytes]) -> None:
        self._store._ask("PUT", self.at, body)

    def discard(self) -> None:
        """Nothing bore its name yet."""
        if self._over:
            return
        self._over = True
        self._buffer.clear()
        if self._going:
            self._going.give_up()
        if self._sent or self._going:
            with suppress(StoreError):  # the run's folder goes at its end, or with the next run's
                self._store._ask("DELETE", self.at, may_be=(404,))


class _Stream:
    """A body that is sent while it comes, by a thread of its own."""

    def __init__(self, send: Callable[[Iterable[bytes]], None]) -> None:
        self._pieces: queue.Queue[bytes | None] = queue.Queue(_WAITING)
        self._trouble: StoreError | None = None
        self._given_up = False
        self._thread = threading.Thread(target=self._run, args=(send,), daemon=True)
        self._thread.start()

    def _run(self, send: Callable[[Iterable[bytes]], None]) -> None:
        try:
            send(self._body())
        except StoreError as error:
            self._trouble = error

    def _body(self) -> Iterator[bytes]:
        while True:
            piece = self._pieces.get()
            if self._given_up:
                raise OSError("given up")  # the server must not take what came so far for the whole
            if piece is None:
                return
            if piece:
                yield piece

    def give(self, piece: bytes | None) -> None:
        """Waits while enough is under way. Raises StoreError once the sending has failed."""
        while True:
            if self._trouble:
                raise self._trouble
            if not self._thread.is_alive():
                raise StoreError("the server ended before all was sent")
            with suppress(queue.Full):
                self._pieces.put(piece, timeout=0.2)
                return

    def finish(self) -> None:
        """Waits for the server's answer. Raises StoreError."""
        self.give(None)
        self._thread.join()
        if self._trouble:
            raise self._trouble

    def give_up(self) -> None:
        """Never raises."""
        self._given_up = True
        with suppress(queue.Full):
            self._pieces.put_nowait(None)
        self._thread.join(5)


def _given(tree: Element) -> Iterator[Element]:
    """The properties that the server has: of others it says so with another status (RFC 4918, 9.1)."""
    for one in tree.iter(f"{_D}propstat"):
        prop = one.find(f"{_D}prop")
        if prop is not None and " 200 " in f"{one.findtext(f'{_D}status', '')} ":
            yield prop


def _text(element: Element | None) -> str | None:
    return None if element is None else element.text


def _number(text: str | None) -> int | None:
    return int(text) if text and text.strip().isdigit() else None


def _moment(text: str | None) -> datetime | None:
    try:
        return parsedate_to_datetime(text or "").astimezone(UTC)
    except (TypeError, ValueError):
        return None
