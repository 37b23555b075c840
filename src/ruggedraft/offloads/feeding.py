"""Bringing a copy what its store was too slow for, on the station that can reach both stores."""

import contextlib

import psycopg

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import FileRead, Pace, Progress, Target, TransferReport, feed
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed, connection_words, send
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.rolls.recording import begin
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.probe import open_store
from ruggedraft.stores.queries import is_lost, stores

from .acts.finish_feed import finish_feed
from .beside import leave_lists, leave_records
from .models import Feed
from .watching import told


def run(one: Feed) -> None:
    """Feed a copy to its end, from wherever an earlier worker left it."""
    if one.finished_at:
        return
    Feed.objects.filter(pk=one.pk, started_at=None).update(started_at=now())
    changed(Topic.READERS)
    copy, roll = one.copy, one.copy.roll
    began = begin()
    files = list(roll.files.exclude(checksum=""))
    try:
        store = _opened(copy)
        good = _good_copy(one)
    except StoreVanished as error:
        finish_feed(one, None, error.sentence)
        return
    read = {from_ledger(file.path): _as_read(file, one.offload.others) for file in files}
    kept_as = {from_ledger(file.path): from_ledger(file.kept_as) for file in files if file.kept_as}
    target, pace = Target(store, copy.folder), Pace()
    with psycopg.connect(**connection_words()) as ledger:

        def tick(progress: Progress) -> None:
            with contextlib.suppress(psycopg.Error):  # it is for looking at; the feed itself must not end with it
                send(told(one.offload_id, progress, pace), ledger)

        algorithm = algorithm_named(roll.algorithm)
        result = feed(good, target, read, algorithm, kept_as=kept_as, on_progress=tick)
    report = TransferReport(read, [], [result])
    newest = max((file.modified_ns for file in read.values()), default=0)
    trouble = leave_lists(one.offload, [(copy, store)], report, kept_as, newest)
    finish_feed(one, result, " ".join(reason for _, reason in trouble), began=began)
    leave_records([(copy, store)], newest)


def _as_read(file: RollFile, others: list[str]) -> FileRead:
    """A file of an earlier run may lack some of the further checksums; those are empty."""
    return FileRead(file.size, file.modified_ns, file.checksum, tuple(file.others.get(name, "") for name in others))


def _opened(copy: Copy) -> LocalStore:
    """Raises StoreVanished."""
    if is_lost(stores().get(pk=copy.store_id)):
        raise StoreVanished(f"'{copy.store.name}' was reported lost")
    return open_store(copy.store)


def _good_copy(one: Feed) -> Target:
    """The first whole, read-back copy whose store is connected. Raises StoreVanished if there is none."""
    (standing,) = roll_standings([one.copy.roll_id], in_full=True).values()
    for other in standing.copies:
        proven = other.facts.whole and other.facts.level >= Evidence.READ_BACK and not other.facts.store.lost
        if other.id != one.copy_id and proven:
            try:
                return Target(_opened(other.copy), other.folder)
            except StoreVanished:
                continue
    raise StoreVanished("no other verified copy is connected: connect one, or offload the card again")
