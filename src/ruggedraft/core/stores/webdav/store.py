"""The store: what the engine asks, as requests to the server."""

import secrets
import threading
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from datetime import timedelta
from functools import partial
from itertools import count
from urllib.parse import quote, unquote, urlsplit

import urllib3
from urllib3.exceptions import HTTPError

from ...errors import FileRefused, StoreError, StoreVanished
from ...evidence import Evidence
from ...files.confinement import parts_of
from ...turns import Turns
from ..port import UNBOUNDED, Consume, Found, PendingFile, Room, Whole
from ..remote import RUNS
from ..side_by_side import SideBySideStore, given_up
from .line import AT_ONCE, WebdavAddress, WebdavLine, error_of
from .listing import MEMBERS, QUOTA, Member, members, moment, quotas
from .sending import Sending

_READ = 1 << 20  # bytes
_DEAD_AFTER = timedelta(hours=48)


class WebdavStore(SideBySideStore):
    """line: may be shared with other stores of the same server. Nothing can be sealed there."""

    at_once = AT_ONCE

    def __init__(self, name: str, line: WebdavLine, address: WebdavAddress, mark: str = "") -> None:
        super().__init__()
        self.name, self.mark = name, mark
        self._line, self._url = line, address.url.rstrip("/")
        self._base = unquote(urlsplit(self._url).path)
        self._run, self._numbers = "", count(1)
        self._made: set[str] = set()
        self._making = threading.Lock()

    # What the engine asks

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreError, also where the mark is not there."""
        self.require()
        self.forget_names()
        self._made = set()
        self.begin_threads()
        self._clear_old_runs()
        self._run = f"{RUNS}/{secrets.token_hex(8)}"
        self._make_folders(self._run)

    def close(self) -> None:
        """What was not named goes."""
        with suppress(StoreError):
            if self._run:
                self.delete(f"{self._run}/")
        self._run = ""
        self.end_threads()

    def notes(self, folder: str) -> None:
        """None: no such server says whether its disk has what it took, and it may lose that with its power."""
        return

    def room(self) -> Room:
        """By its quota, where the server tells it; else it knows of no end."""
        answer = self._ask("PROPFIND", "", QUOTA, {"Depth": "0"})
        free, used = quotas(answer.data, self.name)
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
        return list(self.threads().map(self._written, files))

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Side by side, each only where nothing is under its name unless `replace`."""
        ours = [file for file in files if isinstance(file, Sending)]
        try:
            self.require()
            for folder in sorted({file.path.rpartition("/")[0] for file in ours}):
                self._make_folders(folder)
        except StoreError as error:
            return given_up(ours, error)
        return list(self.threads().map(partial(self._name, replace=replace), ours))

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

    # What files on their way ask

    def put(self, path: str, body: bytes | Iterable[bytes]) -> None:
        """As one request, to its end. Raises StoreError."""
        self._ask("PUT", path, body)

    def delete(self, path: str) -> None:
        """Also what is not there. Raises StoreError."""
        self._ask("DELETE", path, may_be=(404,))

    # Requests

    def _move(self, path: str, to: str, *, replace: bool) -> None:
        headers = {"Destination": self._url_of(to), "Overwrite": "T" if replace else "F"}
        self._ask("MOVE", path, headers=headers)

    def _members(self, folder: str) -> list[Member]:
        """Directly in a folder; none where there is no folder."""
        answer = self._ask("PROPFIND", f"{folder}/" if folder else "", MEMBERS, {"Depth": "1"}, may_be=(404,))
        return [one for one in self._told(answer) if one.path != folder]

    def _member(self, path: str) -> Member | None:
        answer = self._ask("PROPFIND", path, MEMBERS, {"Depth": "0"}, may_be=(404,))
        return next(self._told(answer), None)

    def _told(self, answer: urllib3.BaseHTTPResponse) -> Iterator[Member]:
        return members(answer.data, self._base, self.name) if answer.status != 404 else iter(())

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
        answer = self._ask("PROPFIND", f"{RUNS}/", MEMBERS, {"Depth": "1"}, may_be=(404,))
        now = moment(answer.headers.get("Date"))
        for member in self._told(answer):
            if member.path != RUNS and now and member.modified and now - member.modified > _DEAD_AFTER:
                with suppress(StoreError):  # the next run tries again
                    self.delete(f"{member.path}/" if member.folder else member.path)

    def _ask(
        self, method: str, path: str, body: bytes | Iterable[bytes] | None = None, headers: Mapping[str, str] = {},
        *, may_be: Sequence[int] = (), stream: bool = False,
    ) -> urllib3.BaseHTTPResponse:  # fmt: skip
        """Raises StoreError for every answer that is not as it should be and not in `may_be`."""
        url = self._url_of(path)
        try:
            answer = self._line.ask(method, url, body, headers, stream=stream)
        except (HTTPError, OSError) as error:
            why = f"'{self.name}' does not answer ({type(error).__name__}): see to its server and the network"
            raise StoreVanished(why) from error
        if 200 <= answer.status < 300 or answer.status in may_be:
            if answer.status == 207 and method != "PROPFIND":
                raise StoreError(f"the server of '{self.name}' did only part of what it was asked")
            return answer
        if stream:
            answer.drain_conn()  # else the next request over this connection would meet its rest
            answer.release_conn()
        raise error_of(answer.status, self.name)

    def _pieces(self, answer: urllib3.BaseHTTPResponse) -> Iterator[bytes]:
        """To the very end: fewer bytes than the server announced are no end."""
        try:
            yield from answer.stream(_READ, decode_content=True)
        except (HTTPError, OSError) as error:
            raise StoreVanished(f"'{self.name}' broke off while it was read: see to the network") from error

    def _url_of(self, path: str) -> str:
        """Raises FileRefused for a name of which no address can be made."""
        if not path:
            return f"{self._url}/"
        parts_of(path.rstrip("/"))
        try:
            return f"{self._url}/{quote(path, safe='/')}"
        except UnicodeEncodeError as error:
            raise FileRefused(f"its name is no Unicode, and cannot be kept in '{self.name}'") from error
