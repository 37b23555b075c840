"""Turning what was taken, read and looked at into facts: the only place that writes files and readings."""

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import datetime

from django.db import connection

from ruggedraft.core.cards import Clip
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.manifests import Kept
from ruggedraft.core.redundancy import same_time
from ruggedraft.core.sources import Entry, to_ledger
from ruggedraft.core.transfer import FileFailure, FileRead
from ruggedraft.crew.models import Person
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import CardListing
from ruggedraft.journal.clock import now
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import lost_meanwhile

from .footage import keep_media
from .matching import companion
from .models import BesideCopy, Copy, CopyLook, LeftBehind, Origin, Reading, ReadingResult, Roll, RollFile, Take
from .queries import last_evidence


def record_take(
    roll: Roll,
    listing: CardListing,
    person: Person,
    files: Iterable[Entry],
    left: Iterable[Entry],
    kept_as: Mapping[str, str],
) -> Take:
    """Make these files of a card content of the roll, from now on. Those it has stay as they are.

    Which of them are clips, and whether the card is another rendering of what another roll holds, is noted as it is
    understood now.
    kept_as: by path on the card, where a file goes in the copies' folders
    """
    clips = described_card(listing)[1].clips
    mains = {clip.main.path for clip in clips}
    _note_double(roll, listing, clips)
    take = Take.objects.create(roll=roll, listing=listing, person=person, at=now())
    known = set(roll.files.values_list("path", flat=True))
    new = (
        RollFile(
            roll=roll, take=take, path=to_ledger(entry.path), size=entry.size, modified_ns=entry.modified_ns,
            kept_as=_renamed(entry.path, kept_as), is_clip=entry.path in mains,
        )
        for entry in files
        if to_ledger(entry.path) not in known
    )  # fmt: skip
    RollFile.objects.bulk_create(new, batch_size=2000)
    LeftBehind.objects.bulk_create(
        (
            LeftBehind(
                take=take, roll=roll, path=to_ledger(e.path), size=e.size, modified_ns=e.modified_ns, at=take.at,
                person=person,
            )
            for e in left
        ),
        batch_size=2000,
        ignore_conflicts=True,
    )  # fmt: skip
    keep_media(listing)
    return take


def _note_double(roll: Roll, listing: CardListing, clips: Sequence[Clip]) -> None:
    double = companion(listing, clips) if roll.double_of_id is None else None
    if double:
        roll.double_of = Roll.objects.get(production=roll.production_id, tag=double.roll)
        roll.save(update_fields=["double_of"])


def _renamed(path: str, kept_as: Mapping[str, str]) -> str:
    return to_ledger(kept_as[path]) if kept_as.get(path, path) != path else ""


def record_files(roll: Roll, read: Mapping[str, FileRead], others: Sequence[str] = ()) -> None:
    """Give files of the roll what was read of them off the card. What they have already is never changed.

    others: the names of the files' further checksums, in their order
    """
    rows = roll.files.filter(checksum="").values_list("path", "pk", "size", "modified_ns")
    waiting = {path: facts for path, *facts in rows}
    found = []
    for path, file in read.items():
        pk, size, modified_ns = waiting.get(to_ledger(path), (None, 0, 0))
        if pk and size == file.size and same_time(modified_ns, file.modified_ns):
            more = json.dumps(dict(zip(others, file.others, strict=True))) if others else "{}"
            found.append((str(pk), file.checksum, file.fingerprint, more))
    if found:
        with connection.cursor() as cursor:
            cursor.execute(_KEEP_READ, ["\n".join(column) for column in zip(*found, strict=True)])


_KEEP_READ = """
UPDATE rolls_rollfile f SET checksum = n.checksum, fingerprint = COALESCE(n.fingerprint, ''), others = n.others::jsonb
FROM unnest(string_to_array(%s, E'\\n')::bigint[], string_to_array(%s, E'\\n'), string_to_array(%s, E'\\n'),
  string_to_array(%s, E'\\n')) AS n (id, checksum, fingerprint, others)
WHERE f.id = n.id
"""
"""Each column as one text of a line a file, as no value holds a line's end: that is sent a good deal
faster than tens of thousands of values."""


@dataclass(frozen=True)
class RollPath:
    """A file of a roll, as far as it takes to note what a reading says of it. id, take: of its rows"""

    id: int
    take: int
    size: int
    read: bool


def paths_of(roll: Roll) -> dict[str, RollPath]:
    """The files of a roll by path in the ledger's form. Read it once where several copies are noted at a time."""
    rows = roll.files.values_list("path", "pk", "take", "size", "checksum")
    return {path: RollPath(pk, take, size, checksum != "") for path, pk, take, size, checksum in rows}


@dataclass(frozen=True)
class Began:
    """When a reading began: the moment, and the last evidence that was noted before it."""

    at: datetime
    after: int


def begin() -> Began:
    """Call it before the first byte is read. What is noted in between is not overruled by what this reading finds."""
    return Began(now(), last_evidence())


def record_reading(
    copy: Copy,
    began: Began,
    *,
    agreed: Iterable[str],
    failed: Iterable[FileFailure],
    level: Evidence,
    origin: Origin,
    files: Mapping[str, RollPath] | None = None,
) -> Reading | None:
    """Note one reading of a copy, inside the caller's transaction; None if it says nothing of any file.

    agreed: paths (as on the card) that were read from the store and agree
    failed: what was tried and is not safe there, and what is known of it
    files: from `paths_of`, where the caller has them already
    Files in neither, and those that were not reached, keep their standing.
    """
    files = paths_of(copy.roll) if files is None else files
    agrees = _agreeing(agreed, files)
    bad = _found_bad(failed, files.keys() - agrees)
    if not agrees and not bad:
        return None
    unspoken = files.keys() - agrees - bad.keys()
    all_but = len(unspoken) < len(agrees)
    reading = Reading.objects.create(
        copy=copy, origin=origin, began_at=began.at, noted_at=now(), after=began.after, level=level, all_but=all_but,
        until=max((file.take for file in files.values()), default=0) if all_but else 0,
        agreed_files=len(agrees), agreed_bytes=sum(files[path].size for path in agrees),
    )  # fmt: skip
    by_name = dict.fromkeys(unspoken, Result.UNSPOKEN) if all_but else dict.fromkeys(agrees, Result.AGREES)
    _keep_results(reading, by_name, bad, files)
    return reading


def _agreeing(agreed: Iterable[str], files: Mapping[str, RollPath]) -> set[str]:
    """By path in the ledger's form. A file that was never read off the card has nothing to agree with."""
    return {path for path in map(to_ledger, agreed) if path in files and files[path].read}


def record_unless_lost(
    copy: Copy,
    began: Began,
    *,
    agreed: Iterable[str],
    failed: Iterable[FileFailure],
    level: Evidence,
    origin: Origin,
) -> str:
    """`record_reading`, unless the store was reported lost meanwhile: then why nothing was noted, else empty."""
    lost = lost_meanwhile(copy.store)
    if not lost:
        record_reading(copy, began, agreed=agreed, failed=failed, level=level, origin=origin)
    return lost


def _found_bad(failed: Iterable[FileFailure], among: Set[str]) -> dict[str, FileFailure]:
    """Failures that say something bad of a file, by path in the ledger's form."""
    bad = {to_ledger(one.path): one for one in failed if one.found.bad}
    return {path: one for path, one in bad.items() if path in among}


def _keep_results(
    reading: Reading, by_name: Mapping[str, Result], bad: Mapping[str, FileFailure], files: Mapping[str, RollPath]
) -> None:
    results = {**by_name, **{path: one.found for path, one in bad.items()}}
    reasons = {path: one.reason for path, one in bad.items()}
    ReadingResult.objects.bulk_create(
        (
            ReadingResult(reading=reading, file_id=files[path].id, result=result, reason=reasons.get(path, ""))
            for path, result in sorted(results.items())
        ),
        batch_size=2000,
    )


def record_look(copy: Copy, began: Began, there: Mapping[str, tuple[int, int | None]], held: Iterable[RollFile]) -> int:
    """Note a look at a copy's names, sizes and times, inside the caller's transaction.

    there: size and modification time (None where none is kept) by path inside the copy's folder
    held: files that it is known to hold
    A file that is gone or has another size is at fault from now on, until it is read and agrees. So is one whose time
    changed, unless it was read since with the very time it has now.
    Returns how many faults are new.
    """
    CopyLook.objects.update_or_create(copy=copy, defaults={"began_at": began.at})
    accepted = _times_accepted(copy)
    faults = []
    for file in held:
        wrong = _wrong(file, there.get(file.kept_as or file.path), accepted.get(file.pk))
        if wrong:
            faults.append((file, *wrong))
    if not faults:
        return 0
    reading = Reading.objects.create(
        copy=copy, origin=Origin.LOOK, began_at=began.at, noted_at=now(), after=began.after, level=Evidence.LISTED,
        all_but=False, until=0, agreed_files=0, agreed_bytes=0,
    )  # fmt: skip
    ReadingResult.objects.bulk_create(
        (
            ReadingResult(reading=reading, file=file, result=result, reason=reason, modified_ns=modified_ns)
            for file, result, reason, modified_ns in faults
        ),
        batch_size=2000,
    )
    return len(faults)


_FAT_STEP_NS = 2 * 10**9


def _wrong(
    file: RollFile, seen: tuple[int, int | None] | None, accepted: int | None
) -> tuple[Result, str, int | None] | None:
    if seen is None:
        return Result.ABSENT, "it is not in its place any more", None
    size, modified_ns = seen
    if size != file.size:
        return Result.DIFFERS, f"it has {size:,} bytes now and had {file.size:,}", None
    if modified_ns is None or modified_ns == accepted or about(modified_ns, file.modified_ns):
        return None
    return Result.RETIMED, "its modification time changed since it was read; it is to be read again", modified_ns


def about(one_ns: int, other_ns: int) -> bool:
    """The same time, as far as a store's file system keeps it: FAT in steps of two seconds, and by local time."""
    apart = abs(one_ns - other_ns)
    step = 900 * 10**9
    return apart < _FAT_STEP_NS or (apart < 26 * 4 * step + _FAT_STEP_NS and _near_multiple(apart, step))


def _near_multiple(apart: int, step: int) -> bool:
    rest = apart % step
    return rest < _FAT_STEP_NS or step - rest < _FAT_STEP_NS


def _times_accepted(copy: Copy) -> dict[int, int]:
    """Times that looks found wrong, by file; a reading that agreed afterwards accepted them."""
    rows = ReadingResult.objects.filter(reading__copy=copy, result=Result.RETIMED).order_by("pk")
    return {file: at for file, at in rows.values_list("file_id", "modified_ns") if at is not None}


def want_copy(roll: Roll, store: Store, folder: str) -> Copy:
    """The copy of a roll on a store, wanted whole from now on. One that left it, or was thinned, is wanted there again.

    folder: where it lies, if there is none yet
    """
    copy, _ = Copy.every.get_or_create(roll=roll, store=store, defaults={"folder": folder})
    store.productions.add(roll.production_id)  # as before, unless it was taken from another's hands meanwhile
    if copy.left_at or copy.thinned_at:
        copy.left_at = copy.emptied_at = copy.thinned_at = None
        copy.save(update_fields=["left_at", "emptied_at", "thinned_at"])
    return copy


def note_beside(copy: Copy, kept: Kept) -> None:
    """Remember a list or record that was left beside a copy."""
    digest = hashlib.sha256(kept.content).hexdigest()
    BesideCopy.objects.filter(copy=copy, path__in=[kept.path, kept.withdrawn]).delete()
    BesideCopy.objects.create(copy=copy, path=kept.path, sha256=digest)


def is_ours(copy: Copy, path: str, content: bytes) -> bool:
    """Whether this is a file that we left beside this copy, unchanged."""
    return BesideCopy.objects.filter(copy=copy, path=path, sha256=hashlib.sha256(content).hexdigest()).exists()
