"""Files on their way into a bucket."""

import base64
import hashlib
import threading
from collections import deque
from concurrent.futures import Future
from typing import TYPE_CHECKING, Any

import xxhash

from ...errors import Conflict, StoreError
from ..port import Data, PendingFile
from .client import asked_again

if TYPE_CHECKING:
    from types_boto3_s3.type_defs import CompletedPartTypeDef

    from .store import ObjectsStore

_OUTSTANDING = 3


class Budget:
    """So many bytes may be held; who wants more waits until some are given back."""

    def __init__(self, most: int) -> None:
        self._left, self._most, self._changed = most, most, threading.Condition()

    def take(self, count: int) -> int:
        """Wait until so many are left, and hold them. Returns how many are held: never more than there are in all."""
        count = min(count, self._most)
        with self._changed:
            self._changed.wait_for(lambda: self._left >= count)
            self._left -= count
        return count

    def give_back(self, count: int) -> None:
        """What `take` returned."""
        with self._changed:
            self._left += count
            self._changed.notify_all()


class Upload(PendingFile):
    """A file on its way. part: bytes of each part; a file of less is sent when it gets its name."""

    def __init__(self, store: "ObjectsStore", path: str, part: int) -> None:
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
        whole = hashlib.sha256(b"".join(self._digests)) if self._upload else self._whole  # of the parts': "composite"
        wanted = _base64(whole.digest())
        try:
            said = self._send_off(wanted, replace=replace)
            self._upload = ""
        except StoreError as error:
            # of a request that was carried out and whose answer was lost, the second try meets what the first one left
            if not (asked_again(error) and self._stands(wanted)):
                raise
            said = wanted
        if _bare(said or self._said()) != wanted:
            return {}  # it says nothing, or something else: then it is read back
        return {"sha256": self._whole.hexdigest(), "xxh128": self._fast.hexdigest()}

    def _send_off(self, wanted: str, *, replace: bool) -> str:
        """Returns the checksum that the server answers with, or nothing. Raises StoreError."""
        store, key = self._store, self._store._at(self.path)
        only_if_free: Any = {} if replace else {"IfNoneMatch": "*"}
        if self._upload:
            if not replace and store.facts(self.path) is not None:
                raise Conflict(f"something else is under this name on '{store.name}'")
            answer = store._ask(lambda: self._complete(key, only_if_free))
        else:
            content = bytes(self._buffer)
            answer = store._ask(
                lambda: store._client.put_object(
                    Bucket=store._bucket, Key=key, Body=content, ChecksumAlgorithm="SHA256", ChecksumSHA256=wanted,
                    **only_if_free,
                )
            )  # fmt: skip
        self._store.note_tag(self.path, self._size, answer.get("ETag"))
        return answer.get("ChecksumSHA256") or ""

    def _stands(self, wanted: str) -> bool:
        """Whether the server says that what was sent is under its name. One that does not answer says nothing."""
        try:
            return _bare(self._said()) == wanted
        except StoreError:
            return False

    def _said(self) -> str:
        """The checksum that the server has of what is under the name now, or nothing. Raises StoreError."""
        store = self._store
        words: Any = {"Bucket": store._bucket, "Key": store._at(self.path), "ChecksumMode": "ENABLED"}
        return store._ask(lambda: store._client.head_object(**words)).get("ChecksumSHA256") or ""

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
        self._sending.append(store.threads().submit(self._send_part, len(self._digests), content, digest))

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


def _bare(checksum: str) -> str:
    """Some servers add the number of parts."""
    return checksum.partition("-")[0]


def _base64(digest: bytes) -> str:
    return base64.b64encode(digest).decode()
