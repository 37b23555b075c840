from django.db import transaction

from ruggedraft.core.runs import RunEnd
from ruggedraft.core.transfer import StoreResult
from ruggedraft.core.wording import counted
from ruggedraft.rolls.models import Origin
from ruggedraft.rolls.recording import Began, record_unless_lost
from ruggedraft.runs.ending import end_run, still_open

from ..models import Feed
from ..remembering import earliest


@transaction.atomic
def finish_feed(
    feed: Feed,
    result: StoreResult | None,
    trouble: str = "",
    *,
    began: Began | None = None,
    cancelled: bool = False,
    end: RunEnd = RunEnd.TROUBLE,
) -> None:
    """Note what feeding a copy achieved; `result` is None if it could not be done, which claims nothing.

    began: before the feed touched a store. end: how it ended where it could not be done
    """
    if not still_open(feed):
        return
    where = f"{feed.roll.tag} on '{feed.copy.store.name}'"
    lost = ""
    if result is not None and began is not None:
        lost = record_unless_lost(
            feed.copy, earliest(began, result.since), agreed=result.agreed, failed=result.failed,
            level=result.evidence, origin=Origin.FEED,
        )  # fmt: skip
    if result is None or began is None or lost:
        end_run(feed, end, f"{where} could not be fed: {lost or trouble}")
        return
    source = f" from '{feed.came_from.name}'" if feed.came_from else ""
    outcome = " ".join(filter(None, [_sentence(where, source, result, cancelled=cancelled), trouble]))
    end_run(feed, _end(result, trouble, cancelled=cancelled), outcome)


def _end(result: StoreResult, trouble: str, *, cancelled: bool) -> RunEnd:
    if cancelled:
        return RunEnd.CANCELLED
    return RunEnd.WELL if result.as_meant and not trouble else RunEnd.TROUBLE


def _sentence(where: str, source: str, result: StoreResult, *, cancelled: bool) -> str:
    if result.verified:
        return f"{where}: {counted(len(result.agreed), 'file')} brought{source} and read back, all agree."
    if result.as_meant:
        return f"{where}: {counted(len(result.agreed), 'file')} brought{source}, attested by its server, all agree."
    if cancelled:
        return f"{where}: feeding was cancelled; {len(result.agreed):,} of {counted(result.asked, 'file')} safe there."
    first = f" First: {result.failed[0].reason}." if result.failed else ""
    return f"{where}: {counted(len(result.failed), 'file is', 'files are')} not safe there.{first}"
