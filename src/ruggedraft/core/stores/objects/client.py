"""Reaching a server of object storage, and what its answers mean."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import boto3
from botocore.config import Config
from botocore.exceptions import ClientError

from ...errors import Conflict, FileRefused, StoreError, StoreFull, StoreVanished
from ..remote import missing

if TYPE_CHECKING:
    from types_boto3_s3.client import S3Client

AT_ONCE = 32
"""Requests of one store under way side by side."""


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
        connect_timeout=min(15.0, patience_s), read_timeout=patience_s, max_pool_connections=AT_ONCE + 8,
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


def code_of(error: StoreError) -> str:
    """What the server called it; empty where no server said so."""
    cause = error.__cause__
    return str(cause.response.get("Error", {}).get("Code", "")) if isinstance(cause, ClientError) else ""


def asked_again(error: StoreError) -> bool:
    """Whether the request was made more than once, as the library does after some answers and where there was none."""
    cause = error.__cause__
    told: Any = cause.response.get("ResponseMetadata", {}) if isinstance(cause, ClientError) else {}
    return bool(told.get("RetryAttempts"))
