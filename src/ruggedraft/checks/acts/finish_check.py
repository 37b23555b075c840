from django.db import transaction

from ruggedraft.core.transfer import CheckReport
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production
from ruggedraft.rolls.recording import record_reading

from ..models import CheckRun


@transaction.atomic
def finish_check(check_run: CheckRun, report: CheckReport | None, trouble: str = "") -> None:
    """Note what a check found; `report` is None if it could not be done, which says nothing about the copy."""
    copy = check_run.copy
    Production.objects.select_for_update().get(pk=copy.roll.production_id)
    if CheckRun.objects.get(pk=check_run.pk).finished_at:
        return
    where = f"{copy.roll.tag} on '{copy.store.name}'"
    if report is None:
        sentence = f"{where} could not be checked: {trouble}"
    else:
        failed = {failure.path: failure.reason for failure in report.failed}
        record_reading(copy, agreed=report.agreed, failed=failed, level=report.level, origin="check")
        agree = f"{len(report.agreed):,} files agree"
        sentence = f"{where} was read again: {agree}" + (f", {len(failed):,} do not." if failed else ".")
    CheckRun.objects.filter(pk=check_run.pk).update(finished_at=now(), trouble=trouble)
    write("finish check", copy.roll.tag, sentence, person=None, origin=check_run.station.name)
    changed("rolls", "cards")
