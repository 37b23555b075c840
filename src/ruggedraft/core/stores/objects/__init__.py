"""A bucket of an object storage that speaks the S3 protocol.

Source: Amazon S3 API Reference (2006-03-01): PutObject with `If-None-Match` and `x-amz-checksum-sha256`, multipart
uploads, which become visible when they are completed, ListObjectsV2 by pages, `Range` of RFC 9110.
"""

from .client import ObjectsAddress, ObjectsSecret, objects_client
from .store import ObjectsStore

__all__ = ["ObjectsAddress", "ObjectsSecret", "ObjectsStore", "objects_client"]
