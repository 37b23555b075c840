"""Carrying out a run on its station: the card, the stores, the core's transfer, and then the ledger."""

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass, field

from django.db import transaction

from ruggedraft.core.cards import read_indexes
from ruggedraft.core.errors import SourceVanished, StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import recorded_checksums
from ruggedraft.core.proposing import Choice, Naming, everything
from ruggedraft.core.redundancy import same_time
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import CardSource, Entry, EntryKind, Listing, from_ledger, list_card, to_ledger
from ruggedraft.core.stores import Store
from ruggedraft.core.taking import Take
from ruggedraft.core.transfer import FileFailure, Memory, Target, TransferReport, transfer
from ruggedraft.intake.acts.read_card import note_listing
from ruggedraft.intake.contents import described_card, listed_card
from ruggedraft.intake.fingerprints import fingerprint_kind
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.queries import present_insertion
from ruggedraft.intake.readers import open_card
from ruggedraft.journal.clock import now
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.rolls.recording import Began, begin, record_take
from ruggedraft.runs.ending import note_start
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.opening import open_usable

from .acts.finish_offload import finish_offload
from .beside import leave_lists, leave_records
from .choosing import choose
from .histories import leave_histories
from .keeping import seal_verified, set_damaged_aside
from .models import Offload
from .queries import copies_being_fed
from .remembering import forget, memory_for
from .sidecars import leave_sidecars, tags_of

_ANOTHER_FILE = "it is not the file that was taken any more: its size or time changed; offload the card again"
_FED = "it is being brought there from another copy: offload again, if something is missing there afterwards"
_NOT_ON_CARD = "it was taken as part of the roll, and is not on the card any more"


@dataclass
class _Work:
    """A run's card as it is now: what of the roll's content lies on it, and what should and does not.

    listing: what is going to be copied. row: the ledger's listing of the whole card
    """

    source: CardSource
    listing: Listing
    row: CardListing
    kept_as: dict[str, str]
    expected: dict[str, str]
    not_there: list[FileFailure] = field(default_factory=list)

    @property
    def newest_ns(self) -> int:
        """The last modification time of what is copied: lists and records beside the copies get it too."""
        return max((entry.modified_ns for entry in self.listing.entries), default=0)


def carry_out(offload_id: int) -> None:
    """Run an offload to its end, from wherever an earlier worker left it.

    What was done before is believed where it was proven to its end, and stands as it was; all else is read.
    """
    offload = _loaded(offload_id)
    if offload.finished_at:
        return
    note_start(offload)
    present, absent = _open_stores(_copies(offload), copies_being_fed(offload.roll))
    began = begin()
    try:
        work = _prepare(offload)
    except SourceVanished as error:
        report = TransferReport({}, [FileFailure("", error.sentence)], [])
        end = RunEnd.PULLED if present_insertion(offload.card) is None else RunEnd.TROUBLE
        finish_offload(offload, report, [], absent, [], began=began, end=end)
        return
    trouble = set_damaged_aside(offload.roll, present)
    with Watch(offload) as watch:
        report = _transfer(offload, work, present, memory_for(offload.roll, began), watch)
    if watch.held_back():
        return  # nothing is claimed
    report.unread += work.not_there
    trouble += _leave_beside(offload, work, began, present, report)
    trouble += seal_verified(present, report, work.kept_as)
    ended = finish_offload(
        offload, report, [copy for copy, _ in present], absent, trouble, began=began,
        end=RunEnd.CANCELLED if report.cancelled else RunEnd.PULLED if report.card_gone else None,
    )  # fmt: skip
    if ended is RunEnd.WELL:
        forget(offload.roll, present)
    leave_records(present, work.newest_ns)
    sight_stores(offload.station)


def _copies(offload: Offload) -> list[Copy]:
    """Those that it was started for: the roll may have others, on stores that nobody asked for this time."""
    copies = offload.roll.copies.select_related("store__device", "roll").order_by("store__position")
    return list(copies.filter(store__in=offload.targets) if offload.targets else copies)


def break_off(offload_id: int, error: Exception) -> None:
    """End a run that met something nobody foresaw: nothing is claimed, and the card can be offloaded again."""
    sentence = f"the run broke off ({error!r}); nothing it did is claimed: offload the card again"
    report = TransferReport({}, [FileFailure("", sentence)], [])
    finish_offload(_loaded(offload_id), report, [], [], [], began=begin(), end=RunEnd.BROKE_OFF)


def _loaded(offload_id: int) -> Offload:
    return Offload.objects.select_related("roll__card", "card", "station").get(pk=offload_id)


def _transfer(
    offload: Offload, work: _Work, present: Sequence[tuple[Copy, Store]], memory: Memory, watch: Watch
) -> TransferReport:
    return transfer(
        work.source, work.listing, [Target(store, copy.folder, memory) for copy, store in present],
        algorithm_named(offload.algorithm), others=[algorithm_named(name) for name in offload.others],
        kept_as=work.kept_as, expected=work.expected, recorded=recorded_checksums(work.source, work.listing),
        twice=offload.twice, fingerprints=fingerprint_kind(), on_progress=watch.tick, cancelled=watch.cancelled,
    )  # fmt: skip


def _leave_beside(
    offload: Offload, work: _Work, began: Began, present: Sequence[tuple[Copy, Store]], report: TransferReport
) -> list[tuple[Copy, str]]:
    trouble = leave_lists(offload, present, report, work.kept_as, work.newest_ns)
    trouble += leave_histories(offload, offload, began, present, report, work.kept_as)
    if tags_of(offload) and not report.cancelled:
        mains = [clip.main.path for clip in described_card(work.row)[1].clips if clip.main.path in report.read]
        trouble += leave_sidecars(offload, present, mains, report.read, work.kept_as, work.newest_ns)
    return trouble


def _prepare(offload: Offload) -> _Work:
    """The card as it is now, not as it was when somebody pressed the button. Raises SourceVanished."""
    source, listing, row = _open_card(offload)
    choice = _choice(offload, row)
    _take_what_came(offload, row, choice)
    content = {from_ledger(file.path): file for file in offload.roll.files.all()}
    going, failures = _what_goes(listing, {entry.path for entry in choice.files}, content)
    whole = Take.from_data(offload.take).everything
    return _Work(
        source, _without_bare(going, whole=whole), row,
        {path: from_ledger(file.kept_as) for path, file in content.items() if file.kept_as},
        {path: file.checksum for path, file in content.items() if file.checksum},
        failures + _gone_unread(content, listing),
    )  # fmt: skip


def _gone_unread(content: Mapping[str, RollFile], listing: Listing) -> list[FileFailure]:
    """Files of the roll that were never read, and are not on the card any more."""
    here = {entry.path for entry in listing.files}
    owed = (path for path, file in content.items() if not file.checksum and path not in here)
    return [FileFailure(path, _NOT_ON_CARD) for path in owed]


def _what_goes(
    listing: Listing, wanted: Set[str], content: Mapping[str, RollFile]
) -> tuple[list[Entry], list[FileFailure]]:
    """Of what is on the card, what is copied now; and which of the roll's files are other files by now."""
    going, failures = [], []
    for entry in listing.entries:
        if entry.kind is not EntryKind.FILE:
            going.append(entry)
        elif entry.path in wanted and entry.path in content:
            if _is_the_one(entry, content[entry.path]):
                going.append(entry)
            else:
                failures.append(FileFailure(entry.path, _ANOTHER_FILE))
    return going, failures


def _is_the_one(entry: Entry, file: RollFile) -> bool:
    return entry.size == file.size and same_time(entry.modified_ns, file.modified_ns)


def _without_bare(going: Sequence[Entry], *, whole: bool) -> Listing:
    """Links, special files and empty folders are only told of where all was wanted."""
    if whole:
        return Listing(tuple(going))
    files = [entry for entry in going if entry.kind is EntryKind.FILE]
    above = {"/".join(parts[:n]) for e in files for parts in [e.path.split("/")] for n in range(1, len(parts))}
    return Listing(tuple(e for e in going if e.kind is EntryKind.FILE or e.path in above))


@transaction.atomic
def _take_what_came(offload: Offload, row: CardListing, choice: Choice) -> None:
    """Files that came onto the card between the button and the run belong to what was wanted of it."""
    hold_still(offload.roll.production_id)
    known = set(offload.roll.files.values_list("path", flat=True))
    if any(to_ledger(entry.path) not in known for entry in choice.files):
        record_take(offload.roll, row, offload.person, choice.files, choice.left, choice.kept_as)


def _choice(offload: Offload, row: CardListing) -> Choice:
    """What was chosen when the run was started, applied to the card as it is now."""
    if not offload.naming:
        return everything(listed_card(row).listing.files)
    places = [copy.store for copy in offload.roll.copies.select_related("store")]
    return choose(row, Take.from_data(offload.take), Naming.from_data(offload.naming), offload.roll, places)


def _open_stores(copies: Sequence[Copy], fed: Set[int]) -> tuple[list[tuple[Copy, Store]], list[tuple[Copy, str]]]:
    """Those that can be written to now, and why the others cannot. fed: ids of copies that a feed is writing to"""
    present: list[tuple[Copy, Store]] = []
    absent: list[tuple[Copy, str]] = []
    for copy in copies:
        if copy.pk in fed:
            absent.append((copy, _FED))
            continue
        try:
            present.append((copy, open_usable(copy.store)))
        except StoreVanished as error:
            absent.append((copy, error.sentence))
    return present, absent


def _open_card(offload: Offload) -> tuple[CardSource, Listing, CardListing]:
    """Raises SourceVanished."""
    insertion = present_insertion(offload.card)
    if insertion is None or insertion.reader.station_id != offload.station_id:
        raise SourceVanished(f"card {offload.card.label} is not in a reader of this station")
    if offload.roll.fs_serial and insertion.serial and offload.roll.fs_serial != insertion.serial:
        raise SourceVanished(f"card {offload.card.label} was formatted since this run was asked for")
    moment = now()
    source = open_card(insertion)
    listing = list_card(source)
    _require_still_in(insertion)
    return source, listing, note_listing(insertion, listing, read_indexes(listing, source), began_at=moment)


def _require_still_in(insertion: Insertion) -> None:
    if not Insertion.objects.filter(pk=insertion.pk, removed_at=None).exists():
        raise SourceVanished("the card was taken out of its reader")
