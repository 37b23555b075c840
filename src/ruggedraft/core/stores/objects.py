"""A bucket of an object storage that speaks the S3 protocol.

Source: Amazon S3 API Reference (2006-03-01): PutObject with `If-None-Match` and `x-amz-checksum-sha256`, multipart
uploads, which become visible when they are completed, ListObjectsV2 by pages, `Range` of RFC 9110.
"""

import base64
import hashlib
import threading
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime
from functools import partial
from typing import TYPE_CHECKING, Any, TypeVar

import boto3
import xxhash
from botocore.config import Config
from botocore.exceptions import BotoCoreError, ClientError

from ..errors import Conflict, FileRefused, StoreError, StoreFull, StoreVanished
from ..evidence import Evidence
from ..files.confinement import parts_of
from ..hashing import Algorithm
from ..turns import Turns
from .port import UNBOUNDED, Consume, Data, Found, PendingFile, Room, ToRead
from .remote import RemoteStore, missing

if TYPE_CHECKING:
    from types_boto3_s3.client import S3Client
    from types_boto3_s3.type_defs import CompletedPartTypeDef

T = TypeVar("T")

_AT_ONCE = 32
_PART = 16 << 20  # bytes
_MOST_PARTS = 9000
"""Of 10,000 that the protocol allows."""
_OUTSTANDING = 3
_READ = 4 << 20  # bytes
_IN_MEMORY = 256 << 20
"""Bytes of small files that wait for their names: more than the engine gathers before it has them named."""
_DEAD_AFTER = timedelta(hours=48)
"""An upload that was begun so long ago, by the server's own clock, is left over from a run that died."""


@dataclass(frozen=True)
class ObjectsAddress:
    """endpoint: such as https://storage.example. prefix: beneath which the store lies, or empty"""

    endpoint: str
    region: str
    bucket: str
    prefix: str = ""


@dataclass(frozen=True)
class ObjectsSecret:
    """Never shown."""

    access_key: str = field(default="", repr=False)
    secret_key: str = field(default="", repr=False)


def objects_client(address: ObjectsAddress, secret: ObjectsSecret, patience_s: float = 60.0) -> "S3Client":
    """Many threads may share it. Nothing of this machine's own configuration is used but its certificates."""
    config = Config(
        connect_timeout=min(15.0, patience_s), read_timeout=patience_s, max_pool_connections=_AT_ONCE + 8,
        retries={"max_attempts": 3, "mode": "standard"}, s3={"addressing_style": "path"},
        request_checksum_calculation="when_required", response_checksum_validation="when_required",
    )  # fmt: skip
    session = boto3.session.Session(
        aws_access_key_id=secret.access_key, aws_secret_access_key=secret.secret_key, region_name=address.region
    )
    return session.client("s3", endpoint_url=address.endpoint, config=config)


_SHUT = {
    "AccessDenied", "InvalidAccessKeyId", "SignatureDoesNotMatch", "ExpiredToken", "InvalidToken",
    "TokenRefreshRequired", "403",
}  # fmt: skip
_NONE = {"NoSuchKey", "404", "NotFound"}
_TAKEN = {"PreconditionFailed", "412", "ConditionalRequestConflict", "409"}
_FULL = {"QuotaExceeded", "507", "StorageFull", "XMinioStorageFull", "InsufficientStorage"}
_TORN = {"BadDigest", "InvalidDigest", "XAmzContentChecksumMismatch", "IncompleteBody"}


def objects_error(error: Exception, store: str) -> StoreError:
    """Translate what a server or the network said. What they say in their own words is not repeated."""
    if not isinstance(error, ClientError):
        return StoreVanished(f"'{store}' does not answer ({type(error).__name__}): see to its server and the network")
    code = str(error.response.get("Error", {}).get("Code", ""))
    for codes, make in _MEANINGS:
        if code in codes:
            return make(store)
    return StoreVanished(
        f"the server of '{store}' cannot do what it was asked ({code or 'no reason given'}): try later"
    )


_MEANINGS: Sequence[tuple[set[str], Callable[[str], StoreError]]] = (
    (_NONE, missing),
    (_TAKEN, lambda name: Conflict(f"something else is under this name on '{name}'")),
    (_SHUT, lambda name: StoreVanished(f"the server of '{name}' does not accept our key: give it the right one")),
    (_FULL, lambda name: StoreFull(f"'{name}' is full: make room on it, and offload again")),
    (_TORN, lambda name: FileRefused(f"'{name}' says that it did not arrive as it was sent: offload again")),
    ({"NoSuchBucket"}, lambda name: StoreVanished(f"'{name}' is not there: its server has no such bucket")),
    ({"RequestTimeTooSkewed"},
     lambda name: StoreVanished(f"the clocks of this machine and of the server of '{name}' are apart: set them right")),
)  # fmt: skip


class ObjectsStore(RemoteStore):
    """client: may be shared with other stores of the same server. Nothing can be sealed there by us.

    attests: what the server computed of each upload is believed instead of reading back
    """

    def __init__(
        self, name: str, client: "S3Client", address: ObjectsAddress, mark: str = "", *, attests: bool = True
    ) -> None:
        super().__init__()
        self.name, self.mark, self.attests = name, mark, attests
        self._client, self._bucket = client, address.bucket
        self._base = f"{address.prefix.strip('/')}/" if address.prefix.strip("/") else ""
        self._pool: ThreadPoolExecutor | None = None
        self._budget = _Budget(_IN_MEMORY)
        self._confirmed: dict[str, dict[str, str]] = {}

    def open(self, turns: Turns | None = None) -> None:
        """Raises StoreError, also where the mark is not there."""
        self.require()
        self._confirmed = {}
        self.forget_names()
        self._pool = self._pool or ThreadPoolExecutor(_AT_ONCE, thread_name_prefix=f"bucket {self.name}")
        self._clear_old_uploads()

    def close(self) -> None:
        """Its threads end."""
        pool, self._pool = self._pool, None
        if pool:
            pool.shutdown(wait=False, cancel_futures=True)

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

    def write(self, path: str, size: int = 0, mode: int | None = None) -> "_Upload":
        """In parts; a server shows nothing of them before they are put together."""
        self._at(path)
        return _Upload(self, path, max(_PART, -(-size // _MOST_PARTS)))

    def commit(self, files: Sequence[PendingFile], *, replace: bool = False) -> list[StoreError | None]:
        """Side by side, each only where nothing is under its name unless `replace`."""
        ours = [file for file in files if isinstance(file, _Upload)]
        try:
            self.require()
        except StoreError as error:
            for file in ours:
                file.discard()
            return [error] * len(ours)
        return list(self._running().map(partial(self._name, replace=replace), ours))

    def _name(self, file: "_Upload", *, replace: bool) -> StoreError | None:
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
        wanted = f"bytes={offset}-{offset + size - 1}"
        key = self._at(path)

        def read() -> bytes:
            return self._client.get_object(Bucket=self._bucket, Key=key, Range=wanted)["Body"].read()

        try:
            return self._ask(read)
        except StoreError as error:
            if _code(error) in ("InvalidRange", "416"):
                return b""
            raise

    def read_back(self, path: str, consume: Consume) -> Evidence:
        """As one stream, which the server must give to its end."""
        key = self._at(path)

        def read() -> int:
            answer = self._client.get_object(Bucket=self._bucket, Key=key)
            count = 0
            for piece in answer["Body"].iter_chunks(_READ):
                count += len(piece)
                consume(piece)
            return answer["ContentLength"] - count

        if self._ask(read):
            raise StoreVanished(f"'{self.name}' broke off while it was read: see to the network")
        return Evidence.READ_BACK

    def read_back_small(
        self, files: Sequence[ToRead], consume: Callable[[int, Data], object]
    ) -> list[Evidence | StoreError]:
        """Side by side, not more at once than there are connections."""
        outcome: list[Evidence | StoreError] = []
        for start in range(0, len(files), _AT_ONCE):
            window = files[start : start + _AT_ONCE]
            contents = self.read_many([file.path for file in window], [file.size for file in window])
            for n, content in enumerate(contents, start):
                outcome.append(content if isinstance(content, StoreError) else Evidence.READ_BACK)
                if not isinstance(content, StoreError):
                    consume(n, content)
        return outcome

    def read_many(self, paths: Sequence[str], expected: Sequence[int]) -> list[bytes | StoreError]:
        """Each as a whole."""
        if self._pool is None:
            with ThreadPoolExecutor(_AT_ONCE) as pool:
                return list(pool.map(self._whole, paths))
        return list(self._pool.map(self._whole, paths))

    def _whole(self, path: str) -> bytes | StoreError:
        content = bytearray()
        try:
            self.read_back(path, content.extend)
        except StoreError as error:
            return error
        return bytes(content)

    def attested(self, files: Sequence[tuple[str, str]], algorithm: Algorithm) -> list[bool | None]:
        """Of what this run uploaded: the server answered with the checksum of what was handed over, which has this one.

        Both are taken of the same bytes on their way out. What stood there before is read back.
        """
        if not self.attests:
            return [None] * len(files)
        known = (self._confirmed.get(path, {}).get(algorithm.name) for path, _ in files)
        return [None if one is None else one == checksum for one, (_, checksum) in zip(known, files, strict=True)]

    def look(self, folder: str) -> dict[str, tuple[int, int | None]]:
        """By pages; without times, which no listing knows."""
        self.require()
        inside = self._at(folder) + "/"
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

    def _running(self) -> ThreadPoolExecutor:
        if self._pool is None:
            raise RuntimeError("a store is written between open() and close()")
        return self._pool

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


_LONGEST_KEY = 1024  # bytes of UTF-8


class _Budget:
    """So many bytes may be held; who wants more waits until some are given back."""

    def __init__(self, most: int) -> None:
        self._left, self._most, self._changed = most, most, threading.Condition()

    def take(self, count: int) -> int:
        count = min(count, self._most)
        with self._changed:
            self._changed.wait_for(lambda: self._left >= count)
            self._left -= count
        return count

    def give_back(self, count: int) -> None:
        with self._changed:
            self._left += count
            self._changed.notify_all()


class _Upload(PendingFile):
    """A file on its way. part: bytes of each part; a file of less is sent when it gets its name."""

    def __init__(self, store: ObjectsStore, path: str, part: int) -> None:
        self.path, self._store, self._part = path, store, part
        self._buffer, self._held, self._size = bytearray(), 0, 0
        self._over = False
        self._upload = ""
        self._sending: deque[Future[str]] = deque()
        self._digests: list[bytes] = []
        self._tags: list[str] = []
        self._whole, self._fast = hashlib.sha256(), xxhash.xxh3_128()

    def write(self, data: Data) -> None:
        """Copies it. Raises StoreError, perhaps for a part before."""
        self._whole.update(data)
        self._fast.update(data)
        self._buffer += data
        self._size += len(data)
        while len(self._buffer) >= self._part:
            self._send(bytes(self._buffer[: self._part]))
            del self._buffer[: self._part]

    def skip(self, count: int) -> None:
        """There are no holes: zeros are sent."""
        while count:
            piece = min(count, self._part)
            self.write(bytes(piece))
            count -= piece

    def end(self, modified_ns: int) -> None:
        """Waits for the parts that are under way, and until there is room to hold what is left. Keeps no time."""
        if self._upload:
            if self._buffer:
                self._send(bytes(self._buffer))
                self._buffer.clear()
            while self._sending:
                self._wait_for_one()
        else:
            self._held = self._store._budget.take(len(self._buffer))

    def put(self, *, replace: bool) -> dict[str, str]:
        """Give it its name. Returns the checksums of what was handed over, where the server confirmed it; by algorithm.

        Raises StoreError.
        """
        store, key = self._store, self._store._at(self.path)
        only_if_free: Any = {} if replace else {"IfNoneMatch": "*"}
        if self._upload:
            if not replace and store.facts(self.path) is not None:
                raise Conflict(f"something else is under this name on '{store.name}'")
            answer = store._ask(lambda: self._complete(key, only_if_free))
            wanted = _base64(hashlib.sha256(b"".join(self._digests)).digest())  # of the parts' own: "composite"
        else:
            content, wanted = bytes(self._buffer), _base64(self._whole.digest())
            answer = store._ask(
                lambda: store._client.put_object(
                    Bucket=store._bucket, Key=key, Body=content, ChecksumAlgorithm="SHA256", ChecksumSHA256=wanted,
                    **only_if_free,
                )
            )  # fmt: skip
        self._upload = ""
        said = answer.get("ChecksumSHA256") or store._ask(
            lambda: store._client.head_object(Bucket=store._bucket, Key=key, ChecksumMode="ENABLED")
        ).get("ChecksumSHA256")
        if (said or "").partition("-")[0] != wanted:  # some servers add the number of parts
            return {}  # it says nothing, or something else: then it is read back
        return {"sha256": self._whole.hexdigest(), "xxh128": self._fast.hexdigest()}

    def _complete(self, key: str, only_if_free: Any) -> Any:
        parts: list[CompletedPartTypeDef] = [
            {"PartNumber": n, "ETag": tag, "ChecksumSHA256": _base64(digest)}
            for n, (tag, digest) in enumerate(zip(self._tags, self._digests, strict=True), 1)
        ]
        return self._store._client.complete_multipart_upload(
            Bucket=self._store._bucket, Key=key, UploadId=self._upload, MultipartUpload={"Parts": parts}, **only_if_free
        )

    def discard(self) -> None:
        """Nothing was visible yet; the parts are given up."""
        if self._over:
            return
        self._over = True
        for one in self._sending:
            one.cancel()
        self._store._budget.give_back(self._held)
        self._buffer.clear()
        if self._upload:
            self._store._abort(self._store._at(self.path), self._upload)

    def _send(self, content: bytes) -> None:
        store = self._store
        if not self._upload:
            key = store._at(self.path)
            self._upload = store._ask(
                lambda: store._client.create_multipart_upload(
                    Bucket=store._bucket, Key=key, ChecksumAlgorithm="SHA256", ChecksumType="COMPOSITE"
                )
            )["UploadId"]
        if len(self._sending) >= _OUTSTANDING:
            self._wait_for_one()
        digest = hashlib.sha256(content).digest()
        self._digests.append(digest)
        self._sending.append(store._running().submit(self._send_part, len(self._digests), content, digest))

    def _send_part(self, number: int, content: bytes, digest: bytes) -> str:
        store, key = self._store, self._store._at(self.path)
        answer = store._ask(
            lambda: store._client.upload_part(
                Bucket=store._bucket, Key=key, UploadId=self._upload, PartNumber=number, Body=content,
                ChecksumAlgorithm="SHA256", ChecksumSHA256=_base64(digest),
            )
        )  # fmt: skip
        return answer["ETag"]

    def _wait_for_one(self) -> None:
        self._tags.append(self._sending.popleft().result())


def _base64(digest: bytes) -> str:
    return base64.b64encode(digest).decode()


def _server_time(answer: Any) -> datetime:
    """As the server's own clock has it."""
    said = answer["ResponseMetadata"]["HTTPHeaders"].get("date", "")
    try:
        return parsedate_to_datetime(said).astimezone(UTC)
    except ValueError:
        return datetime.min.replace(tzinfo=UTC)


def _code(error: StoreError) -> str:
    cause = error.__cause__
    return str(cause.response.get("Error", {}).get("Code", "")) if isinstance(cause, ClientError) else ""
