"""Joining the chapters of a recording on the stores that hold them."""

from collections.abc import Sequence
from pathlib import Path

from ruggedraft.core.errors import RaftError
from ruggedraft.core.joining import join
from ruggedraft.core.sources import from_ledger
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.stores.probe import open_store


def join_on_stores(roll: Roll, files: Sequence[RollFile], name: str) -> dict[str, str]:
    """Join on each store; what came of it by the store's name: the joined file's path, or why there is none."""
    told: dict[str, str] = {}
    for copy in roll.copies.select_related("store__device").order_by("store__position"):
        store = copy.store
        try:
            open_store(store)
            parts = [Path(store.path, copy.folder, from_ledger(file.kept_as or file.path)) for file in files]
            target = parts[0].with_name(f"{parts[0].stem}_joined{parts[0].suffix}")
            join(parts, target)
            told[store.name] = str(target.relative_to(store.path))
        except RaftError as error:
            told[store.name] = f"not joined: {error.sentence}"
    return told


def note_joined(roll: Roll, name: str, told: dict[str, str], station: str) -> None:
    where = "; ".join(f"on '{store}' {words}" for store, words in told.items())
    write("join chapters", roll.tag, f"{name} of {roll.tag}: {where}.", person=None, origin=station)
    changed(Topic.ROLLS, rolls=[roll.tag])
