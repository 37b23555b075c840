"""What a clearance was decided on, whole, so that it can be read when nothing it speaks of is there any more."""

import hashlib
import json
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import judge_roll, rule_for, rule_on_card, rule_sentence
from ruggedraft.rolls.readings import CopyStanding, RollStanding

from .card_rows import LastListing
from .cases import Case
from .models import Hold

VERSION = 2


@dataclass(frozen=True)
class Told:
    """facts: as JSON data. files: what was on the card, packed"""

    facts: dict[str, Any]
    files: bytes


@dataclass(frozen=True)
class ClearedFile:
    """A file of a roll that was on a cleared card. modified_ns: since 1970-01-01 UTC"""

    roll: str
    path: str
    size: int
    modified_ns: int
    checksum: str
    fingerprint: str

    @property
    def modified_at(self) -> datetime:
        """To the second, in UTC."""
        return datetime.fromtimestamp(self.modified_ns // 10**9, UTC)


def unpacked(files: bytes) -> Iterator[ClearedFile]:
    """The inverse of what `evidence_of` packs, in the order of rolls and paths."""
    for row in json.loads(zlib.decompress(files)):
        yield ClearedFile(*row)


def evidence_of(judged: Case, listing: LastListing) -> Told:
    """Of a case that was judged in full, by whoever holds everything still."""
    card, production = judged.card, judged.card.owner.production
    files = {one.roll.tag: _files(one) for one in judged.rolls}
    facts = {
        "version": VERSION,
        "production": production.name,
        "card": {
            "label": card.label, "kind": card.kind, "capacity": card.capacity, "camera": card.owner.letter,
            "serial": listing.serial, "reader": judged.stay.slot if judged.stay else "",
        },
        "rule": production.rule.parts() | {"exceptions": production.rule.exceptions},
        "asked": rule_sentence(rule_on_card(judged.facts, judged.rule)),
        "rolls": [_roll(judged, one, files[one.roll.tag]) for one in judged.rolls],
        "listing": {
            "digest": listing.digest, "began_at": _at(listing.began_at), "confirmed_at": _at(listing.confirmed_at),
            "files": listing.files, "bytes": listing.bytes, "layout": listing.layout,
        },
        "digest": judged.digest,
        "waivers": [
            {"path": w.file.path, "size": w.file.size, "reason": w.reason, "by": w.by} for w in judged.facts.waivers
        ],
        "holds_lifted": _lifted(judged),
        "ran": sorted(set(judged.facts.ran)),
        "signatures": [{"by": one.username, "name": one.by, "at": _at(one.at)} for one in judged.signatures],
    }  # fmt: skip
    rows = [[tag, *row] for tag, found in files.items() for row in found]
    return Told(facts, zlib.compress(json.dumps(rows).encode(), 1))


def _files(standing: RollStanding) -> list[tuple[Any, ...]]:
    rows = standing.roll.files.order_by("path")
    return list(rows.values_list("path", "size", "modified_ns", "checksum", "fingerprint"))


def _roll(judged: Case, standing: RollStanding, rows: list[tuple[Any, ...]]) -> dict[str, Any]:
    roll, facts = standing.roll, standing.facts
    counting = judge_roll(facts, judged.rule, judged.moment).counting
    return {
        "roll": roll.tag,
        "camera": roll.camera.letter,
        "shoot_day": roll.shoot_day.isoformat(),
        "algorithm": roll.algorithm,
        "asked": rule_sentence(rule_for(facts, judged.rule)),
        "files": {
            "count": len(rows), "bytes": sum(row[1] for row in rows),
            "sha256_of_list": hashlib.sha256(json.dumps(rows).encode()).hexdigest(),
        },
        "waived": facts.waived,
        "left_behind": facts.left,
        "clips": standing.clips,
        "opened": standing.opened,
        "copies": [_copy(one, counts=one.facts in counting) for one in standing.copies],
    }  # fmt: skip


def _copy(one: CopyStanding, *, counts: bool) -> dict[str, Any]:
    store = one.facts.store
    return {
        "store": store.name,
        "device": one.store.device.name,
        "devices": sorted(store.devices),
        "medium": store.medium,
        "location": store.location,
        "offsite": store.offsite,
        "connected": store.online,
        "folder": one.folder,
        "counts": counts,
        "level": one.facts.level.words,
        "proven": {level.words: _at(one.facts.proven[level]) for level in Evidence if one.facts.proven[level]},
        "read_at": _at(one.facts.read_at),
        "looked_at": _at(one.facts.looked_at),
        "readings": _readings(one),
        "files": one.facts.files,
        "missing_files": one.facts.missing_files,
    }


def _readings(one: CopyStanding) -> list[dict[str, Any]]:
    rows = one.copy.readings.order_by("pk")
    columns = ("pk", "origin", "began_at", "level", "agreed_files", "agreed_bytes")
    return [
        {"id": pk, "origin": origin, "began_at": _at(at), "level": Evidence(level).words, "files": files, "bytes": size}
        for pk, origin, at, level, files, size in rows.values_list(*columns)
    ]


def _lifted(judged: Case) -> list[dict[str, Any]]:
    rolls: Iterable[int] = [one.roll.pk for one in judged.rolls]
    holds = Hold.objects.exclude(lifted_at=None).select_related("placed_by", "lifted_by", "roll", "card", "camera")
    found = holds.filter(roll__in=rolls) | holds.filter(card=judged.card) | holds.filter(camera=judged.card.camera)
    return [
        {
            "on": hold.on, "reason": hold.reason, "by": hold.placed_by.shown_name, "at": _at(hold.placed_at),
            "ends": hold.ends, "lifted_by": hold.lifted_by.shown_name if hold.lifted_by else "",
            "lifted_at": _at(hold.lifted_at), "why": hold.lifted_why, "refusal": hold.refusal,
        }
        for hold in found.order_by("pk")
    ]  # fmt: skip


def _at(moment: datetime | None) -> str | None:
    return None if moment is None else moment.isoformat()
