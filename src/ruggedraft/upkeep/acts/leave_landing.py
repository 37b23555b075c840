from django.db import transaction

from ruggedraft.core.errors import FileMissing, StoreError
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.stores.port import beneath
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
    """Let a roll leave a landing area, if the stores of its plan hold it now, and take its files away there.

    It is noted first, and done afterwards: once it is noted nothing that was ever read there is believed, and whatever
    ends in between leaves files on the landing area and no claim. False where it may not leave.
    """
    began = begin()
    with transaction.atomic():
        hold_still(copy.roll.production_id)
        if not may_leave(copy):
            return False
        paths = [from_ledger(path) for path in copy.roll.files.values_list("path", flat=True)]
        failed = [FileFailure(path, "it left the landing area", Result.TAKEN_OFF) for path in paths]
        record_reading(copy, began, agreed=[], failed=failed, level=Evidence.LISTED, origin=Origin.ROOM)
        Copy.objects.filter(pk=copy.pk).update(left_at=now(), emptied_at=None)
        _write(copy, f"{copy.roll.tag} leaves '{copy.store.name}', as the stores of its plan hold it.")
    take_away(copy)
    return True


def take_away(copy: Copy) -> bool:
    """Take away what lies on a landing area of a copy that left it. May be called again, where it came to no end.

    Only files that are there in the size and with the time that the roll has; what somebody changed or put there stays,
    and is told. False where the store is not there, or the copy is wanted there again.
    """
    try:
        store = open_usable(copy.store)
        gone, stays = _take_files(copy, store)
        take_beside(copy, store)
        store.tidy(from_ledger(copy.folder))
    except (StoreError, _WantedAgain):
        return False
    with transaction.atomic():
        if not Copy.every.filter(pk=copy.pk, left_at__isnull=False).update(emptied_at=now()):
            return False
        BesideCopy.objects.filter(copy=copy).delete()
        rest = f" {counted(stays, 'file that is none of its own stays', 'files that are none of its own stay')}."
        taken = f"{counted(gone, 'file was', 'files were')} taken away.{rest if stays else ''}"
        _write(copy, f"{copy.roll.tag} left '{copy.store.name}': {taken}")
    return True


class _WantedAgain(Exception):
    """Meanwhile somebody had the roll brought there, or offloaded to it."""


def _write(copy: Copy, sentence: str) -> None:
    write("leave landing", copy.roll.tag, sentence, person=None, production=copy.roll.production_id)
    changed(Topic.ROLLS, Topic.CARDS, Topic.STORES, rolls=[copy.roll.tag], production=copy.roll.production_id)


def _take_files(copy: Copy, store: OpenStore) -> tuple[int, int]:
    """How many files were taken away, and how many stay. Raises StoreError, _WantedAgain."""
    ours = {from_ledger(row.kept_as or row.path): row for row in copy.roll.files.all()}
    there = store.look(from_ledger(copy.folder))
    taken = [inside for inside, facts in there.items() if inside in ours and _is_unchanged(ours[inside], *facts)]
    for inside in taken:
        if not Copy.every.filter(pk=copy.pk, left_at__isnull=False).exists():
            raise _WantedAgain
        path = beneath(from_ledger(copy.folder), inside)
        if copy.store.seals:
            store.unseal(path)
        store.withdraw(path)
    return len(taken), len(there) - len(taken)


def _is_unchanged(file: RollFile, size: int, modified_ns: int | None) -> bool:
    return size == file.size and modified_ns is not None and about(modified_ns, file.modified_ns)


def take_beside(copy: Copy, store: OpenStore) -> None:
    """Lists and records that we left beside it, where they are as we left them. Raises StoreError."""
    for path in list(copy.beside.values_list("path", flat=True)):
        place = from_ledger(path)
        content = store.read_whole(place, _LARGEST_LIST)
        if content is not None and is_ours(copy, path, content):
            try:
                store.withdraw(place)
            except FileMissing:
                continue
