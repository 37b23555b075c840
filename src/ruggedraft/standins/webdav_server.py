"""A WebDAV server for this machine alone, with a folder of its own behind it: wsgidav's application on cheroot."""

import sys
import threading
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from cheroot import wsgi
from wsgidav.fs_dav_provider import FilesystemProvider  # type: ignore[import-untyped]
from wsgidav.wsgidav_app import WsgiDAVApp  # type: ignore[import-untyped]

from .sftp_server import free_port

USER, PASSWORD = "stand-in", "stand-in-password"
Wsgi = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class WebdavServer:
    """Serves a folder in threads of this process. port: 0 for where it was before, or any"""

    def __init__(
        self,
        home: Path,
        address: str = "127.0.0.1",
        port: int = 0,
        around: Callable[[Wsgi], Wsgi] = lambda application: application,
    ) -> None:
        self.folder = home / "files"
        self.folder.mkdir(parents=True, exist_ok=True)
        application = WsgiDAVApp(
            {
                "provider_mapping": {"/dav": FilesystemProvider(str(self.folder), fs_opts={})},
                "simple_dc": {"user_mapping": {"*": {USER: {"password": PASSWORD}}}},
                "http_authenticator": {"accept_basic": True, "accept_digest": False, "default_to_digest": False},
                "lock_storage": True, "property_manager": False, "verbose": 0, "logging": {"enable": False},
                "dir_browser": {"enable": False},
            }
        )  # fmt: skip
        self._server = wsgi.Server(
            (address, port or _port_before(home) or free_port(address)), around(application), numthreads=20, timeout=30
        )
        self._server.shutdown_timeout = 1
        self._server.prepare()
        self.port = int(self._server.bind_addr[1])
        self.url = f"http://{address}:{self.port}/dav"
        self._thread = threading.Thread(target=self._server.serve, daemon=True)

    def start(self) -> "WebdavServer":
        """Returns at once; it answers from now on."""
        self._thread.start()
        return self

    def serve(self) -> None:
        """Until this process ends. Says where it is in the file `url` of its folder, beside what it keeps."""
        (self.folder.parent / "url").write_text(f"{self.url}\n")
        self._server.serve()

    def stop(self) -> None:
        """Ends it."""
        self._server.stop()
        self._thread.join(10)


def _port_before(home: Path) -> int:
    """Where a server of this folder served the last time; 0 for nowhere."""
    try:
        return int(urlsplit((home / "url").read_text().strip()).port or 0)
    except (OSError, ValueError):
        return 0


ADDRESS = "127.0.0.4"
"""An address of this machine's loopback of its own: whatever else is on loopback is another server."""

if __name__ == "__main__":
    WebdavServer(Path(sys.argv[1]) / "webdav", ADDRESS).serve()
