"""`./raft install`: the application as a service of the machine, of a user of its own, that starts with it.

Sources: systemd.service(5), systemd.exec(5), udev(7), systemd-mount(1).
"""

import argparse
import os
import shutil
import subprocess
import sys
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from . import app, places
from .problems import CannotGoOn
from .steps import run, say
from .system_packages import STATION, install_missing

USER = "rugged-raft"
UNIT = Path("/etc/systemd/system/rugged-raft.service")
RULE = Path("/etc/udev/rules.d/80-rugged-raft.rules")

_UNIT = """\
[Unit]
Description=Rugged Raft: {what}
Wants=network-online.target
After=network-online.target local-fs.target

[Service]
User={user}
WorkingDirectory={root}
Environment=RAFT_VAR={home}
Environment=RAFT_VENV={home}/venv
ExecStart={command}
Restart=always
RestartSec=5
KillMode=mixed
TimeoutStopSec=30
NoNewPrivileges=yes
ProtectSystem=full
PrivateTmp=yes

[Install]
WantedBy=multi-user.target
"""
_RULE = """\
ACTION=="add", SUBSYSTEM=="block", ENV{{ID_FS_USAGE}}=="filesystem", ATTRS{{removable}}=="1", \\
 RUN+="{systemd_mount} --no-block --collect --options=ro,nosuid,nodev,noexec $devnode /run/{user}-cards/%k"
"""
"""Cards are mounted read-only as they come; a desktop that mounts by itself needs none of it."""


@dataclass(frozen=True)
class Installation:
    """home: what it makes at run time is kept there, the ledger among it. words: of the command that the service is"""

    user: str
    home: Path
    words: Sequence[str]

    @property
    def environment(self) -> dict[str, str]:
        """Of its own programs alone: nothing of whoever installs it."""
        return {
            "PATH": "/usr/local/bin:/usr/bin:/bin:/usr/sbin:/sbin",
            "HOME": str(self.home),
            "RAFT_VAR": str(self.home),
            "RAFT_VENV": str(self.home / "venv"),
        }

    def unit(self) -> str:
        """The service's file."""
        what = "station" if self.words[0] == "station" else "server, station and database"
        command = " ".join(_quoted(word) for word in (sys.executable, str(places.ROOT / "raft"), *self.words))
        return _UNIT.format(what=what, user=self.user, root=places.ROOT, home=self.home, command=command)

    def rule(self) -> str:
        return _RULE.format(user=self.user, systemd_mount=shutil.which("systemd-mount") or "/usr/bin/systemd-mount")

    def as_user(self, *words: str) -> list[str]:
        """A command of ours as its user. Run it with `environment`."""
        return ["runuser", "-u", self.user, "--", sys.executable, str(places.ROOT / "raft"), *words]

    def make_home(self) -> None:
        """The user, the folder and the programs in it. Raises CannotGoOn where the user could not run them."""
        if subprocess.run(["id", self.user], capture_output=True).returncode:
            run(["useradd", "--system", "--home-dir", self.home, "--shell", "/usr/sbin/nologin", self.user])
        self.home.mkdir(mode=0o750, parents=True, exist_ok=True)
        self._bring_along("stamps", "web-*")
        self._give_away()
        if subprocess.run(self.as_user("--version"), env=self.environment, capture_output=True, cwd="/").returncode:
            raise CannotGoOn(
                f"The user {self.user} cannot run {sys.executable} or read {places.ROOT}: put this folder where "
                "everybody can read it, say under /opt, and run `/usr/bin/python3 raft install` there."
            )
        # what it takes to reach the registries from here, say a proxy, is whoever installs it's to know
        run(self.as_user("set-up"), env={**os.environ, **self.environment}, cwd=Path("/"))

    def _bring_along(self, folder: str, pattern: str) -> None:
        """What is built already is not built again."""
        target = self.home / folder
        target.mkdir(exist_ok=True)
        for found in (places.VAR / folder).glob(pattern):
            shutil.copy(found, target / found.name)

    def _give_away(self) -> None:
        for path in (self.home, *self.home.rglob("*")):
            shutil.chown(path, self.user, self.user)


def _quoted(word: str) -> str:
    """As systemd reads a word of a command line: `%` and `$` mean something to it."""
    word = word.replace("%", "%%").replace("$", "$$")
    return f'"{word}"' if " " in word else word


def install(words: list[str]) -> int:
    """`./raft install`: as root, on a machine with systemd."""
    parser = argparse.ArgumentParser(prog="raft install", description="Make it a service that starts with the machine.")
    parser.add_argument("--listen", metavar="ADDRESS", help="serve a network too, over HTTPS")
    parser.add_argument("--stations", action="store_true", help="let stations on other machines join")
    parser.add_argument("--station", metavar="NAME", help="not the server: a station, on a machine of its own")
    parser.add_argument("--join", nargs=2, metavar=("ADDRESS", "TICKET"), help="with --station, the first time")
    parser.add_argument("--mount-cards", action="store_true", help="a udev rule that mounts cards, read-only")
    parser.add_argument("--home", type=Path, default=Path("/var/lib/rugged-raft"), help="where the ledger is kept")
    options = parser.parse_args(words)
    _require_systemd()
    made = Installation(USER, options.home.absolute(), _words_of(options))
    if options.station:
        places.make_var()
        install_missing(STATION)
    else:
        app.set_up()
    made.make_home()
    if options.join:
        run(made.as_user("station", options.station, "--join", *options.join, "--only-join"), env=made.environment)
    _write(UNIT, made.unit())
    if options.mount_cards:
        _write(RULE, made.rule())
        run(["udevadm", "control", "--reload"])
    run(["systemctl", "daemon-reload"])
    run(["systemctl", "enable", "--now", UNIT.name])
    say(f"it runs now, and starts with this machine; `journalctl -u {UNIT.stem}` tells what it says")
    say(f"its ledger is in {made.home}. Other commands mean that one with  RAFT_VAR={made.home}")
    return 0


def uninstall(words: list[str]) -> int:
    """`./raft uninstall`: the service goes. Ledger and copies stay where they are."""
    if words:
        raise CannotGoOn("`./raft uninstall` takes no words.")
    _require_systemd()
    if UNIT.exists():
        run(["systemctl", "disable", "--now", UNIT.name])
    for file in (UNIT, RULE):
        file.unlink(missing_ok=True)
    run(["systemctl", "daemon-reload"])
    say(
        "the service is gone. The ledger is where it was, /var/lib/rugged-raft unless you chose another place; "
        "copies were not touched"
    )
    return 0


def set_up(words: list[str]) -> int:
    """`./raft set-up`: install and build what is missing, and start nothing."""
    if words:
        raise CannotGoOn("`./raft set-up` takes no words.")
    app.set_up()
    return 0


def _words_of(options: argparse.Namespace) -> list[str]:
    if options.station:
        return ["station", options.station]
    listen = ["--listen", options.listen] if options.listen else []
    return ["start", "--own", *listen, *(["--stations"] if options.stations else [])]


def _require_systemd() -> None:
    if os.geteuid() != 0:
        raise CannotGoOn("A service is installed by root: sudo ./raft install")
    if not Path("/run/systemd/system").is_dir():
        raise CannotGoOn("This machine does not run systemd: `./raft start --own` works without it.")


def _write(file: Path, text: str) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(text)
