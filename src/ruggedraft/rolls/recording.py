"""Turning what was read into facts: the only place that writes checks and faults."""

from collections.abc import Iterable, Mapping, Sequence

from ruggedraft.core.cards import Entry, to_ledger
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.transfer import FileRead
from ruggedraft.crew.models import Person
from ruggedraft.journal.clock import now

from .models import Check, Copy, CopyFault, LeftBehind, Roll, RollFile


def record_files(
    roll: Roll, read: Mapping[str, FileRead], algorithm: str, kept_as: Mapping[str, str], others: Sequence[str] = ()
) -> None:
    """Note the files read off a card that the roll does not have yet. Those it has are never changed.

    others: the names of the files' further checksums, in their order
    """
    known = set(roll.files.values_list("path", flat=True))
    new = [
        RollFile(
            roll=roll, path=to_ledger(path), size=file.size, modified_ns=file.modified_ns,
            algorithm=algorithm, checksum=file.checksum, others=dict(zip(others, file.others, strict=True)),
            kept_as=to_ledger(kept_as[path]) if kept_as.get(path, path) != path else "",
        )
        for path, file in read.items()
        if to_ledger(path) not in known
    ]  # fmt: skip
    RollFile.objects.bulk_create(new, batch_size=2000)


def record_left(roll: Roll, left: Iterable[Entry], person: Person) -> None:
    """Note what stayed on the card on purpose."""
    LeftBehind.objects.bulk_create(
        (
            LeftBehind(
                roll=roll, path=to_ledger(e.path), size=e.size, modified_ns=e.modified_ns, at=now(), person=person
            )
            for e in left
        ),
        batch_size=2000,
        ignore_conflicts=True,
    )


def record_reading(copy: Copy, *, agreed: set[str], failed: Mapping[str, str], level: Evidence, origin: str) -> Check:
    """Note one finished reading of a copy, inside the caller's transaction.

    agreed: paths (as on the card) that were read from the store and agree
    failed: reasons by path for what was tried and is not safe there
    A file of the roll that is in neither keeps its standing; one that no check has ever found there is at fault.
    """
    files = {file.path: file for file in copy.roll.files.all()}
    agreed_paths = {to_ledger(path) for path in agreed} & files.keys()
    reasons = {to_ledger(path): reason for path, reason in failed.items()}
    open_faults = {fault.file.path: fault.pk for fault in copy.faults.filter(mended_by=None).select_related("file")}
    kept = _spoken_for(copy, files) - open_faults.keys() - reasons.keys()
    check = Check.objects.create(
        copy=copy, at=now(), origin=origin, level=level, whole=files.keys() <= agreed_paths | reasons.keys(),
        agreed_files=len(agreed_paths), agreed_bytes=sum(files[path].size for path in agreed_paths),
        files_until=max((file.pk for file in files.values()), default=0),
    )  # fmt: skip
    lacking = files.keys() - agreed_paths - kept - open_faults.keys()
    CopyFault.objects.bulk_create(
        CopyFault(copy=copy, file=files[path], found_by=check, reason=reasons.get(path, "it was never written there"))
        for path in sorted(lacking)
    )
    mended = [open_faults[path] for path in open_faults.keys() & agreed_paths]
    CopyFault.objects.filter(pk__in=mended).update(mended_by=check)
    return check


def _spoken_for(copy: Copy, files: Mapping[str, RollFile]) -> set[str]:
    """The files that the copy's last check already spoke for."""
    last = copy.checks.order_by("-id").first()
    return {path for path, file in files.items() if last and file.pk <= last.files_until}
