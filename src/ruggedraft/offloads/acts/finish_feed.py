from django.db import transaction

from ruggedraft.core.transfer import StoreResult
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Origin
from ruggedraft.rolls.recording import Began, record_reading
from ruggedraft.stores.queries import is_lost, stores

from ..models import Feed


@transaction.atomic
def finish_feed(feed: Feed, result: StoreResult | None, trouble: str = "", *, began: Began | None = None) -> None:
    """Note what feeding a copy achieved; `result` is None if it could not be done, which claims nothing.

    began: before the feed touched a store
    """
    copy = feed.copy
    hold_still(copy.roll.production_id)
    if Feed.objects.get(pk=feed.pk).finished_at:
        return
    where = f"{copy.roll.tag} on '{copy.store.name}'"
    if result is not None and is_lost(stores().get(pk=copy.store_id)):
        result, trouble = None, f"'{copy.store.name}' was reported lost meanwhile"
    if result is None or began is None:
        outcome = f"{where} could not be fed: {trouble}"
    else:
        record_reading(
            copy, began, agreed=result.agreed, failed=result.failed, level=result.evidence, origin=Origin.FEED
        )
        first = f" First: {result.failed[0].reason}." if result.failed else ""
        outcome = (
            f"{where}: {len(result.agreed):,} files brought and read back, all agree."
            if result.verified
            else f"{where}: {len(result.failed):,} files are not safe there.{first}"
        )
        outcome += f" {trouble}" if trouble else ""
    Feed.objects.filter(pk=feed.pk).update(finished_at=now(), outcome=outcome)
    write("finish feed", copy.roll.tag, outcome, person=None, origin=feed.station.name)
    changed(Topic.ROLLS, Topic.READERS, Topic.CARDS, rolls=[copy.roll.tag])
