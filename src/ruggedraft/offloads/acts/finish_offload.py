from collections.abc import Iterable, Sequence

from django.db import transaction

from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import to_ledger
from ruggedraft.core.transfer import FileRead, StoreResult, TransferReport
from ruggedraft.core.wording import counted
from ruggedraft.journal.writing import write
from ruggedraft.rolls.models import Copy, Origin
from ruggedraft.rolls.recording import Began, paths_of, record_files, record_reading
from ruggedraft.runs.ending import end_run, still_open
from ruggedraft.runs.queue import add_to_queue
from ruggedraft.stores.queries import is_lost, stores

from ..models import Feed, Offload, OffloadFinding
from ..remembering import earliest


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
) -> RunEnd | None:
    """Note what a run achieved, all at once: until this commits, the run has claimed nothing.

    copies: in the order of the report's stores. absent: stores that were not there, with the reason.
    list_trouble: copies whose checksum list could not be left beside them.
    What the card's own lists contradict was copied, but does not pass for read: the card is not clear until somebody
    answers for it by name, or another reader gives something else.
    began: before the run touched card and stores. end: how it ended, if not by having done all it could
    Returns how it ended; None where that was noted before.
    """
    if not still_open(offload):
        return None
    record_files(offload.roll, _undoubted(report), offload.others)
    _record_readings(offload, report, copies, began)
    findings = [
        *_of_the_card(offload, report),
        *_of_the_copies(offload, report, copies),
        *(OffloadFinding(offload=offload, store=copy.store, reason=why) for copy, why in (*absent, *list_trouble)),
    ]
    OffloadFinding.objects.bulk_create(findings, batch_size=2000)
    read_bytes = sum(file.size for file in report.read.values())
    errors = 0 if report.card_gone else len(report.errors)  # a card that is pulled gives errors, and is none the worse
    Offload.objects.filter(pk=offload.pk).update(read_files=len(report.read), read_bytes=read_bytes, card_errors=errors)
    end = end or (RunEnd.TROUBLE if findings or not _all_whole(report) else RunEnd.WELL)
    end_run(
        offload, end, _sentence(offload, report, len(findings)), findings=len(findings), files=len(report.read)
    )  # fmt: skip
    if end not in (RunEnd.CANCELLED, RunEnd.BROKE_OFF):
        _feed_later(offload, copies, report)
    return end


def _record_readings(offload: Offload, report: TransferReport, copies: Sequence[Copy], began: Began) -> None:
    places, files = {store.pk: store for store in stores()}, paths_of(offload.roll)
    for copy, result in zip(copies, report.stores, strict=True):
        if not is_lost(places[copy.store_id]):
            record_reading(
                copy, earliest(began, result.since), agreed=result.agreed, failed=result.failed, level=result.evidence,
                origin=Origin.OFFLOAD, files=files,
            )  # fmt: skip


def _of_the_card(offload: Offload, report: TransferReport) -> list[OffloadFinding]:
    of_it = (*report.unread, *report.doubted)
    return [OffloadFinding(offload=offload, path=to_ledger(one.path), reason=one.reason) for one in of_it]


def _of_the_copies(offload: Offload, report: TransferReport, copies: Sequence[Copy]) -> list[OffloadFinding]:
    """What the card did not give is told once, not again for every store."""
    told = {failure.path for failure in report.unread}
    return [
        OffloadFinding(offload=offload, store=copy.store, path=to_ledger(one.path), reason=one.reason)
        for copy, result in zip(copies, report.stores, strict=True)
        for one in result.failed
        if one.path not in told
    ]


def _feed_later(offload: Offload, copies: Sequence[Copy], report: TransferReport) -> None:
    """What a store was too slow for is brought to it from a copy that is verified."""
    for copy, result in zip(copies, report.stores, strict=True):
        wanted = result.behind & report.read.keys()
        if wanted and not report.cancelled and any(other.can_feed(wanted) for other in report.stores):
            subject = Feed.subject_of(copy.pk)
            add_to_queue(
                Feed(subject=subject, roll=offload.roll, station=offload.station, person=offload.person,
                     offload=offload, copy=copy)
            )  # fmt: skip
            sentence = (
                f"{offload.roll.tag} is brought to '{copy.store.name}' from a verified copy; the card is not needed."
            )
            write(
                "feed later",
                offload.roll.tag,
                sentence,
                person=None,
                origin=offload.station.name,
                production=offload.roll.production_id,
            )


def _undoubted(report: TransferReport) -> dict[str, FileRead]:
    doubted = {failure.path for failure in report.doubted}
    return {path: file for path, file in report.read.items() if path not in doubted}


def _all_whole(report: TransferReport) -> bool:
    return bool(report.stores) and all(result.as_meant for result in report.stores)


def _sentence(offload: Offload, report: TransferReport, findings: int) -> str:
    """Of each store that has all of it, how that is known: read back, or by its server's word."""
    whole = _named(result for result in report.stores if result.verified)
    said = _named(result for result in report.stores if result.as_meant and not result.verified)
    if findings or report.cancelled or not whole + said:
        return f"Offload of {offload.roll.tag} {_trouble(findings, whole, said, cancelled=report.cancelled)}"
    how = " and ".join(filter(None, [_if(whole, "read back from {}"), _if(said, "attested by the server of {}")]))
    return f"Offload of {offload.roll.tag}: {counted(len(report.read), 'file')} written, {how}; all agree."


def _trouble(findings: int, whole: str, said: str, *, cancelled: bool) -> str:
    ended = "was cancelled" if cancelled else "ended with trouble"
    where = f"Whole and read back on {whole}." if whole else "No store has all of it read back."
    return f"{ended}: {counted(findings, 'finding')}. {where}" + _if(said, " Attested on {}.")


def _named(results: Iterable[StoreResult]) -> str:
    return ", ".join(f"'{result.name}'" for result in results)


def _if(names: str, words: str) -> str:
    return words.format(names) if names else ""
