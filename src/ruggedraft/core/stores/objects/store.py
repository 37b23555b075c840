"""The store: what the engine asks, as requests to the server."""

import contextlib
import hashlib
from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime
from functools import partial
from posixpath import commonpath
from typing import TYPE_CHECKING, Any, TypeVar

from botocore.exceptions import BotoCoreError, ClientError

from ...errors import Conflict, FileRefused, StoreError, StoreVanished
from ...evidence import Evidence
from ...files.confinement import parts_of
from ...hashing import Algorithm
from ...turns import Turns
from ..port import UNBOUNDED, Consume, Found, PendingFile, Room
from ..remote import missing
from ..side_by_side import SideBySideStore, given_up
from .client import AT_ONCE, ObjectsAddress, code_of, objects_error
from .upload import Budget, Upload

if TYPE_CHECKING:
    from types_boto3_s3.client import S3Client

T = TypeVar("T")

_PART = 16 << 20  # bytes
_MOST_PARTS = 9000
"""Of 10,000 that the protocol allows."""
_READ = 4 << 20  # bytes
_IN_MEMORY = 256 << 20
"""Bytes of small files that wait for their names: more than the engine gathers before it has them named."""
_DEAD_AFTER = timedelta(hours=48)
"""An upload that was begun so long ago, by the server's own clock, is left over from a run that died."""
_NO_LOCK = {"InvalidRequest", "ObjectLockConfigurationNotFoundError", "MethodNotAllowed", "NotImplemented"}
"""Amazon S3 API Reference, PutObjectLegalHold, and what other servers answer; from memory."""
_LONGEST_KEY = 1024  # bytes of UTF-8
_FEW = 64


class ObjectsStore(SideBySideStore):
    """client: may be shared with other stores of the same server. Sealed is what the bucket's object lock holds.

    attests: what the server computed of each upload is believed instead of reading back
    """

    at_once = AT_ONCE

    def __init__(
        self, name: str, client: "S3Client", address: ObjectsAddress, mark: str = "", *, attests: bool = True
    ) -> None:
        super().__init__()
        self.name, self.mark, self.attests = name, mark, attests
        self._client, self._bucket = client, address.bucket
        self._base = f"{address.prefix.strip('/')}/" if address.prefix.strip("/") else ""
        self._budget = Budget(_IN_MEMORY)
        self._confirmed: dict[str, dict[str, str]] = {}
        self._tags: dict[str, tuple[int, ...] | None] = {}

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreError, also where the mark is not there."""
        self.require()
        self._confirmed, self._tags = {}, {}
        self.forget_names()
        self.begin_threads()
        self._clear_old_uploads()

    def close(self) -> None:
        """Its threads end."""
        self.let_notes_go()
        self.end_threads()

    def room(self) -> Room:
        """A bucket takes what is paid for."""
        try:
            self._ask(lambda: self._client.head_bucket(Bucket=self._bucket))
        except FileRefused as error:
            raise StoreVanished(f"'{self.name}' is not there: its server has no such bucket") from error
        return Room(UNBOUNDED, UNBOUNDED)

    def found(self, path: str) -> Found | None:
        """There are no folders."""
        facts = self.facts(path) if self.may_be_there(path) else None
        return Found(True, facts[0]) if facts else None

    def facts(self, path: str) -> tuple[int, int | None] | None:
        """A bucket knows when something was uploaded, and not which time it has."""
        try:
            head = self._ask(lambda: self._client.head_object(Bucket=self._bucket, Key=self._at(path)))
        except FileRefused:
            return None
        return head["ContentLength"], None

    def note_tag(self, path: str, size: int, tag: str | None) -> None:
        """As the server answered to an upload."""
        self._tags[path] = _stamp(size, tag)

    def stamps(self, paths: Sequence[str]) -> list[tuple[int, ...] | None]:
        """Size and entity tag, which is another one once the object is written again.

        Of what this run uploaded the server has told it; of few others it is asked for each, many are listed.
        """
        others = [path for path in paths if path not in self._tags]
        if len(others) > _FEW:
            told = self._tags_beneath(commonpath(others))
        else:
            told = dict(zip(others, self.threads().map(self._tag_of, others), strict=True))
        return [self._tags[path] if path in self._tags else told.get(path) for path in paths]

    def _tag_of(self, path: str) -> tuple[int, ...] | None:
        try:
            head = self._ask(lambda: self._client.head_object(Bucket=self._bucket, Key=self._at(path)))
        except FileRefused:
            return None
        return _stamp(head["ContentLength"], head.get("ETag"))

    def _tags_beneath(self, folder: str) -> dict[str, tuple[int, ...] | None]:
        pages = self._pages(Prefix=self._base + (f"{folder}/" if folder else ""))
        listed = (one for page in pages for one in page.get("Contents", ()))
        return {one["Key"].removeprefix(self._base): _stamp(one["Size"], one.get("ETag")) for one in listed}

    def write(self, path: str, size: int = 0, mode: int | None = None) -> Upload:
        """In parts; a server shows nothing of them before they are put together."""
        self._at(path)
        return Upload(self, path, max(_PART, -(-size // _MOST_PARTS)))

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Side by side, each only where nothing is under its name unless `replace`."""
        ours = [file for file in files if isinstance(file, Upload)]
        try:
            self.require()
        except StoreError as error:
            return given_up(ours, error)
        return list(self.threads().map(partial(self._name, replace=replace), ours))

    def _name(self, file: Upload, *, replace: bool) -> StoreError | None:
        try:
            self._confirmed[file.path] = file.put(replace=replace)
        except StoreError as error:
            return error
        finally:
            file.discard()
            self.named(file.path)  # or somebody else's is there
        return None

    def settle(self, folders: Sequence[tuple[str, int | None]]) -> None:
        """There are no folders; what is under its name is durable, says the protocol."""
        self.require()

    def read_at(self, path: str, offset: int, size: int) -> bytes:
        """By a range; what is behind the end is nothing."""
        words: Any = {"Bucket": self._bucket, "Key": self._at(path), "Range": f"bytes={offset}-{offset + size - 1}"}
        try:
            return self._ask(lambda: self._client.get_object(**words)["Body"].read())
        except StoreError as error:
            if code_of(error) in ("InvalidRange", "416"):
                return b""
            raise

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """As one stream, which the server must give to its end."""
        if self._ask(partial(self._lacking, self._at(path), consume)):
            raise StoreVanished(f"'{self.name}' broke off while it was read: see to the network")
        return Evidence.READ_BACK

    def _lacking(self, key: str, consume: Consume) -> int:
        """Read an object; how many bytes of what was announced did not come."""
        answer = self._client.get_object(Bucket=self._bucket, Key=key)
        count = 0
        for piece in answer["Body"].iter_chunks(_READ):
            count += len(piece)
            consume(piece)
        return answer["ContentLength"] - count

    def attested(self, files: Sequence[tuple[str, str]], algorithm: Algorithm) -> list[bool | None]:
        """Of what this run uploaded: the server answered with the checksum of what was handed over, which has this one.

        Both are taken of the same bytes on their way out. What stood there before is read back.
        """
        if not self.attests:
            return [None] * len(files)
        known = (self._confirmed.get(path, {}).get(algorithm.name) for path, _ in files)
        return [None if one is None else one == checksum for one, (_, checksum) in zip(known, files, strict=True)]

    def seal(self, path: str) -> None:
        """By a legal hold of the bucket's object lock: this version can be neither changed nor deleted under it."""
        self._hold(path, on=True)

    def unseal(self, path: str) -> None:
        """The hold is lifted; nothing where there is none."""
        with contextlib.suppress(FileRefused):
            self._hold(path, on=False)

    def _hold(self, path: str, *, on: bool) -> None:
        key = self._at(path)
        status: Any = {"Status": "ON" if on else "OFF"}
        try:
            self._ask(lambda: self._client.put_object_legal_hold(Bucket=self._bucket, Key=key, LegalHold=status))
        except StoreError as error:
            if code_of(error) in _NO_LOCK:
                raise FileRefused(
                    f"the bucket of '{self.name}' has no object lock: nothing there can be sealed"
                ) from error
            raise

    def look(self, folder: str) -> dict[str, tuple[int, int | None]]:
        """By pages; without times, which no listing knows."""
        self.require()
        inside = self._at(folder) + "/" if folder else self._base
        found: dict[str, tuple[int, int | None]] = {}
        for page in self._pages(Prefix=inside):
            for one in page.get("Contents", ()):
                found[one["Key"].removeprefix(inside)] = one["Size"], None
        self.require()
        return found

    def names_in(self, folder: str) -> set[str]:
        """By pages of one level."""
        inside = self._base + (f"{folder}/" if folder else "")
        pages = self._pages(Prefix=inside, Delimiter="/")
        return {one["Key"].removeprefix(inside) for page in pages for one in page.get("Contents", ())}

    def _pages(self, **asked: str) -> Iterator[Any]:
        more: dict[str, Any] = {}
        while True:
            words = {"Bucket": self._bucket, **asked, **more}
            page = self._ask(lambda words=words: self._client.list_objects_v2(**words))  # type: ignore[misc]
            yield page
            if not page.get("IsTruncated"):
                return
            more = {"ContinuationToken": page["NextContinuationToken"]}

    def move(self, path: str, to: str) -> None:
        """The server copies it, and then forgets the old name; in between there are two."""
        if self.found(to) is not None:
            raise Conflict(f"something else is under this name on '{self.name}'")
        source, target = {"Bucket": self._bucket, "Key": self._at(path)}, self._at(to)
        self._ask(lambda: self._client.copy(source, self._bucket, target))  # type: ignore[arg-type]
        facts, copied = self.facts(path), self.facts(to)
        if facts is None or copied is None or facts[0] != copied[0]:
            raise FileRefused(f"'{self.name}' did not move it as a whole; both were left alone")
        self._delete(path)

    def withdraw(self, path: str) -> None:
        """Where the bucket keeps versions it keeps this one too."""
        if self.facts(path) is None:
            raise missing(self.name)
        self._delete(path)

    def _delete(self, path: str) -> None:
        self._confirmed.pop(path, None)
        self._tags.pop(path, None)
        key = self._at(path)
        self._ask(lambda: self._client.delete_object(Bucket=self._bucket, Key=key))

    def _clear_old_uploads(self) -> None:
        answer = self._ask(lambda: self._client.list_multipart_uploads(Bucket=self._bucket, Prefix=self._base))
        now = _server_time(answer)
        for one in answer.get("Uploads", ()):
            if now - one["Initiated"] > _DEAD_AFTER:
                self._abort(one["Key"], one["UploadId"])

    def _abort(self, key: str, upload: str) -> None:
        try:
            self._client.abort_multipart_upload(Bucket=self._bucket, Key=key, UploadId=upload)
        except (BotoCoreError, ClientError):
            return  # the next run tries again

    def _ask(self, request: Callable[[], T]) -> T:
        try:
            return request()
        except (BotoCoreError, ClientError, OSError) as error:
            raise objects_error(error, self.name) from error

    def _at(self, path: str) -> str:
        """Raises FileRefused for a name that no bucket can keep."""
        parts_of(path)
        key = self._base + path
        try:
            if len(key.encode()) > _LONGEST_KEY:
                raise FileRefused(f"its path is too long for '{self.name}'")
        except UnicodeEncodeError as error:
            raise FileRefused(f"its name is no Unicode, and cannot be kept in '{self.name}'") from error
        return key


def _stamp(size: int, tag: str | None) -> tuple[int, ...] | None:
    """Entity tags are text of any form: RFC 9110, 8.8.3."""
    return (size, int.from_bytes(hashlib.blake2b(tag.encode(), digest_size=7).digest())) if tag else None


def _server_time(answer: Any) -> datetime:
    """As the server's own clock has it."""
    said = answer["ResponseMetadata"]["HTTPHeaders"].get("date", "")
    try:
        return parsedate_to_datetime(said).astimezone(UTC)
    except ValueError:
        return datetime.min.replace(tzinfo=UTC)
