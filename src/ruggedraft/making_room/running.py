"""Making room on a store: read another copy back first, then take files off one by one, each compared once more.

What leaves a copy is written down before anything of it is removed: once that is noted nothing that was ever read there
is believed, and whatever ends in between leaves files there and no claim.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from django.db import transaction
from django.db.models import Max

from ruggedraft.core.errors import FileMissing, StoreError, StoreVanished
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.making_room import against, without
from ruggedraft.core.preflight import gigabytes
from ruggedraft.core.redundancy import judge_roll
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.stores.port import beneath
from ruggedraft.core.transfer import CheckReport, FileFailure, Progress, ToCheck, check_copy
from ruggedraft.core.transfer.capped import RateCap
from ruggedraft.core.transfer.progress import ticking
from ruggedraft.core.wording import counted
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.rolls.models import BesideCopy, Copy, CopyLook, Origin, Roll, RollFile
from ruggedraft.rolls.queries import files_held, read_back_on
from ruggedraft.rolls.readings import CopyStanding
from ruggedraft.rolls.recording import Began, begin, record_reading, record_unless_lost
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_usable
from ruggedraft.stores.queries import stores
from ruggedraft.upkeep.acts.leave_landing import take_beside

from .models import MakingRoom, TakenOff
from .queries import files_that_go, held_there, what_stays

_FILES, _BYTES = 500, 8 * 10**9
"""So much is noted at a time, and then taken off; what is stopped in between lies there and counts for nothing."""


class _Stays(Exception):
    """Why nothing more is taken off, as a clause."""


def carry_out(run_id: int) -> None:
    """Take off what may go, to the end, from wherever an earlier worker left it."""
    rows = MakingRoom.objects.select_related("roll__camera", "copy__store", "station")
    one = rows.get(pk=run_id)
    if one.finished_at:
        return
    note_start(one)
    with Watch(one) as watch:
        trouble = _Making(one, watch).all_of_it()
    if not watch.held_back():
        finish(one, RunEnd.CANCELLED if watch.cancelled() else RunEnd.WELL, trouble)


def break_off(run_id: int, error: Exception) -> None:
    """End one that met something nobody foresaw. What was taken off stands written file by file."""
    one = MakingRoom.objects.select_related("roll", "copy__store", "station").get(pk=run_id)
    finish(one, RunEnd.BROKE_OFF, f"it broke off ({error!r})")


@transaction.atomic
def finish(one: MakingRoom, end: RunEnd, trouble: str = "") -> None:
    """Note how it ended. A copy of which nothing is left is one no more."""
    if not still_open(one):
        return
    off = _Off.of(one)
    words = [*off.words(), *([trouble] if trouble else [])]
    if off.whole and off.gone and not files_held(one.copy):
        Copy.every.filter(pk=one.copy_id).update(left_at=now(), emptied_at=now())
        words.append("nothing of it is kept there any more")
    if end is RunEnd.WELL and (trouble or off.rest or not off.whole):
        end = RunEnd.TROUBLE
    where = f"{one.roll.tag} on '{one.copy.store.name}'"
    end_run(one, end, f"{where}: {'; '.join(words)}.", files=len(off.gone))
    changed(Topic.STORES)


@dataclass(frozen=True)
class _Off:
    """What became of files. gone: bytes of each that was removed. stays: why each does that is not what was copied

    half: how many are noted as taken off and were not come to. rest: how many were asked for and are none of these
    """

    gone: Sequence[int]
    stays: Sequence[tuple[str, str]]
    half: int
    rest: int

    @classmethod
    def of(cls, one: MakingRoom) -> "_Off":
        rows = TakenOff.objects.filter(run=one).order_by("pk")
        stays = rows.exclude(trouble="").values_list("file__path", "trouble")
        gone = rows.exclude(removed_at=None).values_list("file__size", flat=True)
        half = rows.filter(removed_at=None, trouble="").count()
        return cls(list(gone), list(stays), half, len(one.files) - rows.count())

    @property
    def whole(self) -> bool:
        """Whatever was noted as taken off is gone."""
        return not self.stays and not self.half

    def words(self) -> list[str]:
        """As clauses."""
        words = [f"{counted(len(self.gone), 'file')} taken off"]
        if self.gone:
            words = [f"{words[0]} ({gigabytes(sum(self.gone))}), each read back on another store first"]
        if self.stays:
            path, why = self.stays[0]
            words.append(f"{counted(len(self.stays), 'file stays', 'files stay')}, such as {path}: {why}")
        if self.half:
            words.append(f"{counted(self.half, 'file')} may still lie there, counted for nothing")
        if self.rest:
            was = counted(self.rest, "file stays", "files stay")
            words.append(f"{was} as before: not read back on another store since, kept by somebody, or not come to")
        return words


@dataclass
class _Other:
    """Another copy that counts, and that can be read here."""

    standing: CopyStanding
    store: OpenStore

    @property
    def name(self) -> str:
        return self.standing.store.name


class _Making:
    def __init__(self, one: MakingRoom, watch: Watch) -> None:
        self._one, self._watch = one, watch
        self._copy, self._roll = one.copy, one.roll
        self._algorithm = algorithm_named(one.roll.algorithm)
        self._cap = RateCap(one.rate)
        self._state = (0, 0)

    def all_of_it(self) -> str:
        """Why some of what was wanted stays; empty where nothing does.

        Its progress is in bytes: half of them are read on the other copy, half are taken off.
        """
        try:
            target = open_usable(self._copy.store)
            files = self._wanted()
            self._progress = Progress(2 * sum(file.size for file in files), len(files))
            other = self._other(files)
            self._read(other, files)
            with ticking(self._watch.tick, self._progress):
                for some in _portions(files):
                    self._take_some_off(target, other, some)
            if not self._watch.cancelled():
                self._take_lists(target)
        except _Stays as stays:
            return str(stays)
        except StoreError as error:
            return error.sentence
        return ""

    def _take_some_off(self, target: OpenStore, other: _Other, some: Sequence[RollFile]) -> None:
        """Whatever is noted in the ledger meanwhile has what is left judged anew. Raises StoreError, _Stays."""
        left = some
        while left and not self._watch.cancelled():
            left = self._take_while_nothing_changes(target, other, self._let_go(other, left))

    def _take_while_nothing_changes(
        self, target: OpenStore, other: _Other, going: Sequence[RollFile]
    ) -> Sequence[RollFile]:
        """What is left when somebody acted, or a reading was noted. Raises StoreError, _Stays."""
        judged = self._state
        for n, file in enumerate(going):
            if self._watch.cancelled() or self._ledger_now() != judged:
                return going[n:]
            self._take_off(target, other, file)
        return []

    def _ledger_now(self) -> tuple[int, int]:
        """Every act is in the journal, and the roll's version counts what is read of it."""
        last = JournalEntry.objects.aggregate(last=Max("pk"))["last"] or 0
        return last, Roll.objects.values_list("version", flat=True).get(pk=self._roll.pk)

    def _wanted(self) -> list[RollFile]:
        """What was shown and was neither removed nor found to be another file."""
        done = TakenOff.objects.filter(run=self._one).exclude(removed_at=None, trouble="")
        rows = RollFile.objects.filter(pk__in=self._one.files).exclude(pk__in=done.values("file"))
        return list(rows.order_by("path"))

    def _store(self) -> Store:
        return stores().get(pk=self._copy.store_id)

    def _judged(self) -> list[CopyStanding]:
        """Other copies that count and are connected beside this one. Raises _Stays where nothing may go."""
        store = self._store()
        (held,) = held_there(
            [self._roll.pk], store, with_kept=self._one.with_kept, in_full=True, besides=self._one.pk
        )  # fmt: skip
        rule = RedundancyRule.objects.get(production=self._roll.production_id).as_rule()  # as it is now
        reason = against(held, store.name, rule, now(), self._one.delivered_before)
        if reason:
            raise _Stays(reason)
        good = judge_roll(without(held.facts, store.name), rule, now()).counting
        names = held.beside & {copy.store.name for copy in good}
        (standing,) = roll_standings([self._roll.pk], in_full=True).values()
        return [one for one in standing.copies if one.store.name in names]

    def _other(self, files: Sequence[RollFile]) -> _Other:
        """The one of which most was read back since this was asked for. Raises _Stays."""
        judged = self._judged()
        since = {one.id: len(read_back_on(one.copy, files, self._one.after)) for one in judged}
        for one in sorted(judged, key=lambda one: -since[one.id]):
            try:
                return _Other(one, open_usable(one.copy.store))
            except StoreVanished:
                continue
        raise _Stays("no other copy of it that counts can be read here")

    def _read(self, other: _Other, files: Sequence[RollFile]) -> None:
        """Read back there what was not read since this was asked for, and note what that gave. Raises StoreError."""
        known = read_back_on(other.standing.copy, files, self._one.after)
        self._progress.read = sum(file.size for file in files if file.pk in known)
        begun, began = self._progress.read, begin()
        left = {from_ledger(file.kept_as or file.path): file for file in files if file.pk not in known}

        def _tell(now: Progress) -> None:
            self._progress.read = begun + now.read
            self._watch.tick(self._progress)

        if left:
            report = check_copy(
                other.store, from_ledger(other.standing.folder),
                {path: ToCheck(file.size, file.checksum) for path, file in left.items()},
                self._algorithm, cap=self._cap, on_progress=_tell, cancelled=self._watch.cancelled,
            )  # fmt: skip
            open_usable(other.standing.copy.store)  # still there, and still itself
            self._note(other, began, report, left)

    @transaction.atomic
    def _note(self, other: _Other, began: Began, report: CheckReport, read: Mapping[str, RollFile]) -> None:
        """Raises _Stays where the store was reported lost meanwhile."""
        hold_still(self._roll.production_id)
        on_card = {path: from_ledger(file.path) for path, file in read.items()}
        lost = record_unless_lost(
            other.standing.copy, began,
            agreed=[on_card[path] for path in report.agreed],
            failed=[FileFailure(on_card[one.path], one.reason, one.found) for one in report.failed],
            level=report.level, origin=Origin.CHECK,
        )  # fmt: skip
        if lost:
            raise _Stays(lost)
        changed(Topic.ROLLS, rolls=[self._roll.tag], production=self._roll.production_id)

    @transaction.atomic
    def _let_go(self, other: _Other, some: Sequence[RollFile]) -> list[RollFile]:
        """Judge again, and note that these are no part of the copy any more: those that may go now. Raises _Stays."""
        hold_still(self._roll.production_id)
        Roll.objects.select_for_update(no_key=True).get(pk=self._roll.pk)  # nobody marks a clip meanwhile
        if other.standing.id not in {one.id for one in self._judged()}:
            raise _Stays(f"the copy on '{other.name}' does not count any more, or is not connected")
        begun = set(TakenOff.objects.filter(run=self._one).values_list("file", flat=True))
        going = self._may_go(other, some)
        self._note_off([file for file in going if file.pk not in begun])
        self._state = self._ledger_now()
        return going

    def _note_off(self, going: Sequence[RollFile]) -> None:
        """Nothing is claimed of these any more."""
        why = "it was taken off to make room"
        failed = [FileFailure(from_ledger(file.path), why, Result.TAKEN_OFF) for file in going]
        record_reading(self._copy, begin(), agreed=[], failed=failed, level=Evidence.LISTED, origin=Origin.ROOM)
        if going:
            Copy.every.filter(pk=self._copy.pk).update(thinned_at=now())
            CopyLook.objects.filter(copy=self._copy).delete()  # it saw what is there no more
        earlier = TakenOff.objects.filter(run__copy=self._copy, file__in=going, removed_at=None, trouble="")
        earlier.exclude(run=self._one).delete()  # what an earlier run left half-way is this one's now
        TakenOff.objects.bulk_create((TakenOff(run=self._one, file=file) for file in going), batch_size=1000)

    def _may_go(self, other: _Other, some: Sequence[RollFile]) -> list[RollFile]:
        """Of these, what was read back on the other copy since this was asked for, and nobody keeps."""
        kept = what_stays([self._roll], with_kept=self._one.with_kept)
        going = files_that_go([self._roll], self._store(), kept)[self._roll.pk]
        free = {file.pk for file in going}
        proven = read_back_on(other.standing.copy, some, self._one.after)
        return [file for file in some if file.pk in proven and file.pk in free]

    def _take_off(self, target: OpenStore, other: _Other, file: RollFile) -> None:
        """One file: the other copy's is there, this one is what was copied, and goes. Raises StoreError, _Stays."""
        inside = from_ledger(file.kept_as or file.path)
        self._still_there(other, inside, file)
        trouble = self._removed(target, beneath(from_ledger(self._copy.folder), inside), file)
        row = TakenOff.objects.filter(run=self._one, file=file)
        row.update(**({"trouble": trouble} if trouble else {"removed_at": now()}))
        self._still_there(other, inside, file)
        self._progress.read += file.size

    @staticmethod
    def _still_there(other: _Other, inside: str, file: RollFile) -> None:
        """Asked before a file goes and after: where two stores turn out to be one place, it is one file and no more."""
        there = other.store.found(beneath(from_ledger(other.standing.folder), inside))
        if there is None or not there.is_file or there.size != file.size:
            raise _Stays(f"{file.path} is not on '{other.name}' any more as it was read there: have that copy checked")

    def _removed(self, target: OpenStore, path: str, file: RollFile) -> str:
        """Why it stays; empty where it is gone. Raises StoreVanished."""
        try:
            if not self._is_as_copied(target, path, file):
                return "it is not what was copied"
            if self._copy.store.seals:
                target.unseal(path)
            target.withdraw(path)
        except FileMissing:
            return ""
        except StoreVanished:
            raise
        except StoreError as error:
            return error.sentence
        return ""

    def _is_as_copied(self, target: OpenStore, path: str, file: RollFile) -> bool:
        there = target.found(path)
        if there is None:
            raise FileMissing("it is not there")
        if not there.is_file or there.size != file.size:
            return False
        hasher = self._algorithm.start()

        def _consume(data: bytes | bytearray | memoryview) -> None:
            self._cap.spend(len(data))
            hasher.update(data)

        target.read_back(path, _consume)
        return hasher.hexdigest() == file.checksum

    def _take_lists(self, target: OpenStore) -> None:
        """Lists and records beside a copy of which nothing is left. Raises StoreError."""
        half = TakenOff.objects.filter(run=self._one, removed_at=None)
        if not files_held(self._copy) and not half.exists():
            take_beside(self._copy, target)
            BesideCopy.objects.filter(copy=self._copy).delete()
        target.tidy(from_ledger(self._copy.folder))


def _portions(files: Sequence[RollFile]) -> list[list[RollFile]]:
    found: list[list[RollFile]] = []
    size = 0
    for file in files:
        if not found or len(found[-1]) >= _FILES or size + file.size > _BYTES:
            found.append([])
            size = 0
        found[-1].append(file)
        size += file.size
    return found
