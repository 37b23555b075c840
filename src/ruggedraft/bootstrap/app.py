"""Starting the application on this machine, and running its own commands beside it."""

import fcntl
import os
import secrets
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from . import backups, nightly, places, postgres, python_env, tls, web_build
from .ledgers import GIVEN, Ledger, asked_for, reached
from .problems import CannotGoOn
from .services import Service, run_until_interrupted
from .steps import one_at_a_time, say
from .system_packages import DEMO, SERVE, TEST, install_missing

BENCH_DATABASE = "raft_bench"
STATION = "cart"


def set_up() -> None:
    """Everything the application needs, short of its database."""
    places.make_var()
    with one_at_a_time():
        if not (places.STAMPS / "web-build").exists():
            places.require_room()
        install_missing(SERVE)
        python_env.ensure(development=False)
        web_build.ensure()


def environment(server: str, database: str, *, owner: bool = False) -> dict[str, str]:
    """What our own programs are told: where the code, the ledger and the run-time folder are.

    owner: as the database's owner, to migrate it; everything else connects as a role that owns nothing
    """
    app_role = f"{postgres.APP_ROLE}:{postgres.app_password()}"
    address = server.rsplit("@", 1)[1].rsplit("/", 1)[0]
    url = server.rsplit("/", 1)[0] if owner else f"postgresql://{app_role}@{address}"
    return {
        **os.environ,
        **_common(),
        "RAFT_DATABASE_URL": f"{url}/{database}",
        **({"RAFT_APP_ROLE": app_role} if owner else {}),
    }


@dataclass(frozen=True)
class Net:
    """Where the application is served. certificate_file, key_file: somebody's own; without them one of ours is made

    plain: without encryption beyond this machine, as somebody asked for in so many words
    stations: the database listens there too, to stations on other machines
    """

    address: str = "127.0.0.1"
    certificate_file: Path | None = None
    key_file: Path | None = None
    plain: bool = False
    stations: bool = False

    def certificate(self) -> tls.Certificate | None:
        """Raises CannotGoOn."""
        if self.certificate_file and self.key_file:
            return tls.given_certificate(self.certificate_file, self.key_file)
        if self.plain or tls.is_loopback(self.address):
            return None
        return tls.own_certificate(tls.names_for(self.address))

    def environment(self, port: int, secure: tls.Certificate | None) -> dict[str, str]:
        """Which names and origins are served; where the network is, cookies are sent over HTTPS only."""
        if tls.is_loopback(self.address) and secure is None:
            return {}
        names, scheme = tls.names_for(self.address), "https" if secure else "http"
        return {
            "RAFT_HOSTS": ",".join([*names, *filter(None, [os.environ.get("RAFT_HOSTS")])]),
            "RAFT_ORIGINS": ",".join(f"{scheme}://{name}:{port}" for name in names),
            **({"RAFT_HTTPS": "direct"} if secure else {}),
        }

    def door(self, port: int, secure: tls.Certificate | None, ledger: Ledger) -> postgres.Door | None:
        """Where stations reach the database: at the next port. Raises CannotGoOn where that would not be safe."""
        if not self.stations:
            return None
        if secure is None or tls.is_loopback(self.address):
            raise CannotGoOn("Stations join over a network, encrypted: say --listen ADDRESS too, and no plain HTTP.")
        _refuse_busy_port(port + 1, self.address)
        own = tls.own_certificate(tls.names_for(self.address))
        return postgres.Door(self.address, port + 1, str(own.file), str(own.key), ledger.database)

    def url(self, port: int, secure: tls.Certificate | None) -> str:
        name = tls.names_for(self.address)[-1] if not tls.is_loopback(self.address) else self.address
        return f"{'https' if secure else 'http'}://{name}:{port}/"


def _lock_of(ledger: Ledger) -> Path:
    return places.VAR / f"start-{ledger.database}.lock"


def started_at(ledger: Ledger) -> str:
    """The address that the application is served at, as it said when it started; or empty."""
    try:
        return _lock_of(ledger).read_text().strip()
    except OSError:
        return ""


def is_started(ledger: Ledger) -> bool:
    """Whether the application serves this ledger from this folder."""
    try:
        with stopped(ledger):
            return False
    except CannotGoOn:
        return True


@contextmanager
def stopped(ledger: Ledger) -> Iterator[None]:
    """Nothing of ours serves this ledger while inside. Raises CannotGoOn if it does."""
    places.make_var()
    with _lock_of(ledger).open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise CannotGoOn(
                f"The application is serving {ledger.name}: stop it first. Nothing was changed."
            ) from error
        yield


def start(ledger: Ledger, *, port: int, net: Net = Net()) -> int:
    """The demo and one's own ledger may run side by side, each once from this folder."""
    if os.environ.get(GIVEN):
        raise CannotGoOn(
            f"{GIVEN} names a ledger that `./raft start` does not look after: unset it, or run the parts by hand, as "
            "docs/deploy.md says."
        )
    places.make_var()
    with _lock_of(ledger).open("a+") as lock:
        _refuse_second_start(lock)
        _refuse_busy_port(port, net.address)
        set_up()
        if ledger.demo:
            install_missing(DEMO)
        secure = net.certificate()
        door = net.door(port, secure, ledger)
        with postgres.running(door) as server:
            owner = environment(server, ledger.database, owner=True) | ledger.environment
            backups.before_upgrade(server, ledger, owner)
            run_own([*manage_command(), "prepare", *(["--demo"] if ledger.demo else [])], owner)
            env = environment(server, ledger.database) | ledger.environment | net.environment(port, secure)
            env["RAFT_BEGIN_TOKEN"] = begin_token(ledger)
            if door and secure:
                env["RAFT_DOOR"] = f"{door.port} {door.certificate}"
                env["RAFT_CERTIFICATE_SHA256"] = secure.fingerprint.replace(":", "").lower()
            where = net.url(port, secure)
            lock.truncate(0)
            lock.write(where)
            lock.flush()
            own = postgres.of_database(server, ledger.database)
            daily = None if ledger.demo else nightly.Nightly(own, env)
            return run_until_interrupted(
                [*_standins(ledger, env), *_services(port, env, net.address, secure)],
                is_up=lambda: _answers(port, net.address),
                when_up=lambda: _announce(ledger, where, env, secure),
                look_after=lambda: _look_after(daily),
            )


def _look_after(daily: nightly.Nightly | None) -> None:
    postgres.keep_up()
    if daily:
        daily.look()


def manage(words: list[str]) -> int:
    """Django's own commands and ours, on the ledger that is asked for."""
    ledger, words = asked_for(words)
    set_up()
    named = [word.replace("-", "_") if n == 0 else word for n, word in enumerate(words)]
    if named and named[0] in _ON_NO_LEDGER:
        return subprocess.run([*manage_command(), *named], env=_no_ledger()).returncode
    if named and named[0] in _BESIDE_LEDGERS:
        with postgres.running() as server:
            env = environment(server, "postgres", owner=True) | {"RAFT_TESTING": "1"}
            return subprocess.run([*manage_command(), *named], env=env).returncode
    with reached(ledger) as server:
        owner = bool(named) and named[0] in _AS_OWNER
        env = given_environment() if server is None else environment(server, ledger.database, owner=owner)
        return subprocess.run([*manage_command(), *named], env=ledger.environment | env).returncode


_AS_OWNER = ("migrate", "prepare", "flush")
_BESIDE_LEDGERS = ("new_ledger",)
"""What makes a database of its own and drops it again."""
_ON_NO_LEDGER = ("makemigrations", "api_contract", "check", "help")


def given_environment() -> dict[str, str]:
    """For the ledger that the environment names: its address stays as it was given."""
    return {**_common(), **os.environ}


def _no_ledger() -> dict[str, str]:
    """For commands that read the code alone; nothing is connected to."""
    return {
        **os.environ,
        **_common(),
        "RAFT_DATABASE_URL": "postgresql://nobody@127.0.0.1:1/nothing",
        "RAFT_STANDINS": "1",
    }


def _common() -> dict[str, str]:
    return {
        "PYTHONPATH": str(places.SOURCES),
        "PYTHONUNBUFFERED": "1",
        "DJANGO_SETTINGS_MODULE": "ruggedraft.project.settings",
        "RAFT_SECRET_KEY": secret_key(),
        "RAFT_STORE_KEY": store_key(),
        "RAFT_VAR": str(places.VAR),
    }


def bench(words: list[str]) -> int:
    """On a database of its own, dropped before and after."""
    set_up()
    with one_at_a_time():
        install_missing(SERVE, DEMO, TEST)
    with postgres.running() as server:
        env = environment(server, BENCH_DATABASE, owner=True)
        return subprocess.run([str(places.VENV_PYTHON), "-m", "ruggedraft.figures", *words], env=env).returncode


def manage_command() -> list[str]:
    return [str(places.VENV_PYTHON), str(places.ROOT / "manage.py")]


def run_own(command: list[str], env: dict[str, str]) -> None:
    if subprocess.run(command, env=env).returncode:
        raise CannotGoOn("That did not work; what went wrong stands above.")


def _standins(ledger: Ledger, env: dict[str, str]) -> list[Service]:
    """The servers that the demo's stores are on: real ones, for this machine alone."""
    if not ledger.demo:
        return []
    servers = {"office server": "sftp_server", "object storage": "bucket_server", "WebDAV server": "webdav_server"}
    home, python = str(places.VAR / "standins"), str(places.VENV_PYTHON)
    return [
        Service(name, [python, "-m", f"ruggedraft.standins.{module}", home], env) for name, module in servers.items()
    ]


def _services(port: int, env: dict[str, str], address: str, secure: tls.Certificate | None) -> list[Service]:
    python = str(places.VENV_PYTHON)
    web = ["-m", "uvicorn", "ruggedraft.project.asgi:application", "--host", address, "--port", str(port)]
    if secure:
        web += ["--ssl-certfile", str(secure.file), "--ssl-keyfile", str(secure.key)]
    quiet = ["--log-level", "warning", "--timeout-graceful-shutdown", "2"]
    return [
        Service("web server", [python, *web, *quiet], env),
        Service("station worker", [*manage_command(), "station", STATION], env),
        Service("teller of news", [*manage_command(), "news"], env),
    ]


def _answers(port: int, address: str) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1" if address == _EVERYWHERE else address, port)) == 0


_EVERYWHERE = "0.0.0.0"  # noqa: S104  compared with what a person asked for


def begin_token(ledger: Ledger) -> str:
    """Whoever has it may begin an empty ledger: it is told in the terminal alone. Another one at every start."""
    return "" if ledger.demo else secrets.token_urlsafe(18)


def _announce(ledger: Ledger, where: str, env: dict[str, str], secure: tls.Certificate | None) -> None:
    say(f"Rugged Raft is at {where}  (Ctrl-C stops it)")
    if secure:
        say(f"its certificate's SHA-256 fingerprint, for browsers that ask:\n  {secure.fingerprint}")
        subprocess.run([str(places.VENV / "bin" / "segno"), "--compact", where], stdout=sys.stderr)
    if not ledger.demo and is_empty(env):
        say(f"nobody has begun yet: open  {where}begin#{env['RAFT_BEGIN_TOKEN']}")
    if ledger.demo:
        say("sign in as  wren (wrangler) · ida (lead wrangler) · pip (camera assistant) · sol (supervisor)")
        say("or  moss (client)  with the password  marrow-hen")


def is_empty(env: dict[str, str]) -> bool:
    """Whether nobody can sign in yet."""
    asked = subprocess.run([*manage_command(), "is_begun"], env=env, capture_output=True)
    return asked.returncode == 3


def _refuse_busy_port(port: int, address: str = "127.0.0.1") -> None:
    if not 0 < port < 65536:
        raise CannotGoOn(f"{port} is not a port: ports go from 1 to 65535.")
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((address, port))
        except OSError as error:
            raise CannotGoOn(
                f"Port {port} cannot be used ({error.strerror}). Choose another: ./raft start --port N"
            ) from error


def _refuse_second_start(lock) -> None:  # type: ignore[no-untyped-def]
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError as error:
        lock.seek(0)
        where = lock.read().strip() or "(it is still starting)"
        raise CannotGoOn(f"The application is already running from this folder: {where}") from error


def keep_secret_key(key: str) -> None:
    """Of a ledger that was restored: the sessions and links of its time go on."""
    path = places.VAR / "secret-key"
    path.touch(mode=0o600)
    path.write_text(key)


def secret_key() -> str:
    return _kept("secret-key")


def store_key() -> str:
    """What opens servers is encrypted under it. It is in no backup: whoever finds one opens nothing."""
    return _kept("store-key")


def _kept(name: str) -> str:
    path = places.VAR / name
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(48))
    return path.read_text()
