from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.sources import to_ledger
from ruggedraft.core.transfer import FileFailure, RunEnd, TransferReport
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Copy, Origin
from ruggedraft.rolls.recording import Began, paths_of, record_files, record_reading
from ruggedraft.stores.queries import is_lost, stores

from ..models import Feed, Offload, OffloadFinding


@transaction.atomic
def finish_offload(
    offload: Offload,
    report: TransferReport,
    copies: Sequence[Copy],
    absent: Sequence[tuple[Copy, str]],
    list_trouble: Sequence[tuple[Copy, str]],
    *,
    began: Began,
    end: RunEnd | None = None,
) -> None:
    """Note what a run achieved, all at once: until this commits, the run has claimed nothing.

    copies: in the order of the report's stores. absent: stores that were not there, with the reason.
    list_trouble: copies whose checksum list could not be left beside them.
    What the card's own lists contradict was copied, but does not pass for read: the card is not clear until somebody
    answers for it by name, or another reader gives something else.
    began: before the run touched card and stores. end: how it ended, if not by having done all it could
    """
    hold_still(offload.roll.production_id)
    offload = (
        Offload.objects.select_for_update(of=("self",)).select_related("roll", "person", "card").get(pk=offload.pk)
    )
    if offload.finished_at:
        return
    doubted = {failure.path for failure in report.doubted}
    sure = {path: file for path, file in report.read.items() if path not in doubted}
    record_files(offload.roll, sure, offload.others)
    places, files = {store.pk: store for store in stores()}, paths_of(offload.roll)
    of_the_card = [*report.unread, *report.doubted]
    findings = [OffloadFinding(offload=offload, path=to_ledger(f.path), reason=f.reason) for f in of_the_card]
    told = {failure.path for failure in report.unread}
    for copy, result in zip(copies, report.stores, strict=True):
        if not is_lost(places[copy.store_id]):
            record_reading(
                copy,
                began,
                agreed=result.agreed,
                failed=result.failed,
                level=result.evidence,
                origin=Origin.OFFLOAD,
                files=files,
            )
        findings += _findings(offload, copy, [f for f in result.failed if f.path not in told])
    findings += [
        OffloadFinding(offload=offload, store=copy.store, reason=reason) for copy, reason in (*absent, *list_trouble)
    ]
    OffloadFinding.objects.bulk_create(findings, batch_size=2000)
    offload.finished_at = now()
    offload.read_files = len(report.read)
    offload.end = end or (RunEnd.TROUBLE if findings or not _all_whole(report) else RunEnd.WELL)
    offload.read_bytes = sum(file.size for file in report.read.values())
    offload.save()
    write("finish offload", offload.roll.tag, _sentence(offload, report, len(findings)), person=None,
          origin=offload.station.name, detail={"findings": len(findings), "files": len(report.read)})  # fmt: skip
    if offload.end not in (RunEnd.CANCELLED, RunEnd.BROKE_OFF):
        _feed_later(offload, copies, report)
    changed(Topic.ROLLS, Topic.READERS, Topic.CARDS, rolls=[offload.roll.tag], cards=[offload.card.label])


def _feed_later(offload: Offload, copies: Sequence[Copy], report: TransferReport) -> None:
    """What a store was too slow for is brought to it from a copy that is verified."""
    from ..tasks import feeds_queue, run_feed

    for copy, result in zip(copies, report.stores, strict=True):
        wanted = result.behind & report.read.keys()
        if wanted and not report.cancelled and any(other.can_feed(wanted) for other in report.stores):
            feed = Feed.objects.create(offload=offload, copy=copy, station=offload.station, asked_at=now())
            run_feed.configure(queue=feeds_queue(offload.station)).defer(feed_id=feed.pk)
            sentence = (
                f"{offload.roll.tag} is brought to '{copy.store.name}' from a verified copy; the card is not needed."
            )
            write("feed later", offload.roll.tag, sentence, person=None, origin=offload.station.name)


def _all_whole(report: TransferReport) -> bool:
    return bool(report.stores) and all(result.verified for result in report.stores)


def _findings(offload: Offload, copy: Copy, failures: Sequence[FileFailure]) -> list[OffloadFinding]:
    return [
        OffloadFinding(offload=offload, store=copy.store, path=to_ledger(f.path), reason=f.reason) for f in failures
    ]


def _sentence(offload: Offload, report: TransferReport, findings: int) -> str:
    whole = [f"'{result.name}'" for result in report.stores if result.verified]
    tag = offload.roll.tag
    if findings or report.cancelled or not whole:
        ended = "was cancelled" if report.cancelled else "ended with trouble"
        where = f"Whole and read back on {', '.join(whole)}." if whole else "No store has all of it."
        return f"Offload of {tag} {ended}: {findings:,} findings. {where}"
    return f"Offload of {tag}: {len(report.read):,} files written to and read back from {', '.join(whole)}; all agree."
