"""Carrying out a run on its station: the card, the stores, the core's transfer, and then the ledger."""

from collections.abc import Mapping, Sequence

from django.db import transaction

from ruggedraft.core.cards import CardSource, EntryKind, Listing, from_ledger, list_card, read_indexes
from ruggedraft.core.errors import RaftError, SourceVanished, StoreVanished
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import keep_list, recorded_checksums
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.taking import Take
from ruggedraft.core.transfer import FileFailure, Target, TransferReport, transfer
from ruggedraft.intake.acts.read_card import note_listing
from ruggedraft.intake.contents import described_card
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.queries import present_insertion
from ruggedraft.intake.readers import open_card
from ruggedraft.journal.clock import now
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy
from ruggedraft.stores.acts.sight_stores import sight_stores
from ruggedraft.stores.probe import open_store

from .acts.finish_offload import finish_offload
from .choosing import Choice, Naming, choose
from .models import Offload
from .sidecars import leave_sidecars, tags_of
from .watching import Watch


def run(offload: Offload) -> None:
    """Run an offload to its end, from wherever an earlier worker left it. Nothing done before is trusted unread."""
    if offload.finished_at:
        return
    with transaction.atomic():
        Offload.objects.filter(pk=offload.pk, started_at=None).update(started_at=now())
        changed("readers")
    copies = list(offload.roll.copies.select_related("store__device", "roll").order_by("store__position"))
    present, absent = _open_stores(copies)
    try:
        source, listing, row = _open_card(offload)
        choice = _choice(offload, row)
    except SourceVanished as error:
        report = TransferReport({}, [FileFailure("", error.sentence)], [])
        finish_offload(offload, report, [], absent, [])
        return
    if choice:
        listing = _chosen(listing, choice, whole=Take.from_data(offload.take).everything)
    kept_as = choice.kept_as if choice else {}
    targets = [Target(store, copy.folder) for copy, store in present]
    others = [algorithm_named(name) for name in offload.others]
    expected = {from_ledger(file.path): file.checksum for file in offload.roll.files.all()}
    with Watch(offload) as watch:
        report = transfer(
            source, listing, targets, algorithm_named(offload.algorithm),
            others=others, kept_as=kept_as, expected=expected, recorded=recorded_checksums(source, listing),
            twice=offload.twice, on_progress=watch.tick, cancelled=watch.cancelled,
        )  # fmt: skip
    if watch.held_back():
        return  # nothing is claimed; what was written is read again when it goes on
    trouble = leave_lists(offload, present, report, listing, kept_as)
    if tags_of(offload) and not report.cancelled:
        mains = [clip.main.path for clip in described_card(row)[1].clips if clip.main.path in report.read]
        newest = max(entry.modified_ns for entry in listing.entries)
        trouble += leave_sidecars(offload, present, mains, report.read, kept_as, newest)
    trouble += _seal(present, report, kept_as)
    finish_offload(offload, report, [copy for copy, _ in present], absent, trouble, choice)
    sight_stores()


def _choice(offload: Offload, row: CardListing) -> Choice | None:
    """What was chosen when the run was started, applied to the card as it is now."""
    if not offload.naming:
        return None
    stores = [copy.store for copy in offload.roll.copies.select_related("store")]
    naming = Naming.from_data(offload.naming)
    return choose(row, Take.from_data(offload.take), naming, offload.roll, stores)


def _chosen(listing: Listing, choice: Choice, *, whole: bool) -> Listing:
    """The part of a card that goes. Links and the like are only told of where all was wanted."""
    going = {entry.path for entry in choice.files}
    if whole:
        return Listing(tuple(e for e in listing.entries if e.kind is not EntryKind.FILE or e.path in going))
    above = {"/".join(parts[:n]) for path in going for parts in [path.split("/")] for n in range(1, len(parts))}
    return Listing(tuple(entry for entry in listing.entries if entry.path in going or entry.path in above))


def break_off(offload: Offload, error: Exception) -> None:
    """End a run that met something nobody foresaw: nothing is claimed, and the card can be offloaded again."""
    sentence = f"the run broke off ({error!r}); nothing it did is claimed: offload the card again"
    finish_offload(offload, TransferReport({}, [FileFailure("", sentence)], []), [], [], [])


def _open_stores(copies: Sequence[Copy]) -> tuple[list[tuple[Copy, LocalStore]], list[tuple[Copy, str]]]:
    present: list[tuple[Copy, LocalStore]] = []
    absent: list[tuple[Copy, str]] = []
    for copy in copies:
        store = copy.store
        try:
            present.append((copy, open_store(store.name, store.path, str(store.uuid), store.device.identity)))
        except StoreVanished as error:
            absent.append((copy, error.sentence))
    return present, absent


def _open_card(offload: Offload) -> tuple[CardSource, Listing, CardListing]:
    """The card as it is now, not as it was when somebody pressed the button. Raises SourceVanished."""
    insertion = present_insertion(offload.card)
    if insertion is None or insertion.reader.station_id != offload.station_id:
        raise SourceVanished(f"card {offload.card.label} is not in a reader of this station")
    source = open_card(insertion)
    listing = list_card(source)
    _require_still_in(insertion)
    return source, listing, note_listing(insertion, listing, read_indexes(listing, source))


def _require_still_in(insertion: Insertion) -> None:
    if not Insertion.objects.filter(pk=insertion.pk, removed_at=None).exists():
        raise SourceVanished("the card was taken out of its reader")


def leave_lists(
    offload: Offload,
    present: Sequence[tuple[Copy, LocalStore]],
    report: TransferReport,
    listing: Listing,
    kept_as: Mapping[str, str],
) -> list[tuple[Copy, str]]:
    """A list beside each copy for each checksum that was taken; returns what could not be left."""
    trouble = []
    newest = max((entry.modified_ns for entry in listing.entries), default=0)
    for (copy, store), result in zip(present, report.stores, strict=True):
        complete = result.verified and not report.cancelled
        try:
            store.open()
            for n, name in enumerate([offload.algorithm, *offload.others]):
                sums = {path: (file.checksum, *file.others)[n] for path, file in report.read.items()}
                checksums = {kept_as.get(path, path): known for path, known in sums.items() if known}
                keep_list(
                    store, copy.folder, checksums, algorithm_named(name), modified_ns=newest, complete=complete,
                    name=_list_name(offload, copy),
                )  # fmt: skip
        except RaftError as error:
            trouble.append((copy, f"its checksum list could not be left there: {error.sentence}"))
        finally:
            store.close()
    return trouble


def _seal(
    present: Sequence[tuple[Copy, LocalStore]], report: TransferReport, kept_as: Mapping[str, str]
) -> list[tuple[Copy, str]]:
    """Make what is verified on an archive read-only; returns what could not be."""
    trouble = []
    for (copy, store), result in zip(present, report.stores, strict=True):
        if copy.store.seals and result.verified:
            try:
                for path in sorted(result.agreed):
                    store.seal(f"{copy.folder}/{kept_as.get(path, path)}")
            except RaftError as error:
                trouble.append((copy, f"it is verified, but could not be made read-only: {error.sentence}"))
    return trouble


def _list_name(offload: Offload, copy: Copy) -> str | None:
    """Where a folder may hold several rolls, the list carries the roll's tag; None where the folder does."""
    tag = offload.roll.tag
    return None if tag.lower() in copy.folder.rpartition("/")[2].lower() else tag
