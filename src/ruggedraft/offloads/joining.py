"""Joining the chapters of a recording on the stores that hold them."""

from collections.abc import Sequence
from pathlib import Path

from django.db import transaction

from ruggedraft.core.errors import RaftError
from ruggedraft.core.joining import join
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.stores.folders import folder_of
from ruggedraft.stores.opening import open_usable

from .models import Join


def _join_on_stores(roll: Roll, files: Sequence[RollFile]) -> dict[str, str]:
    """Join on each store; what came of it by the store's name: the joined file's path, or why there is none."""
    told: dict[str, str] = {}
    for copy in roll.copies.select_related("store__device").order_by("store__position"):
        store = copy.store
        try:
            open_usable(store)
            folder = folder_of(store)
            parts = [Path(folder, copy.folder, from_ledger(file.kept_as or file.path)) for file in files]
            target = parts[0].with_name(f"{parts[0].stem}_joined{parts[0].suffix}")
            join(parts, target)
            told[store.name] = str(target.relative_to(folder))
        except RaftError as error:
            told[store.name] = f"{_NOT}{error.sentence}"
    return told


def carry_out(join_id: int) -> None:
    """Join the chapters wherever the roll is. Done again after an interruption: a joined file is written anew."""
    one = Join.objects.select_related("roll__card", "station").get(pk=join_id)
    if one.finished_at:
        return
    note_start(one)
    by_id = RollFile.objects.in_bulk(one.files)
    told = _join_on_stores(one.roll, [by_id[pk] for pk in one.files])
    where = "; ".join(f"on '{store}' {words}" for store, words in told.items())
    well = not any(words.startswith(_NOT) for words in told.values())
    _finish(one, RunEnd.WELL if well else RunEnd.TROUBLE, f"{one.name} of {one.roll.tag}: {where}.")


def break_off(join_id: int, error: Exception) -> None:
    one = Join.objects.select_related("roll__card", "station").get(pk=join_id)
    _finish(one, RunEnd.BROKE_OFF, f"{one.name} of {one.roll.tag} was not joined: it broke off ({error!r}).")


@transaction.atomic
def _finish(one: Join, end: RunEnd, outcome: str) -> None:
    if still_open(one):
        end_run(one, end, outcome)


_NOT = "not joined: "
