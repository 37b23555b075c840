"""A clearance's certificate on paper; the signed one is attached, and is the one that proves anything."""

import hashlib
from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from typing import Any

from ruggedraft.certificates.making import Certificate
from ruggedraft.core.wording import counted

from .paper import Attached, as_pdf, said
from .parts import STYLE, section, size, table

_STYLE = """
.sums { font: 8pt 'Atkinson Hyperlegible Mono'; overflow-wrap: anywhere }
.revoked { border: 1mm solid #000; padding: 2mm; font-weight: 700; font-size: 12pt }
"""


def certificate_paper(made: Certificate) -> bytes:
    """As PDF. Times are in UTC. What an earlier version did not write down is left out."""
    told, evidence = made.said, made.said["evidence"]
    parts = [
        f"<h1>{said(told['production'])}: clearance of card {said(told['card'])} ({said(told['roll'])})</h1>",
        _standing(told),
        section("Asked", f"<p>{said(evidence['asked'])}</p>" if evidence.get("asked") else ""),
        section("Signed by", _table_of(("Who", "When"), evidence.get("signatures", ()), "name", "at")),
        *(_roll(roll) for roll in evidence.get("rolls", ())),
        section("Waived", _table_of(("File", "By", "Why"), evidence.get("waivers", ()), "path", "by", "reason")),
        section("Holds that were lifted", _holds(evidence.get("holds_lifted", ()))),
        section("How to check this", _how(made)),
    ]
    at = datetime.fromisoformat(told["revoked"]["at"] if told["revoked"] else told["at"])
    return as_pdf("".join(parts), STYLE + _STYLE, Attached(f"{made.name}.jsonl", made.content, at))


def _standing(told: Mapping[str, Any]) -> str:
    if told["revoked"]:
        back = told["revoked"]
        edition = f"Edition {told['edition']}; the one before has the SHA-256"
        before = f"<p>{edition} <span class='sums'>{told['before']}</span>.</p>"
        return (
            f"<p class='revoked'>REVOKED by {said(back['by'])}, {_moment(back['at'])}: {said(back['why'])}.<br>"
            f"This card must not be erased on this paper.</p>{before}"
        )
    listing = told["evidence"].get("listing", {})
    held = f" It held {counted(listing['files'], 'file')}, {size(listing['bytes'])}." if "files" in listing else ""
    return (
        f"<p>Cleared for reuse at {_moment(told['at'])}.{held} Whether it was revoked since does not stand here: "
        "the production's list of what was revoked does.</p>"
    )


def _roll(roll: Mapping[str, Any]) -> str:
    files = roll.get("files", {})
    left = f", {counted(roll['left_behind'], 'file')} left behind" if roll.get("left_behind") else ""
    about = (
        f"<p>{counted(files.get('count', 0), 'file')}, {size(files.get('bytes', 0))}{left}. SHA-256 of the list: "
        f"<span class='sums'>{said(files.get('sha256_of_list', ''))}</span></p>"
    )
    copies = table(
        ("Store", "Device", "Where", "Evidence", "Last read", "Counted"),
        ([said(one.get("store", "")), said(one.get("device", "")), _where(one), said(one.get("level", "")),
          _moment(one.get("read_at")), _counted(one)] for one in roll.get("copies", ())),
    )  # fmt: skip
    return section(f"Roll {said(roll.get('roll', ''))}", about + copies)


def _where(copy: Mapping[str, Any]) -> str:
    return said(copy.get("location", "")) + (", off-site" if copy.get("offsite") else "")


def _counted(copy: Mapping[str, Any]) -> str:
    return {True: "yes", False: "no"}.get(copy["counts"], "") if "counts" in copy else "not written down"


def _holds(holds: Iterable[Mapping[str, Any]]) -> str:
    rows = (
        [said(one["on"]), said(f"{one['reason']} ({one['by']})"), said(f"{one['lifted_by']}: {one['why']}"),
         _moment(one["lifted_at"])] for one in holds
    )  # fmt: skip
    return table(("On", "Why it was held", "Who lifted it", "When"), rows)


def _table_of(head: tuple[str, ...], rows: Iterable[Mapping[str, Any]], *names: str) -> str:
    return table(head, ([_moment(row[n]) if n == "at" else said(row[n]) for n in names] for row in rows))


def _how(made: Certificate) -> str:
    head, digest = made.said["journal"], hashlib.sha256(made.content).hexdigest()
    return (
        f"<p>Attached to this document: <b>{said(made.name)}.jsonl</b>, with every file and its checksum, SHA-256 "
        f"<span class='sums'>{digest}</span>. It is signed (Ed25519, RFC 8032) with the key of this production:</p>"
        f"<p class='sums' style='font-size:11pt'>{made.key}</p>"
        "<p>Compare this fingerprint with one that the production itself gave you: a paper can be printed by anybody. "
        "Then <span class='sums'>./raft verify FILE --key FINGERPRINT --revoked LIST</span>, or the twenty lines of "
        "Python in <span class='sums'>docs/check_certificate.py</span>.</p>"
        f"<p>The journal's head was entry {head['id']}, sealed <span class='sums'>{said(head['seal'])}</span>.</p>"
    )


def _moment(at: str | None) -> str:
    return f"{datetime.fromisoformat(at).astimezone(UTC):%Y-%m-%d %H:%M:%S} UTC" if at else "never"
