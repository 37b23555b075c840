from django.db import transaction

from ruggedraft.core.runs import RunEnd
from ruggedraft.core.transfer import CheckReport
from ruggedraft.core.wording import counted
from ruggedraft.rolls.models import Origin
from ruggedraft.rolls.recording import Began, record_unless_lost
from ruggedraft.runs.ending import end_run, still_open

from ..models import CheckRun


@transaction.atomic
def finish_check(
    check_run: CheckRun,
    report: CheckReport | None,
    trouble: str = "",
    *,
    began: Began | None = None,
    end: RunEnd = RunEnd.TROUBLE,
) -> None:
    """Note what a check found; `report` is None if it could not be done, which says nothing about the copy.

    began: before the first byte was read. end: how it ended where it could not be done
    """
    if not still_open(check_run):
        return
    where = f"{check_run.roll.tag} on '{check_run.copy.store.name}'"
    if report is not None and began is not None:
        trouble = record_unless_lost(
            check_run.copy, began, agreed=report.agreed, failed=report.failed, level=report.level, origin=Origin.CHECK
        )
    if report is None or began is None or trouble:
        end_run(check_run, end, f"{where} could not be checked: {trouble}")
    else:
        end_run(check_run, _end(report), _sentence(where, report))


def _end(report: CheckReport) -> RunEnd:
    if report.cancelled:
        return RunEnd.CANCELLED
    return RunEnd.TROUBLE if report.failed else RunEnd.WELL


def _sentence(where: str, report: CheckReport) -> str:
    how = "the check was cancelled" if report.cancelled else "was read again"
    found = counted(len(report.agreed), "file agrees", "files agree")
    if report.failed:
        found += f", {counted(len(report.failed), 'does', 'do')} not"
    if report.elsewhere:
        found += f"; the content of {counted(len(report.elsewhere), 'missing file')} is there under another name"
    return f"{where}: {how}; {found}." if report.cancelled else f"{where} {how}: {found}."
