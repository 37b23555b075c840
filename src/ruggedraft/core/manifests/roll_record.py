"""The record that is left beside each copy: whose roll it is, what it holds, and where the journal stood.

A ledger that is lost with all its backups is made again from them; see `offloads.acts.rebuild_ledger`. JSON (RFC 8259),
UTF-8, one object:

    form        2
    journal     {"id": number of the newest row, "seal": its seal}
    roll        {"tag", "number", "day" (YYYY-MM-DD), "opened_at" (ISO 8601), "algorithm", "fs_serial"}
    folder      of the copy on its store
    production  {"name", "slug", "time_zone", "first_day", "day_starts_at", "rule": {...}}
    camera      {"letter", "name", "kind"}
    card        {"label", "kind", "capacity"}
    store       {"uuid", "name", "device", "medium", "place", "offsite"}, and since packages "kind"
    files       a list of [path, bytes, modified_ns, checksum, fingerprint, kept_as]; paths in the ledger's form

Records of form 1 hold `roll` (a tag), `folder` and `journal` alone.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any, NamedTuple

from ..errors import MalformedRecord

FORM = 2


class RecordedFile(NamedTuple):
    """As the ledger knew it. checksum, fingerprint: empty where it was never read off the card"""

    path: str
    size: int
    modified_ns: int
    checksum: str
    fingerprint: str
    kept_as: str


@dataclass(frozen=True)
class RollRecord:
    """Each part as the module says."""

    journal: Mapping[str, Any]
    roll: Mapping[str, Any]
    folder: str
    production: Mapping[str, Any]
    camera: Mapping[str, Any]
    card: Mapping[str, Any]
    store: Mapping[str, Any]
    files: Sequence[RecordedFile] = field(default=())


_PARTS: dict[str, dict[str, type]] = {
    "journal": {"id": int, "seal": str},
    "roll": {"tag": str, "number": int, "day": str, "opened_at": str, "algorithm": str, "fs_serial": str},
    "production": {
        "name": str, "slug": str, "time_zone": str, "first_day": str, "day_starts_at": int, "rule": dict,
    },
    "camera": {"letter": str, "name": str, "kind": str},
    "card": {"label": str, "kind": str, "capacity": int},
    "store": {"uuid": str, "name": str, "device": str, "medium": str, "place": str, "offsite": bool},
}  # fmt: skip
_COLUMNS = (str, int, int, str, str, str)


def format_record(record: RollRecord) -> bytes:
    """
    >>> parse_record(format_record(EXAMPLE)) == EXAMPLE
    True
    """
    return json.dumps({"form": FORM, **asdict(record)}, indent=1).encode() + b"\n"


def parse_record(content: bytes) -> RollRecord:
    """Raises MalformedRecord for what is no record, is damaged, of an older form, or of one that is not known yet."""
    try:
        said = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise MalformedRecord("it is damaged: it is not JSON") from error
    _require_form(said)
    for part, fields in _PARTS.items():
        _require(said.get(part), fields, part)
    if not isinstance(said.get("folder"), str) or not isinstance(said.get("files"), list):
        raise MalformedRecord("it is damaged: its folder or its files are missing")
    return RollRecord(**{name: said[name] for name in (*_PARTS, "folder")}, files=[_file(row) for row in said["files"]])


def _require_form(said: object) -> None:
    """Raises MalformedRecord."""
    form = said.get("form", 1) if isinstance(said, dict) else None
    if not isinstance(form, int):
        raise MalformedRecord("it is no record of ours")
    if form < FORM:
        raise MalformedRecord("an older version wrote it, and it does not say what the roll holds")
    if form > FORM:
        raise MalformedRecord("a newer version wrote it: use that one")


def _require(part: object, fields: Mapping[str, type], name: str) -> None:
    """Raises MalformedRecord."""
    right = isinstance(part, dict) and all(type(part.get(key)) is kind for key, kind in fields.items())
    if not right:
        raise MalformedRecord(f"it is damaged: its part '{name}' is not as it should be")


def _file(row: object) -> RecordedFile:
    """Raises MalformedRecord."""
    if not isinstance(row, list) or [type(value) for value in row] != list(_COLUMNS):
        raise MalformedRecord("it is damaged: one of its files is not as it should be")
    return RecordedFile(*row)


EXAMPLE = RollRecord(
    journal={"id": 7, "seal": "5a"},
    roll={"tag": "A001", "number": 1, "day": "2026-05-14", "opened_at": "2026-05-14T10:00:00+00:00",
          "algorithm": "xxh128", "fs_serial": "1A2B"},
    folder="Heron/2026-05-14/A001",
    production={"name": "Heron", "slug": "heron", "time_zone": "UTC", "first_day": "2026-05-14", "day_starts_at": 4,
                "rule": {"copies": 2}},
    camera={"letter": "A", "name": "Tern", "kind": "stills"},
    card={"label": "A-01", "kind": "SD", "capacity": 0},
    store={"uuid": "00000000-0000-0000-0000-000000000001", "name": "one", "device": "one", "medium": "ssd",
           "place": "cart", "offsite": False},
    files=[RecordedFile("DCIM/a.jpg", 3, 10, "ab", "cd", "")],
)  # fmt: skip
"""For the doctest above and for tests."""
