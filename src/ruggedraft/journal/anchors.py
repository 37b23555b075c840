"""The journal's head, kept outside the database: whoever rewrites the journal would have to rewrite every drive too."""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from .models import JournalEntry

RECORD_ENDING = "record.json"
REBUILD = "rebuild"
"""The act by which a ledger is made again; its detail holds the `heads` (seals) of the journal that was lost."""
_MOST_BYTES = 1 << 28


def journal_head() -> Mapping[str, object]:
    """The number and the seal of the newest row."""
    row = JournalEntry.objects.order_by("-id").values("id", "seal").first()
    return row or {"id": 0, "seal": ""}


@dataclass(frozen=True)
class Anchor:
    """A record found on a store, and what it says the journal's head was when it was written."""

    path: Path
    entry_id: int
    seal: str

    @property
    def holds(self) -> bool:
        """Whether the journal still has that very row, or began by taking over from one that had it."""
        return bool(those_that_hold([self]))


def those_that_hold(anchors: Sequence[Anchor]) -> list[Anchor]:
    """Those that hold, asked together."""
    rows = JournalEntry.objects.filter(pk__in=[one.entry_id for one in anchors])
    known = set(rows.values_list("pk", "seal"))
    taken_over = JournalEntry.objects.filter(act=REBUILD).values_list("detail", flat=True)
    heads = {head for detail in taken_over for head in detail.get("heads", ())}
    return [one for one in anchors if one.entry_id == 0 or (one.entry_id, one.seal) in known or one.seal in heads]


def anchor_at(path: Path) -> Anchor | None:
    """A record; None where it cannot be read, or is none."""
    return _anchor(path)


def anchors_beneath(folder: Path) -> Iterator[Anchor]:
    """Every record beneath a folder. Links are not followed; what cannot be read or is no record is passed over."""
    for path in sorted(folder.rglob(f"*.{RECORD_ENDING}")):
        anchor = _anchor(path)
        if anchor:
            yield anchor


def _anchor(path: Path) -> Anchor | None:
    try:
        if path.is_symlink() or not path.is_file() or path.stat().st_size > _MOST_BYTES:
            return None
        head = json.loads(path.read_bytes())["journal"]
        return Anchor(path, int(head["id"]), str(head["seal"]))
    except (OSError, ValueError, KeyError, TypeError):
        return None
