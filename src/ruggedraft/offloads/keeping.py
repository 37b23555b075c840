"""What is done to files of ours on a store around a run: damaged ones make room, verified ones are sealed."""

from collections.abc import Mapping, Sequence

from ruggedraft.core.errors import RaftError
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import TransferReport
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.queries import on_stores

from .remembering import forget_of


def set_damaged_aside(roll: Roll, present: Sequence[tuple[Copy, Store]]) -> list[tuple[Copy, str]]:
    """Move files of ours that are known to be damaged out of the way, so that good ones can take their places.

    What runs noted of such a copy is not believed any more.
    """
    trouble = []
    there = on_stores(roll)
    for copy, store in present:
        if there[copy.store_id].damaged:
            forget_of(copy, store)
        for file in there[copy.store_id].damaged.values():
            path = f"{copy.folder}/{from_ledger(file.kept_as or file.path)}"
            try:
                if store.found(path) is None:
                    continue
                if copy.store.seals:
                    store.unseal(path)
                store.set_aside(path)
            except RaftError as error:
                trouble.append((copy, f"its damaged {file.path} could not be set aside: {error.sentence}"))
    return trouble


def seal_verified(
    present: Sequence[tuple[Copy, Store]], report: TransferReport, kept_as: Mapping[str, str]
) -> list[tuple[Copy, str]]:
    """Make what is verified on an archive read-only; returns what could not be."""
    trouble = []
    for (copy, store), result in zip(present, report.stores, strict=True):
        if copy.store.seals and result.verified:
            try:
                for path in sorted(result.agreed):
                    store.seal(f"{copy.folder}/{kept_as.get(path, path)}")
            except RaftError as error:
                trouble.append((copy, f"it is verified, but could not be made read-only: {error.sentence}"))
    return trouble
