"""A station on a machine that has no database: it joins a server with a ticket, once, and works for it ever after."""

import argparse
import hashlib
import http.client
import json
import ssl
from pathlib import Path
from urllib.parse import quote, urlencode, urlsplit

from . import app, places, python_env
from .ledgers import asked_for
from .problems import CannotGoOn
from .services import Service, run_until_interrupted
from .steps import one_at_a_time, say
from .system_packages import STATION, install_missing

_PORT = 8640
_PATIENCE_S = 15
_NOTICES_SOON = {
    "connect_timeout": "10", "keepalives_idle": "5", "keepalives_interval": "2", "keepalives_count": "3",
    "tcp_user_timeout": "10000",
}  # fmt: skip
"""A cable that was pulled tells nobody: within about ten seconds the connection is believed dead."""


def station(words: list[str]) -> int:
    """`./raft station NAME`: of a ledger on this machine; or with --join, and ever after, of another machine's."""
    _, named = asked_for(words)
    parser = argparse.ArgumentParser(prog="raft station", description="Run one station's worker and readers.")
    parser.add_argument("name", metavar="NAME")
    parser.add_argument("--join", nargs=2, metavar=("ADDRESS", "TICKET"),
                        help="of the server, and what its Set-up told; only the first time")  # fmt: skip
    parser.add_argument("--only-join", action="store_true", help="join, and run nothing")
    parser.add_argument("--mount-cards", action="store_true", help="mount cards read-only; needs root")
    parser.add_argument("--demo", action="store_true", help="of the demo's ledger")
    options = parser.parse_args([*named, *(["--demo"] if len(named) < len(words) else [])])
    kept = _kept_at(options.name)
    if not options.join and not kept.exists():
        return app.manage(["station", options.name, *(["--demo"] if options.demo else [])])
    _set_up()
    if options.join:
        _join(options.name, *options.join)
    if options.only_join:
        return 0
    return _work(options.name, json.loads(kept.read_text()), mount_cards=options.mount_cards)


def _set_up() -> None:
    """What a station needs: neither database nor web pages."""
    places.make_var()
    with one_at_a_time():
        install_missing(STATION)
        python_env.ensure(development=False)


def _join(name: str, address: str, ticket: str) -> None:
    """Trade the ticket for a role in the ledger's database. Raises CannotGoOn; nothing is changed then."""
    parts = urlsplit(address if "//" in address else f"https://{address}")
    secret, _, fingerprint = ticket.strip().partition(".")
    if parts.scheme != "https" or not parts.hostname or not secret or len(fingerprint) != 64:
        raise CannotGoOn("Give the server's address and the whole ticket, as its Set-up shows them.")
    entry = _traded(parts.hostname, parts.port or _PORT, ticket.strip(), name, fingerprint)
    kept, certificate = _kept_at(name), _kept_at(name).with_suffix(".pem")
    kept.parent.mkdir(mode=0o700, exist_ok=True)
    for path, text in ((certificate, entry.pop("certificate")), (kept, json.dumps({**entry, "host": parts.hostname}))):
        path.touch(mode=0o600)
        path.write_text(text)
    say(f"station '{name}' joined {parts.hostname}; from now on `./raft station {name}` is enough")


def _traded(host: str, port: int, ticket: str, name: str, fingerprint: str) -> dict[str, str]:
    """The server is known by its certificate alone, which the ticket names, before anything is said to it."""
    context = ssl.create_default_context()
    context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
    server = http.client.HTTPSConnection(host, port, timeout=_PATIENCE_S, context=context)
    try:
        server.connect()
        shown = server.sock.getpeercert(binary_form=True)
        if hashlib.sha256(shown or b"").hexdigest() != fingerprint:
            raise CannotGoOn(
                f"What answers at {host}:{port} is not the server that made this ticket: its certificate is another "
                "one. Nothing was told to it. If the server has a new certificate, make a new ticket."
            )
        body = json.dumps({"ticket": ticket, "name": name})
        server.request("POST", "/api/stations/join", body, {"Content-Type": "application/json"})
        answer = server.getresponse()
        said = json.loads(answer.read())
    except (OSError, http.client.HTTPException, ValueError) as error:
        raise CannotGoOn(
            f"{host}:{port} cannot be joined ({error}): is it started with --listen and --stations, and does this "
            "machine reach it? The ticket was not used."
        ) from error
    finally:
        server.close()
    if answer.status != 200:
        raise CannotGoOn(str(said.get("title", f"The server refused, with {answer.status}.")))
    return dict(said)


def _work(name: str, entry: dict[str, str], *, mount_cards: bool) -> int:
    """Until Ctrl-C; with the server away it goes on trying."""
    words = {"sslmode": "verify-ca", "sslrootcert": str(_kept_at(name).with_suffix(".pem")), **_NOTICES_SOON}
    who = f"{quote(entry['role'], safe='')}:{quote(entry['password'], safe='')}"
    where = f"{entry['host']}:{entry['port']}/{quote(entry['database'], safe='')}"
    url = f"postgresql://{who}@{where}?{urlencode(words)}"
    env = app.given_environment() | {"RAFT_DATABASE_URL": url, "RAFT_STANDINS": ""}
    if mount_cards:
        env["RAFT_MOUNT_CARDS"] = "1"
    say(f"station '{name}' works for {entry['host']}  (Ctrl-C stops it)")
    worker = Service("station worker", [*app.manage_command(), "station", name], env)
    return run_until_interrupted([worker], is_up=lambda: True, when_up=lambda: None)


def _kept_at(name: str) -> Path:
    """What a station that joined keeps: named by a digest, as a station's name may be anything."""
    return places.VAR / "stations" / f"{hashlib.sha256(name.encode()).hexdigest()[:16]}.json"
