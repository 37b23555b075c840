"""A server that speaks the S3 protocol, for this machine alone: moto's, which also compares checksums as S3 does.

Source: Amazon S3 API Reference, PutObject and UploadPart: a body whose SHA-256 is not the one in
`x-amz-checksum-sha256` is refused with `BadDigest`, and what answers names the checksum that was computed.
"""

import base64
import hashlib
import io
import json
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from moto.core.models import DEFAULT_ACCOUNT_ID
from moto.moto_server.werkzeug_app import DomainDispatcherApplication, create_backend_app
from moto.s3.models import s3_backends
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


class Keeping:
    """Around an application: what its buckets hold is in a folder, from one start to the next.

    An object's bytes are read from its file at each request: what rots there is given rotten.
    """

    def __init__(self, application: Wsgi, home: Path) -> None:
        self._application, self._home, self._lock = application, home, threading.Lock()
        home.mkdir(parents=True, exist_ok=True)
        for bucket in sorted(path for path in home.iterdir() if path.is_dir()):
            _backend().create_bucket(bucket.name, _REGION)
            for sheet in sorted(bucket.glob("*.json")):
                self._load(bucket.name, sheet)

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        answer = list(self._application(environ, start_response))
        if environ["REQUEST_METHOD"] in ("PUT", "POST", "DELETE"):
            with self._lock:
                self._keep()
        return answer

    def _load(self, bucket: str, sheet: Path) -> None:
        facts = json.loads(sheet.read_text())
        key = _backend().put_object(bucket, facts["key"], b"")
        for name in _FACTS:
            setattr(key, name, facts[name])
        self._on_file(key, sheet.with_suffix(""))

    def _keep(self) -> None:
        for name, bucket in _backend().buckets.items():
            folder = self._home / name
            folder.mkdir(exist_ok=True)
            there = {sheet.stem for sheet in folder.glob("*.json")}
            held = {_file_name(key): bucket.keys[key] for key in list(bucket.keys)}
            for gone in there - held.keys():
                (folder / f"{gone}.json").unlink()
                (folder / gone).unlink(missing_ok=True)
            for file, key in held.items():
                if not isinstance(key._value_buffer, io.BufferedRandom):
                    self._write(folder / file, key)

    def _write(self, file: Path, key: Any) -> None:
        file.write_bytes(key.value)
        facts = {"key": key.name, **{name: getattr(key, name) for name in _FACTS}}
        file.with_name(f"{file.name}.json").write_text(json.dumps(facts))
        self._on_file(key, file)

    def _on_file(self, key: Any, file: Path) -> None:
        key.contentsize = file.stat().st_size
        key._etag = key.etag.strip('"') if key._value_buffer else None
        key._value_buffer.close()
        key._value_buffer = file.open("r+b")


_REGION = "us-east-1"
_FACTS = ("_etag", "checksum_algorithm", "checksum_value", "checksum_type", "checksum_parts")


def _backend() -> Any:
    return s3_backends[DEFAULT_ACCOUNT_ID]["aws"]


def _file_name(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()[:32]


class _Quiet(WSGIRequestHandler):
    protocol_version = "HTTP/1.1"

    def log(self, type: str, message: str, *args: Any) -> None:
        """Nothing is printed for each request."""


class BucketServer:
    """Serves in threads of this process. home: where it keeps everything and its port; None: it forgets all"""

    def __init__(
        self,
        address: str = "127.0.0.1",
        home: Path | None = None,
        around: Callable[[Wsgi], Wsgi] = lambda application: application,
    ) -> None:
        application: Wsgi = Comparing(DomainDispatcherApplication(create_backend_app))
        port = 0
        if home:
            application = Keeping(application, home / "buckets")
            if (home / "port").exists():
                port = int((home / "port").read_text())
        application = around(application)
        self._server: BaseWSGIServer = make_server(address, port, application, threaded=True, request_handler=_Quiet)
        if home:
            (home / "port").write_text(str(self._server.server_port))
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

    def serve(self) -> None:
        """Until this process ends."""
        self._server.serve_forever()


STORAGE = "127.0.0.3"
"""An address of this machine's loopback of its own: whatever else is on loopback is another server."""
_PATIENCE_S = 60


class Storage:
    """The demo's object storage, far away, as a process of its own. standins: where stand-ins have their things"""

    def __init__(self, standins: Path) -> None:
        self._standins, self._process = standins, None  # type: Path, subprocess.Popen[bytes] | None

    @property
    def endpoint(self) -> str:
        """Where it is, once it was started."""
        return f"http://{STORAGE}:{self._port.read_text()}"

    @property
    def _port(self) -> Path:
        return self._standins / "object-storage" / "port"

    def start(self) -> "Storage":
        """Returns once it answers. Raises RuntimeError where it does not."""
        self._process = subprocess.Popen([sys.executable, "-m", "ruggedraft.standins.bucket_server", self._standins])
        deadline = time.monotonic() + _PATIENCE_S
        while time.monotonic() < deadline and self._process.poll() is None:
            try:
                socket.create_connection((STORAGE, int(self._port.read_text())), 1).close()
            except (OSError, ValueError):
                time.sleep(0.1)
            else:
                return self
        self.stop()
        raise RuntimeError("the stand-in object storage does not start")

    def stop(self) -> None:
        """Ends it."""
        if self._process:
            self._process.terminate()
            self._process.wait(_PATIENCE_S)
            self._process = None


if __name__ == "__main__":
    BucketServer(STORAGE, home=Path(sys.argv[1]) / "object-storage").serve()
