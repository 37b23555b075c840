"""Bringing a copy what it lacks from a verified one, on the station that can reach both stores."""

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.redundancy import rule_for
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import FileRead, Target, TransferReport, feed
from ruggedraft.core.transfer.capped import RateCap
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.rolls.readings import waived_files
from ruggedraft.rolls.recording import Began, begin
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.runs.ending import note_start
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.opening import open_usable

from .acts.finish_feed import finish_feed
from .beside import leave_lists, leave_records
from .histories import leave_histories
from .keeping import seal_verified, set_damaged_aside
from .models import Feed
from .queries import is_being_offloaded
from .remembering import forget_of, memory_for


def carry_out(feed_id: int) -> None:
    """Feed a copy to its end, from wherever an earlier worker left it."""
    rows = Feed.objects.select_related(
        "copy__store__device", "copy__roll__production__rule", "offload", "roll", "station"
    )
    one = rows.get(pk=feed_id)
    if one.finished_at:
        return
    note_start(one)
    copy, roll = one.copy, one.roll
    if is_being_offloaded(copy):
        finish_feed(one, None, "the card is being offloaded there: ask again, if something is missing afterwards")
        return
    began = begin()
    files = _wanted(copy)
    try:
        target = Target(open_usable(copy.store), copy.folder, memory_for(roll, began))
        good = _good_copy(one)
    except StoreVanished as error:
        finish_feed(one, None, error.sentence)
        return
    read = {from_ledger(file.path): _as_read(file, one.offload.others) for file in files}
    kept_as = {from_ledger(file.path): from_ledger(file.kept_as) for file in files if file.kept_as}
    algorithm = algorithm_named(roll.algorithm)
    damaged = set_damaged_aside(roll, [(copy, target.store)])
    with Watch(one) as watch:
        result = feed(good, target, read, algorithm, kept_as=kept_as, cap=RateCap(one.rate),
                      on_progress=watch.tick, cancelled=watch.cancelled)  # fmt: skip
    if watch.held_back():
        return
    report = TransferReport(read, [], [result], cancelled=watch.cancelled())
    _finish(one, target.store, report, kept_as, began, damaged)


def _finish(
    one: Feed, store: Store, report: TransferReport, kept_as: dict[str, str], began: Began,
    damaged: list[tuple[Copy, str]],
) -> None:  # fmt: skip
    """Leave lists and records beside the copy, and note what came of it."""
    (result,), present = report.stores, [(one.copy, store)]
    newest = max((file.modified_ns for file in report.read.values()), default=0)
    trouble = damaged + leave_lists(one.offload, present, report, kept_as, newest)
    trouble += leave_histories(one.offload, one, began, present, report, kept_as)
    trouble += seal_verified(present, report, kept_as)
    words = " ".join(reason for _, reason in trouble)
    finish_feed(one, result, words, began=began, cancelled=report.cancelled)
    if result.as_meant:
        forget_of(one.copy, store)
    leave_records(present, newest)


def _wanted(copy: Copy) -> list[RollFile]:
    """What a copy is to hold: everything, but for what somebody dropped of a roll from which it may be chosen."""
    roll = copy.roll
    files = list(roll.files.exclude(checksum=""))
    (standing,) = roll_standings([roll.pk], in_full=True).values()
    if not rule_for(standing.facts, roll.production.rule.as_rule()).chosen_only:
        return files
    dropped = waived_files([roll])
    return [file for file in files if file.pk not in dropped]


def break_off(feed_id: int, error: Exception) -> None:
    """End a feed that met something nobody foresaw."""
    one = Feed.objects.select_related("copy__store", "roll", "station").get(pk=feed_id)
    finish_feed(one, None, f"it broke off ({error!r}); nothing it did is claimed", end=RunEnd.BROKE_OFF)


def _as_read(file: RollFile, others: list[str]) -> FileRead:
    """A file of an earlier run may lack some of the further checksums; those are empty."""
    return FileRead(file.size, file.modified_ns, file.checksum, tuple(file.others.get(name, "") for name in others))


def _good_copy(one: Feed) -> Target:
    """The first whole, read-back copy whose store is connected. Raises StoreVanished if there is none."""
    (standing,) = roll_standings([one.roll_id], in_full=True).values()
    for other in standing.to_bring_from(one.copy.store):
        try:
            good = Target(open_usable(other.copy.store), other.folder)
        except StoreVanished:
            continue
        one.came_from = other.store
        one.save(update_fields=["came_from"])
        return good
    raise StoreVanished("no other verified copy is connected: connect one, or offload the card again")
