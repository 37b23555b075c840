"""A server that speaks the S3 protocol, for this machine alone: moto's, which also compares checksums as S3 does.

Source: Amazon S3 API Reference, PutObject and UploadPart: a body whose SHA-256 is not the one in
`x-amz-checksum-sha256` is refused with `BadDigest`, and what answers names the checksum that was computed.
"""

import base64
import hashlib
import io
import threading
from collections.abc import Callable, Iterable
from typing import Any

from moto.moto_server.werkzeug_app import DomainDispatcherApplication, create_backend_app
from werkzeug.serving import BaseWSGIServer, WSGIRequestHandler, make_server

ACCESS_KEY, SECRET_KEY = "stand-in-key", "stand-in-secret"
_BAD_DIGEST = (
    b'<?xml version="1.0" encoding="UTF-8"?><Error><Code>BadDigest</Code>'
    b"<Message>The SHA256 you specified did not match what was received.</Message></Error>"
)
Wsgi = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class Comparing:
    """Around an application: refuses what did not arrive as it was sent."""

    def __init__(self, application: Wsgi) -> None:
        self._application = application

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        wanted = environ.get("HTTP_X_AMZ_CHECKSUM_SHA256")
        if environ["REQUEST_METHOD"] == "PUT" and wanted:
            body = environ["wsgi.input"].read(int(environ.get("CONTENT_LENGTH") or 0))
            if base64.b64encode(hashlib.sha256(body).digest()).decode() != wanted:
                start_response("400 Bad Request", [("Content-Type", "application/xml")])
                return [_BAD_DIGEST]
            environ["wsgi.input"] = io.BytesIO(body)
        return self._application(environ, start_response)


class _Quiet(WSGIRequestHandler):
    protocol_version = "HTTP/1.1"

    def log(self, type: str, message: str, *args: Any) -> None:
        """Nothing is printed for each request."""


class BucketServer:
    """Serves in threads of this process, and forgets everything when that ends."""

    def __init__(self, address: str = "127.0.0.1", around: Callable[[Wsgi], Wsgi] = lambda application: application):
        application = around(Comparing(DomainDispatcherApplication(create_backend_app)))
        self._server: BaseWSGIServer = make_server(address, 0, application, threaded=True, request_handler=_Quiet)
        self.endpoint = f"http://{address}:{self._server.server_port}"
        self._thread = threading.Thread(target=self._server.serve_forever, daemon=True)

    def start(self) -> "BucketServer":
        """Returns at once; it answers from now on."""
        self._thread.start()
        return self

    def stop(self) -> None:
        """Ends it."""
        self._server.shutdown()
        self._server.server_close()
        self._thread.join(10)
