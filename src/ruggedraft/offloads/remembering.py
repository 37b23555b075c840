"""What a run may believe of the parts of it that were cut short: see `core.transfer.remembering`."""

import json
import secrets
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta

from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import Memory
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.recording import Began

from .models import RollMemory

_KEPT = timedelta(days=1)
"""What is older is read again: whoever signs for a card wants evidence of today."""
_KEY_BYTES = 32


def memory_for(roll: Roll, began: Began) -> Memory:
    """By which a run of a roll goes on with those of the last day that did not end well."""
    fresh = {"key": secrets.token_bytes(_KEY_BYTES), "at": began.at}
    row, made = RollMemory.objects.get_or_create(roll=roll, defaults=fresh)
    if not made and began.at - row.at > _KEPT:
        row, _ = RollMemory.objects.update_or_create(roll=roll, defaults=fresh)
    return Memory(bytes(row.key), json.dumps([began.at.isoformat(), began.after]))


def earliest(began: Began, since: Iterable[str]) -> Began:
    """When a reading began some of whose evidence was found by earlier parts. since: as `memory_for` put it"""
    parts = [(datetime.fromisoformat(at), after) for at, after in map(json.loads, since)]
    return Began(min([began.at, *(at for at, _ in parts)]), min([began.after, *(after for _, after in parts)]))


def forget(roll: Roll, present: Sequence[tuple[Copy, Store]]) -> None:
    """Its runs ended well: nobody goes on with them."""
    RollMemory.objects.filter(roll=roll).delete()
    for copy, store in present:
        forget_of(copy, store)


def forget_of(copy: Copy, store: Store) -> None:
    """Nothing is believed any more of what runs noted on a store."""
    notes = store.notes(copy.folder)
    if notes:
        notes.forget()
