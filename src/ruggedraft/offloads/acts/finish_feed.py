from django.db import transaction

from ruggedraft.core.transfer import StoreResult
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production
from ruggedraft.rolls.recording import record_reading

from ..models import Feed


@transaction.atomic
def finish_feed(feed: Feed, result: StoreResult | None, trouble: str = "") -> None:
    """Note what feeding a copy achieved; `result` is None if it could not be done, which claims nothing."""
    copy = feed.copy
    Production.objects.select_for_update().get(pk=copy.roll.production_id)
    if Feed.objects.get(pk=feed.pk).finished_at:
        return
    where = f"{copy.roll.tag} on '{copy.store.name}'"
    if result is None:
        outcome = f"{where} could not be fed: {trouble}"
    else:
        failed = {failure.path: failure.reason for failure in result.failed}
        record_reading(copy, agreed=result.agreed, failed=failed, level=result.evidence, origin="feed")
        first = f" First: {result.failed[0].reason}." if failed else ""
        whole = f"{where} is whole now: {len(result.agreed):,} files read back, all agree."
        outcome = (
            whole if result.verified else f"{where} is not whole: {len(failed):,} files are not safe there.{first}"
        )
        outcome += f" {trouble}" if trouble else ""
    Feed.objects.filter(pk=feed.pk).update(finished_at=now(), outcome=outcome)
    write("finish feed", copy.roll.tag, outcome, person=None, origin=feed.station.name)
    changed("rolls", "readers", "cards")
