"""A certificate of one's own for the cart's network, made once, and what people compare to know that it is ours."""

import hashlib
import ipaddress
import re
import socket
import ssl
import subprocess
from dataclasses import dataclass
from pathlib import Path

from . import places
from .problems import CannotGoOn
from .steps import run, say

_DAYS = 3650


@dataclass(frozen=True)
class Certificate:
    """fingerprint: SHA-256 of the certificate, as browsers show it"""

    file: Path
    key: Path
    fingerprint: str


def is_loopback(address: str) -> bool:
    try:
        return ipaddress.ip_address(address).is_loopback
    except ValueError:
        return address == "localhost"


def names_for(address: str) -> list[str]:
    """What a browser may call this machine by, where it listens at this address."""
    names = [socket.gethostname(), f"{socket.gethostname()}.local", "localhost", "127.0.0.1"]
    if address in ("0.0.0.0", "::"):  # noqa: S104  all of this machine's addresses: the person asked for it
        names += _own_addresses()
    else:
        names.append(address)
    return list(dict.fromkeys(names))


def _own_addresses() -> list[str]:
    """The address that this machine has towards others; nothing is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # RFC 5737: an address that nobody has
            return [probe.getsockname()[0]]
        except OSError:
            return []


def own_certificate(names: list[str]) -> Certificate:
    """Ours, made when it is first needed, and anew when the machine is called by a name that it lacks."""
    folder = places.VAR / "tls"
    folder.mkdir(mode=0o700, exist_ok=True)
    file, key, known = folder / "certificate.pem", folder / "key.pem", folder / "names"
    there = file.exists() and not _has_expired(file)
    if not (there and key.exists() and known.exists() and set(names) <= set(known.read_text().split())):
        said = ",".join(f"{'IP' if _is_address(name) else 'DNS'}:{name}" for name in names)
        words = ["-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", str(_DAYS)]
        run(["openssl", "req", "-x509", *words, "-subj", "/CN=Rugged Raft", "-addext", f"subjectAltName={said}",
             "-keyout", key, "-out", file])  # fmt: skip
        key.chmod(0o600)
        known.write_text(" ".join(names))
        say("a certificate of our own was made; browsers ask once whether to trust it")
    return _checked(file, key)


def given_certificate(file: Path, key: Path) -> Certificate:
    """Somebody's own. Raises CannotGoOn where the two do not belong together, or it has expired."""
    found = _checked(file, key)
    if _has_expired(file):
        raise CannotGoOn(f"The certificate {file} has expired: get a new one, or leave it out and use one of ours.")
    return found


def _checked(file: Path, key: Path) -> Certificate:
    try:
        ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(file, key)
        first = re.search(r"-----BEGIN CERTIFICATE-----.+?-----END CERTIFICATE-----\n?", file.read_text(), re.DOTALL)
        der = ssl.PEM_cert_to_DER_cert(first[0] if first else "")
    except (OSError, ValueError) as error:
        raise CannotGoOn(f"{file} and {key} cannot be used as a certificate and its key: {error}") from error
    digest = hashlib.sha256(der).hexdigest().upper()
    return Certificate(file, key, ":".join(digest[n : n + 2] for n in range(0, len(digest), 2)))


def _has_expired(file: Path) -> bool:
    """What is no certificate at all is not asked here."""
    words = ["openssl", "x509", "-in", str(file), "-noout", "-checkend", "0"]
    done = subprocess.run(words, capture_output=True, text=True)
    return done.returncode != 0 and "will expire" in done.stdout


def _is_address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
        return True
    except ValueError:
        return False
