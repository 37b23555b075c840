"""Taking files off a card, on its station: batch by batch judged anew, file by file compared."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice

from django.db import transaction

from ruggedraft.core.errors import SourceChanged, SourceError, SourceVanished, StoreVanished
from ruggedraft.core.redundancy import FileFact, judge_roll
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import CardSource, OpenFile, RemovableSource, from_ledger, same_bytes
from ruggedraft.core.transfer import Progress
from ruggedraft.core.wording import counted
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.queries import listed_facts, present_insertion
from ruggedraft.intake.readers import open_card
from ruggedraft.journal.clock import now
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.readings import CopyStanding
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.opening import open_usable

from .cases import Case, case
from .models import Removal, RemovedFile
from .removable import removable

_A_BATCH = 25


def carry_out(removal_id: int) -> None:
    """Take off what may go, to the end, from wherever an earlier worker left it."""
    removal = Removal.objects.select_related("card", "roll", "station", "listing").get(pk=removal_id)
    if removal.finished_at:
        return
    note_start(removal)
    try:
        with Watch(removal) as watch:
            trouble = _Removing(removal, watch).all_of_it()
    except SourceVanished as error:
        finish(removal, RunEnd.PULLED, error.sentence)
        return
    if not watch.held_back():
        finish(removal, RunEnd.CANCELLED if watch.cancelled() else RunEnd.WELL, trouble)


def break_off(removal_id: int, error: Exception) -> None:
    """End one that met something nobody foresaw. What was taken off stands written file by file."""
    removal = Removal.objects.select_related("card", "roll", "station").get(pk=removal_id)
    finish(removal, RunEnd.BROKE_OFF, f"it broke off ({error!r})")


@transaction.atomic
def finish(removal: Removal, end: RunEnd, trouble: str) -> None:
    """Note how it ended, and how much is off the card."""
    if not still_open(removal):
        return
    gone = RemovedFile.objects.filter(removal=removal).exclude(removed_at=None)
    stays = RemovedFile.objects.filter(removal=removal).exclude(trouble="")
    words = f"{counted(gone.count(), 'file')} taken off card {removal.card.label}, each compared with a copy first"
    if stays.exists():
        path, why = stays.order_by("pk").values_list("path", "trouble")[0]
        words += f"; {counted(stays.count(), 'file stays', 'files stay')}, such as {path}: {why}"
    if trouble:
        words += f"; {trouble}"
    if end is RunEnd.WELL and (trouble or stays.exists()):
        end = RunEnd.TROUBLE
    end_run(removal, end, f"{words}.", files=gone.count())


@dataclass(frozen=True)
class _Going:
    """A file that may go: the roll that it is of, and where its copy is."""

    file: FileFact
    roll: int
    store: str
    copy: CardSource
    kept_as: str


class _Removing:
    def __init__(self, removal: Removal, watch: Watch) -> None:
        self._removal, self._watch = removal, watch
        self._shown = set(listed_facts([removal.listing])[removal.listing_id])
        self._stay = self._present()
        self._tried: set[str] = set()
        self._done = 0

    def _present(self) -> Insertion:
        """Raises SourceVanished where the card is not in the reader any more that it was in when it was asked for."""
        stay = present_insertion(self._removal.card)
        if stay is None or stay.pk != self._removal.listing.insertion_id:
            raise SourceVanished(f"card {self._removal.card.label} is not in the reader any more that it was in")
        return stay

    def all_of_it(self) -> str:
        """Why some of what was wanted stays; empty where nothing does. Raises SourceVanished."""
        while not self._watch.cancelled():
            self._present()
            read_card(self._stay)
            self._settle_what_was_begun()
            source, batch, trouble = open_card(self._stay), *self._next_batch()
            if not batch:
                return trouble
            for going in batch:
                if self._watch.cancelled():
                    break
                self._take_off(source, going)
        return ""

    def _settle_what_was_begun(self) -> None:
        """An earlier worker may have died between writing a file down and taking it off, or after: the card tells."""
        here = [entry.path for entry in listed_facts([self._stay.listings.latest("id")]).popitem()[1]]
        begun = RemovedFile.objects.filter(removal=self._removal, removed_at=None, trouble="")
        begun.filter(path__in=here).delete()  # it is there, and will be written down again when it goes
        begun.exclude(path__in=here).update(removed_at=now())

    @transaction.atomic
    def _next_batch(self) -> tuple[Sequence[_Going], str]:
        """What goes next, judged as card and copies are now; and why the rest stays."""
        hold_still(self._removal.roll.production_id)
        judged = case(self._removal.card)
        fresh = self._fresh(judged)
        copies = self._open_copies(judged, set(fresh.values()))
        each = (self._going(file, *copies[tag]) for file, tag in fresh.items() if tag in copies)
        found = tuple(islice(filter(None, each), _A_BATCH))
        return found, "" if found else self._why_none(judged, set(fresh.values()) - copies.keys())

    def _fresh(self, judged: Case) -> dict[FileFact, str]:
        """What may go, was shown, and was not tried yet; each with the tag of a roll that holds it."""
        return {file: tag for file, tag in removable(judged) if file in self._shown and file.path not in self._tried}

    def _why_none(self, judged: Case, unreadable: Collection[str]) -> str:
        """Why what is left of what was shown stays. unreadable: tags of rolls of which no copy can be read here"""
        if unreadable:
            return f"no copy of {', '.join(sorted(unreadable))} is connected that its files could be compared with"
        free = {file for file, _ in removable(judged)}
        kept = [file for file, known in judged.each if known.sure and file in self._shown and file not in free]
        return f"{counted(len(kept), 'file')} may not go any more" if kept else ""

    def _open_copies(self, judged: Case, tags: set[str]) -> Mapping[str, tuple[CopyStanding, CardSource]]:
        """For each roll a copy that counts and can be read here."""
        found: dict[str, tuple[CopyStanding, CardSource]] = {}
        for standing in judged.rolls:
            good = judge_roll(standing.facts, judged.rule, judged.moment).counting
            for one in standing.copies if standing.roll.tag in tags else ():
                if one.facts in good and one.facts.store.online and standing.roll.tag not in found:
                    try:
                        found[standing.roll.tag] = one, open_usable(one.copy.store).as_source(one.folder)
                    except (StoreVanished, SourceVanished):
                        continue
        return found

    def _going(self, file: FileFact, copy: CopyStanding, source: CardSource) -> _Going | None:
        row = copy.roll.files.filter(path=file.path).first()
        if row is None:  # only reading it whole has shown that the roll has it
            self._tried.add(file.path)
            why = f"{copy.roll.tag} has it under another name"
            given = {"roll": copy.roll, "path": file.path, "size": file.size, "store": copy.store.name}
            RemovedFile.objects.create(removal=self._removal, trouble=why, **given)
            return None
        return _Going(file, copy.roll.pk, copy.facts.store.name, source, row.kept_as or row.path)

    def _take_off(self, source: RemovableSource, going: _Going) -> None:
        """One file: written down, compared, taken off, written down."""
        path = going.file.path
        self._tried.add(path)
        row = RemovedFile.objects.create(
            removal=self._removal, roll_id=going.roll, path=path, size=going.file.size, store=going.store
        )
        try:
            source.remove(from_ledger(path), lambda file: _is_as_copied(file, going))
        except SourceVanished:
            raise
        except SourceError as error:
            RemovedFile.objects.filter(pk=row.pk).update(trouble=error.sentence)
        else:
            RemovedFile.objects.filter(pk=row.pk).update(removed_at=now())
        self._done += going.file.size
        self._watch.tick(Progress(sum(file.size for file in self._shown), len(self._shown), self._done))


def _is_as_copied(file: OpenFile, going: _Going) -> bool:
    """Size and time as they were judged, and every byte as the copy has it."""
    size, modified_ns = file.size_and_time()
    if not going.file.is_like(FileFact(going.file.path, size, modified_ns)):
        return False
    try:
        other = going.copy.open(from_ledger(going.kept_as))
    except SourceError as error:
        raise SourceChanged(f"its copy on '{going.store}' could not be read: it stays") from error
    try:
        return same_bytes(file, other)
    finally:
        other.close()
