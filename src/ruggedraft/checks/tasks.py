"""Reading a copy again, on the station that can reach it."""

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.core.cards import from_ledger
from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.transfer import CheckReport, FileFailure, check_copy
from ruggedraft.intake.models import Station
from ruggedraft.live.letting_go import let_go
from ruggedraft.stores.probe import open_store

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
        opened = open_store(store.name, store.path, str(store.uuid), store.device.identity)
        report = CheckReport()
        for algorithm in copy.roll.files.values_list("algorithm", flat=True).distinct():
            files = copy.roll.files.filter(algorithm=algorithm).values_list("path", "kept_as", "checksum")
            on_card = {from_ledger(kept or path): from_ledger(path) for path, kept, _ in files}
            checksums = {from_ledger(kept or path): checksum for path, kept, checksum in files}
            part = check_copy(opened, copy.folder, checksums, algorithm_named(algorithm))
            report.agreed |= {on_card[path] for path in part.agreed}
            report.failed += [FileFailure(on_card[failure.path], failure.reason) for failure in part.failed]
            report.level = min(report.level, part.level)
    except StoreVanished as error:
        finish_check(check_run, None, error.sentence)
        return
    finish_check(check_run, report)
