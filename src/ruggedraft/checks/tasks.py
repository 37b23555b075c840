"""Reading a copy again, on the station that can reach it."""

from django.db import close_old_connections
from procrastinate.contrib.django import app

from ruggedraft.core.cards import from_ledger
from ruggedraft.core.errors import StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.transfer import CheckReport, check_copy
from ruggedraft.stores.probe import open_store

from .acts.finish_check import finish_check
from .models import CheckRun


@app.task(name="checks:run_check")
def run_check(check_run_id: int) -> None:
    close_old_connections()
    try:
        run(CheckRun.objects.select_related("copy__roll", "copy__store__device", "station").get(pk=check_run_id))
    finally:
        close_old_connections()


def run(check_run: CheckRun) -> None:
    if check_run.finished_at:
        return
    copy = check_run.copy
    store = copy.store
    try:
        opened = open_store(store.name, store.path, str(store.uuid), store.device.identity)
        report = CheckReport()
        for algorithm in copy.roll.files.values_list("algorithm", flat=True).distinct():
            files = copy.roll.files.filter(algorithm=algorithm).values_list("path", "checksum")
            checksums = {from_ledger(path): checksum for path, checksum in files}
            part = check_copy(opened, copy.folder, checksums, algorithm_named(algorithm))
            report.agreed |= part.agreed
            report.failed += part.failed
            report.level = min(report.level, part.level)
    except StoreVanished as error:
        finish_check(check_run, None, error.sentence)
        return
    finish_check(check_run, report)
