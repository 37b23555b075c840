"""`./raft verify CERTIFICATE`: whether a clearance's certificate is what the production signed, and still stands."""

import json
import sys
from pathlib import Path

from ruggedraft.core.certificates import LARGEST, CertificateState, Checked, check_certificate, looks_signed
from ruggedraft.core.errors import MalformedList

from .speaking import printable


def is_certificate(path: Path) -> bool:
    """Whether a file begins as certificates do. Raises OSError."""
    if not path.is_file():
        return False
    with path.open("rb") as file:
        return looks_signed(file.read(2))


def certificate_checked(path: Path, key: str, revoked: Path | None, *, as_json: bool) -> int:
    """0: genuine. 1: it is not, or nobody can tell. Raises OSError, MalformedList."""
    checked = check_certificate(_content(path), key, _content(revoked) if revoked else None)
    print(printable(_sentence(checked, listed=revoked is not None)), file=sys.stderr)
    if as_json:
        told = {"certificate": checked.state.value, "key": checked.key, "as_of": checked.as_of}
        names = ("production", "card", "roll", "rolls", "at", "clearance", "edition")
        said = {name: checked.said.get(name) for name in names if name in checked.said}
        print(json.dumps({**told, **said, "revocation": checked.revocation}))
    return 0 if checked.state.believed else 1


def _content(path: Path) -> bytes:
    with path.open("rb") as file:
        content = file.read(LARGEST + 1)
    if len(content) > LARGEST:
        raise MalformedList(f"{path.name} is larger than {LARGEST >> 20} MiB: it was not read.")
    return content


def _sentence(checked: Checked, *, listed: bool) -> str:
    said, state = checked.said, checked.state
    if state is CertificateState.CHANGED:
        return "CHANGED: this is not what was signed, or no certificate of a clearance. Do not rely on anything in it."
    about = f"card {said.get('card')} ({said.get('roll')}) of {said.get('production')}, cleared at {said.get('at')}"
    if state is CertificateState.OTHER_KEY:
        return (
            f"OTHER KEY: it is signed with {checked.key}, which is not the key you named. Do not rely on it: {about}."
        )
    if state is CertificateState.REVOKED:
        return f"REVOKED: {about}. {_taken_back(checked)} The card must not be erased on this certificate."
    if state is CertificateState.UNPROVEN:
        return f"UNPROVEN: {_why_unproven(checked, listed=listed)} It says: {about}."
    since = f"Not among what was revoked by {checked.as_of}." if listed else _ASK_FOR_LIST
    return f"GENUINE: {about}. {since}"


_ASK_FOR_LIST = (
    "Whether it was revoked since stands in no certificate: ask the production for its list of what was, and name that "
    "with --revoked."
)


def _taken_back(checked: Checked) -> str:
    told = checked.revocation or {}
    return f"{told.get('by')} took it back at {told.get('at')}: {told.get('why')}."


def _why_unproven(checked: Checked, *, listed: bool) -> str:
    if listed:
        return "the list of what was revoked is not signed with this certificate's key, is none, or is older than it."
    return f"nothing changed since it was signed with {checked.key}. Whose that is, only --key FINGERPRINT tells."
