from django.db import transaction

from ruggedraft.core.transfer import CheckReport
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Origin
from ruggedraft.rolls.recording import Began, record_reading
from ruggedraft.stores.queries import is_lost, stores

from ..models import CheckRun


@transaction.atomic
def finish_check(
    check_run: CheckRun, report: CheckReport | None, trouble: str = "", *, began: Began | None = None
) -> None:
    """Note what a check found; `report` is None if it could not be done, which says nothing about the copy.

    began: before the first byte was read
    """
    copy = check_run.copy
    hold_still(copy.roll.production_id)
    if CheckRun.objects.get(pk=check_run.pk).finished_at:
        return
    where = f"{copy.roll.tag} on '{copy.store.name}'"
    if report is not None and is_lost(stores().get(pk=copy.store_id)):
        report, trouble = None, f"'{copy.store.name}' was reported lost meanwhile"
    if report is None or began is None:
        sentence = f"{where} could not be checked: {trouble}"
    else:
        record_reading(copy, began, agreed=report.agreed, failed=report.failed, level=report.level, origin=Origin.CHECK)
        agree = f"{len(report.agreed):,} files agree"
        sentence = f"{where} was read again: {agree}" + (f", {len(report.failed):,} do not." if report.failed else ".")
    CheckRun.objects.filter(pk=check_run.pk).update(finished_at=now(), trouble=trouble)
    write("finish check", copy.roll.tag, sentence, person=None, origin=check_run.station.name)
    changed(Topic.ROLLS, Topic.CARDS, rolls=[copy.roll.tag], cards=[copy.roll.card.label])
