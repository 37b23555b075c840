"""Reading a copy again, on the station that can reach it."""

from collections.abc import Sequence

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.transfer import CheckReport, FileFailure, ToCheck, check_copy
from ruggedraft.core.transfer.capped import RateCap
from ruggedraft.rolls.queries import need_not_be_there
from ruggedraft.rolls.recording import begin
from ruggedraft.runs.ending import note_start
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.opening import open_usable

from .acts.finish_check import finish_check
from .models import CheckRun


def used_by(checks: Sequence[int]) -> dict[int, frozenset[str]]:
    """Keys of the devices that each reads, by the ids of checks."""
    rows = CheckRun.objects.filter(pk__in=checks).select_related("copy__store")
    return {check.pk: check.copy.store.device_keys for check in rows}


def carry_out(check_run_id: int) -> None:
    """Read a copy again, whole."""
    check_run = CheckRun.objects.select_related("roll", "copy__store__device", "station").get(pk=check_run_id)
    if check_run.finished_at:
        return
    note_start(check_run)
    began = begin()
    try:
        with Watch(check_run) as watch:
            report = _check(check_run, watch)
    except StoreVanished as error:
        finish_check(check_run, None, error.sentence)
        return
    if not watch.held_back():
        finish_check(check_run, report, began=began)


def _check(check_run: CheckRun, watch: Watch) -> CheckReport:
    """Raises StoreVanished."""
    copy = check_run.copy
    store = open_usable(copy.store)
    expected = check_run.roll.files.exclude(checksum="").exclude(pk__in=need_not_be_there(copy))
    rows = list(expected.values_list("path", "kept_as", "size", "checksum"))
    on_card = {from_ledger(kept or path): from_ledger(path) for path, kept, _, _ in rows}
    files = {from_ledger(kept or path): ToCheck(size, checksum) for path, kept, size, checksum in rows}
    report = check_copy(
        store, copy.folder, files, algorithm_named(check_run.roll.algorithm),
        cap=RateCap(check_run.rate), on_progress=watch.tick, cancelled=watch.cancelled,
    )  # fmt: skip
    open_usable(copy.store)  # still there, and still itself: what was read was read of it
    report.failed = [FileFailure(on_card[one.path], one.reason, one.found) for one in report.failed]
    report.agreed = {on_card[path] for path in report.agreed}
    return report


def break_off(check_run_id: int, error: Exception) -> None:
    """End a check that met something nobody foresaw; nothing is known of the copy that was not known before."""
    check_run = CheckRun.objects.select_related("roll", "copy__store", "station").get(pk=check_run_id)
    finish_check(check_run, None, f"the check broke off ({error!r})", end=RunEnd.BROKE_OFF)
