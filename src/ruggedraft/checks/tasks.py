"""Reading a copy again, on the station that can reach it."""

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.transfer import CheckReport, FileFailure, check_copy
from ruggedraft.kit.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.rolls.recording import begin
from ruggedraft.stores.probe import open_store
from ruggedraft.stores.queries import is_lost, stores

from .acts.finish_check import finish_check
from .models import CheckRun


@app.task(name="checks:run_check")
def run_check(check_run_id: int) -> None:
    check_run = CheckRun.objects.select_related("copy__roll", "copy__store__device", "station").get(pk=check_run_id)
    try:
        run(check_run)
    except Exception as error:
        finish_check(check_run, None, f"the check broke off ({error!r})")
        raise
    finally:
        let_go()


def resume_checks(station: Station) -> None:
    """Queue every unfinished check of a station that no job stands for any more. Only while no worker of it runs."""
    waiting = ProcrastinateJob.objects.filter(task_name=run_check.name, status__in=["todo", "doing"])
    queued = {job.args["check_run_id"] for job in waiting}
    for check_run in CheckRun.objects.filter(station=station, finished_at=None).exclude(pk__in=queued):
        run_check.configure(queue=station.name).defer(check_run_id=check_run.pk)


def run(check_run: CheckRun) -> None:
    if check_run.finished_at:
        return
    copy = check_run.copy
    store = copy.store
    try:
        if is_lost(stores().get(pk=store.pk)):
            raise StoreVanished(f"'{store.name}' was reported lost: say that it was found first")
        began = begin()
        opened = open_store(store)
        files = copy.roll.files.exclude(checksum="").values_list("path", "kept_as", "checksum")
        on_card = {from_ledger(kept or path): from_ledger(path) for path, kept, _ in files}
        checksums = {from_ledger(kept or path): checksum for path, kept, checksum in files}
        part = check_copy(opened, copy.folder, checksums, algorithm_named(copy.roll.algorithm))
        open_store(store)  # still there, and still itself: what was read was read of it
    except StoreVanished as error:
        finish_check(check_run, None, error.sentence)
        return
    failed = [FileFailure(on_card[one.path], one.reason, one.found) for one in part.failed]
    report = CheckReport({on_card[path] for path in part.agreed}, failed, part.level)
    finish_check(check_run, report, began=began)
