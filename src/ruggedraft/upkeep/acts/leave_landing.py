from collections.abc import Iterable

from django.db import transaction

from ruggedraft.core.errors import FileMissing, StoreError
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.transfer import FileFailure
from ruggedraft.core.wording import counted
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import BesideCopy, Copy, Origin, RollFile
from ruggedraft.rolls.recording import about, begin, is_ours, record_reading
from ruggedraft.stores.opening import open_usable

from ..landing import may_leave

_LARGEST_LIST = 1 << 30  # bytes


def leave_landing(copy: Copy) -> bool:
    """Take a roll off a landing area, on the machine that sees it, if the stores of its plan hold it now.

    Only files that are there in the size and with the time that the roll has are taken away; what somebody changed or
    put there stays, and is told. All of it is noted as gone when the copy is forgotten, so that nothing that was read
    there earlier is ever believed again. False where it may not leave, or the store is not there.
    """
    if not may_leave(copy):
        return False
    began = begin()
    try:
        store = open_usable(copy.store)
        gone, stays = _take_away(copy, store)
        _take_beside(copy, store)
    except StoreError:
        return False  # what was taken away by then, the next look finds gone; nothing there counts
    with transaction.atomic():
        hold_still(copy.roll.production_id)
        failed = [FileFailure(path, "it left the landing area", Result.ABSENT) for path in gone]
        record_reading(copy, began, agreed=[], failed=failed, level=Evidence.LISTED, origin=Origin.LOOK)
        Copy.every.filter(pk=copy.pk).update(left_at=now())
        rest = f" {counted(stays, 'file that is none of its own stays', 'files that are none of its own stay')}."
        write(
            "leave landing", copy.roll.tag,
            f"{copy.roll.tag} left '{copy.store.name}', as the stores of its plan hold it: "
            f"{counted(len(gone), 'file was', 'files were')} taken away.{rest if stays else ''}",
            person=None, production=copy.roll.production_id,
        )  # fmt: skip
        changed(Topic.ROLLS, Topic.CARDS, Topic.STORES, rolls=[copy.roll.tag])
    return True


def _take_away(copy: Copy, store: OpenStore) -> tuple[list[str], int]:
    """Paths (as on the card) that are gone now, and how many files stay. Raises StoreError."""
    there = store.look(copy.folder)
    gone, stays = list[str](), 0
    rows: Iterable[RollFile] = copy.roll.files.order_by("path")
    ours = {from_ledger(row.kept_as or row.path): row for row in rows}
    for inside, (size, modified_ns) in there.items():
        row = ours.get(inside)
        if row is None or row.size != size or not (modified_ns is None or about(modified_ns, row.modified_ns)):
            stays += 1
            continue
        path = f"{copy.folder}/{inside}"
        if copy.store.seals:
            store.unseal(path)
        store.withdraw(path)
        gone.append(from_ledger(row.path))
    return gone + [from_ledger(row.path) for inside, row in ours.items() if inside not in there], stays


def _take_beside(copy: Copy, store: OpenStore) -> None:
    """Lists and records that we left beside it, where they are as we left them. Raises StoreError."""
    for path in list(copy.beside.values_list("path", flat=True)):
        content = store.read_whole(path, _LARGEST_LIST)
        if content is not None and is_ours(copy, path, content):
            try:
                store.withdraw(path)
            except FileMissing:
                continue
    BesideCopy.objects.filter(copy=copy).delete()
