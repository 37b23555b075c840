"""Starting the application on this machine, and running its own commands beside it."""

import fcntl
import os
import secrets
import socket
import subprocess

from . import places, postgres, python_env, web_build
from .problems import CannotGoOn
from .services import Service, run_until_interrupted
from .steps import one_at_a_time, say
from .system_packages import SERVE, TEST, install_missing

DEFAULT_PORT = 8642
DEMO_DATABASE = "raft_demo_4"
OWN_DATABASE = "raft_ledger_4"
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
        "PYTHONPATH": str(places.SOURCES),
        "PYTHONUNBUFFERED": "1",
        "DJANGO_SETTINGS_MODULE": "ruggedraft.project.settings",
        "RAFT_DATABASE_URL": f"{url}/{database}",
        **({"RAFT_APP_ROLE": app_role} if owner else {}),
        "RAFT_SECRET_KEY": _secret_key(),
        "RAFT_VAR": str(places.VAR),
    }


def start(*, port: int, demo: bool) -> int:
    places.make_var()
    with (places.VAR / "start.lock").open("a+") as lock:
        _refuse_second_start(lock)
        _refuse_busy_port(port)
        set_up()
        with postgres.running() as server:
            database, standins = DEMO_DATABASE if demo else OWN_DATABASE, {"RAFT_STANDINS": "1" if demo else ""}
            owner = environment(server, database, owner=True) | standins
            run_own([*manage_command(), "prepare", *(["--demo"] if demo else [])], owner)
            env = environment(server, database) | standins
            lock.truncate(0)
            lock.write(f"http://127.0.0.1:{port}/")
            lock.flush()
            return run_until_interrupted(
                _services(port, env), is_up=lambda: _answers(port), when_up=lambda: _announce(port, demo)
            )


def manage(words: list[str]) -> int:
    set_up()
    with postgres.running() as server:
        owner = bool(words) and words[0] in _AS_OWNER
        env = {"RAFT_STANDINS": "1", **environment(server, DEMO_DATABASE, owner=owner)}
        named = [word.replace("-", "_") if n == 0 else word for n, word in enumerate(words)]
        return subprocess.run([*manage_command(), *named], env=env).returncode


_AS_OWNER = ("migrate", "makemigrations", "prepare", "flush")


def bench(words: list[str]) -> int:
    """On a database of its own, dropped before and after."""
    set_up()
    with one_at_a_time():
        install_missing(SERVE, TEST)
    with postgres.running() as server:
        env = environment(server, BENCH_DATABASE, owner=True)
        return subprocess.run([str(places.VENV_PYTHON), "-m", "ruggedraft.figures", *words], env=env).returncode


def manage_command() -> list[str]:
    return [str(places.VENV_PYTHON), str(places.ROOT / "manage.py")]


def run_own(command: list[str], env: dict[str, str]) -> None:
    if subprocess.run(command, env=env).returncode:
        raise CannotGoOn("That did not work; what went wrong stands above.")


def become(command: list[str]) -> int:
    """Replace this process, so that signals and exit codes are the command's own."""
    os.execve(command[0], command, {**os.environ, "PYTHONPATH": str(places.SOURCES)})  # noqa: S606


def _services(port: int, env: dict[str, str]) -> list[Service]:
    python = str(places.VENV_PYTHON)
    web = ["-m", "uvicorn", "ruggedraft.project.asgi:application", "--host", "127.0.0.1", "--port", str(port)]
    quiet = ["--log-level", "warning", "--timeout-graceful-shutdown", "2"]
    return [
        Service("web server", [python, *web, *quiet], env),
        Service("station worker", [*manage_command(), "station", STATION], env),
    ]


def _answers(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


def _announce(port: int, demo: bool) -> None:
    say(f"Rugged Raft is at http://127.0.0.1:{port}/  (Ctrl-C stops it)")
    if demo:
        say("sign in as  wren (wrangler) · pip (camera assistant) · sol (supervisor)  with the password  marrow-hen")


def _refuse_busy_port(port: int) -> None:
    if not 0 < port < 65536:
        raise CannotGoOn(f"{port} is not a port: ports go from 1 to 65535.")
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
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


def _secret_key() -> str:
    path = places.VAR / "secret-key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(48))
    return path.read_text()
