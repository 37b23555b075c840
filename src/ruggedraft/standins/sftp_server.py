"""A real SFTP server for this machine alone: OpenSSH's sshd with keys and a configuration of its own.

Source: sshd_config(5).
"""

import getpass
import os
import signal
import socket
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path

_PATIENCE_S = 20

_CONFIGURATION = """\
ListenAddress {address}
Port {port}
HostKey "{home}/host_key"
AuthorizedKeysFile "{home}/authorized_keys"
PidFile "{home}/sshd.pid"
AllowUsers {user}
UsePAM no
StrictModes no
PasswordAuthentication no
KbdInteractiveAuthentication no
PermitRootLogin prohibit-password
Subsystem sftp internal-sftp
MaxSessions 40
MaxStartups 100
LogLevel ERROR
"""


class SftpServer:
    """home: where its keys and its port are, kept from one start to the next. `stop` ends it."""

    def __init__(self, home: Path, address: str = "127.0.0.1") -> None:
        self.home, self.address = home, address
        self.user = getpass.getuser()
        home.mkdir(parents=True, exist_ok=True)
        if not (home / "port").exists():
            (home / "port").write_text(str(free_port(address)))
        self.port = int((home / "port").read_text())
        for name in ("host_key", "client_key"):
            if not (home / name).exists():
                words = ["ssh-keygen", "-q", "-t", "ed25519", "-N", "", "-C", name, "-f", str(home / name)]
                subprocess.run(words, check=True, capture_output=True)
        (home / "authorized_keys").write_bytes((home / "client_key.pub").read_bytes())
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def host_key(self) -> str:
        """As it presents itself."""
        return " ".join((self.home / "host_key.pub").read_text().split()[:2])

    @property
    def client_key(self) -> str:
        """The private key that it lets in."""
        return (self.home / "client_key").read_text()

    def start(self) -> "SftpServer":
        """Returns once it answers. Raises RuntimeError with what it said where it does not."""
        words = self._command()
        with (self.home / "log").open("wb") as log:
            self._process = subprocess.Popen(words, stdin=subprocess.DEVNULL, stdout=log, stderr=log)
        deadline = time.monotonic() + _PATIENCE_S
        while time.monotonic() < deadline and self._process.poll() is None:
            try:
                socket.create_connection((self.address, self.port), 1).close()
            except OSError:
                time.sleep(0.05)
            else:
                return self
        self.stop()
        raise RuntimeError(f"the stand-in SFTP server does not start: {(self.home / 'log').read_text()[-500:]}")

    def become(self) -> None:
        """This process is the server from now on."""
        words = self._command()
        os.execv(words[0], words)  # noqa: S606

    def _command(self) -> list[str]:
        facts = {"address": self.address, "port": self.port, "home": self.home, "user": self.user}
        (self.home / "sshd_config").write_text(_CONFIGURATION.format(**facts))
        if os.geteuid() == 0:
            Path("/run/sshd").mkdir(exist_ok=True)
        return ["/usr/sbin/sshd", "-D", "-e", "-f", str(self.home / "sshd_config")]

    def stop(self) -> None:
        """Ends it, and whomever it serves at present is cut off."""
        if self._process:
            serving = _descendants(self._process.pid)
            self._process.terminate()
            self._process.wait(_PATIENCE_S)
            self._process = None
            for pid in serving:
                with suppress(ProcessLookupError):
                    os.kill(pid, signal.SIGKILL)


def _descendants(pid: int) -> list[int]:
    """proc(5), children: each connection is served by a process of its own."""
    try:
        mine = [int(word) for word in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]
    except OSError:
        return []
    return [one for child in mine for one in (child, *_descendants(child))]


def free_port(address: str) -> int:
    """One that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind((address, 0))
        return int(probe.getsockname()[1])


OFFICE = "127.0.0.2"
"""An address of this machine's loopback of its own: whatever else is on loopback is another server."""


def office(standins: Path) -> SftpServer:
    """The demo's server in the office. standins: where stand-ins have their things"""
    return SftpServer(standins / "office-server", OFFICE)


if __name__ == "__main__":
    office(Path(sys.argv[1])).become()
