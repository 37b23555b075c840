"""A unit's rolls with their files, and what was read of their copies. Nothing of it may prove more here than there."""

from collections.abc import Iterable, Sequence

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Result
from ruggedraft.core.wording import counted
from ruggedraft.intake.fingerprints import comparable, fingerprint_kind
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Device, DeviceLoss
from ruggedraft.rolls.models import Copy, Origin, Reading, ReadingResult, Roll, RollFile, Take

from .known import Known
from .lines import (
    CopyLine,
    DeviceLost,
    FileLine,
    ReadingLine,
    RollLine,
    StoreLine,
    TakeLine,
)
from .models import UnitRow


class Evidence:
    """A copy that was read here too is judged by what was read here; of theirs only what speaks against it is taken."""

    def __init__(self, known: Known) -> None:
        self._known = known
        self._apart: frozenset[int] = frozenset()
        self._file: dict[int, int] = {}

    def take_in(self) -> None:
        """In an order in which each line finds what it speaks of."""
        self._rolls()
        self._apart = self._rolls_that_went_on_here()
        self._files()
        self._copies()
        self._readings()
        self._losses()

    def _rolls(self) -> None:
        for one in self._known.said.of(RollLine):
            if self._known.ours("roll", one.id) is not None:
                continue
            camera, card = self._known.ours("camera", one.camera), self._known.ours("card", one.card)
            here = Roll.objects.filter(production=self._known.production, tag=one.tag).select_related("card").first()
            if here is not None:
                self._known_roll(one, here)
            elif camera is None or card is None:
                self._known.conflict(f"Roll {one.tag} is of a card that was not taken in: nor was the roll.")
            elif Roll.objects.filter(camera=camera, number=one.number).exists():
                self._known.conflict(
                    f"Roll {one.tag} has a number that another roll of its camera has here: nothing taken in."
                )
            else:
                self._new_roll(one, camera, card)

    def _new_roll(self, one: RollLine, camera: int, card: int) -> None:
        made = Roll.objects.create(
            production=self._known.production, camera_id=camera, card_id=card, number=one.number, tag=one.tag,
            shoot_day=one.shoot_day, opened_at=one.opened_at, algorithm=one.algorithm, fs_serial=one.fs_serial,
            double_of_id=self._known.ours("roll", one.double_of) if one.double_of is not None else None,
        )  # fmt: skip
        self._known.note("roll", one.id, made.pk)
        self._known.done.rolls.append(made.tag)

    def _known_roll(self, one: RollLine, here: Roll) -> None:
        """One tag: the same roll if every file is the same; otherwise two, and theirs is left out."""
        takes = {take.id for take in self._known.said.of(TakeLine) if take.roll == one.id}
        theirs = {
            (file.path, file.size, file.checksum) for file in self._known.said.of(FileLine) if file.take in takes
        }  # fmt: skip
        ours = set(RollFile.objects.filter(roll=here).values_list("path", "size", "checksum"))
        takes_here = list(here.takes.values_list("pk", flat=True))
        if theirs == ours and all(checksum for _, _, checksum in ours) and here.algorithm == one.algorithm:
            if len(takes) == len(takes_here) == 1:  # else nobody could say which files a reading spoke of
                self._known.note("roll", one.id, here.pk)
                self._known.note("take", takes.pop(), takes_here[0])
            else:
                self._known.conflict(
                    f"{one.tag} is here already, taken in other parts: nothing of the unit's was taken in."
                )
            return
        words = f"{counted(len(ours), 'file')} of card {here.card.label} here, {counted(len(theirs), 'file')}"
        self._known.conflict(
            f"{one.tag} is two rolls: {words} at unit {self._known.unit.name}. Nothing of theirs was taken in."
        )

    def _rolls_that_went_on_here(self) -> frozenset[int]:
        """Rolls (ids) that were taken further here: what a unit says of all of a roll, it does not say of that."""
        theirs = {ours for (kind, _), ours in self._known.rows.items() if kind == "take"}
        rolls = [ours for (kind, _), ours in self._known.rows.items() if kind == "roll"]
        apart = Take.objects.filter(roll__in=rolls).exclude(pk__in=theirs).values_list("roll", "roll__tag")
        for tag in sorted({tag for _, tag in apart}):
            self._known.conflict(
                f"{tag} went on here: what unit {self._known.unit.name} did with it since is not taken in."
            )
        return frozenset(pk for pk, _ in apart)

    def _files(self) -> None:
        takes = self._known.said.of(TakeLine)
        for one in takes:
            if self._known.ours("take", one.id) is None:
                self._new_take(one)
        ours = {one.id: self._known.ours("roll", one.roll) for one in takes if self._known.ours("take", one.id)}
        roll_of = {take: roll for take, roll in ours.items() if roll is not None}
        self._new_files([one for one in self._known.said.of(FileLine) if one.take in roll_of], roll_of)

    def _new_take(self, one: TakeLine) -> None:
        roll, person = self._known.ours("roll", one.roll), self._known.ours("person", one.person)
        if roll is not None and person is not None and roll not in self._apart:
            made = Take.objects.create(roll_id=roll, listing=None, person_id=person, at=one.at)
            self._known.note("take", one.id, made.pk)

    def _new_files(self, lines: Sequence[FileLine], roll_of: dict[int, int]) -> None:
        rolls = set(roll_of.values())
        rows_here = RollFile.objects.filter(roll__in=rolls)
        known = {
            (roll, path): (size, checksum)
            for roll, path, size, checksum in rows_here.values_list("roll", "path", "size", "checksum")
        }
        self._refuse_others(lines, roll_of, known)
        kind = fingerprint_kind()
        fresh = [
            RollFile(
                roll_id=roll_of[one.take], take_id=self._known.rows["take", one.take], path=one.path, size=one.size,
                modified_ns=one.modified_ns, checksum=one.checksum, kept_as=one.kept_as,
                fingerprint=comparable(one.fingerprint, kind),
                others=one.others, is_clip=one.is_clip,
            )
            for one in lines
            if (roll_of[one.take], one.path) not in known
        ]  # fmt: skip
        RollFile.objects.bulk_create(fresh, batch_size=2000)
        self._read_since(lines, roll_of)
        rows = RollFile.objects.filter(roll__in=rolls).values_list("roll", "path", "pk")
        by_path = {(roll, path): pk for roll, path, pk in rows}
        self._file = {one.id: by_path[roll_of[one.take], one.path] for one in lines}

    def _refuse_others(
        self, lines: Iterable[FileLine], roll_of: dict[int, int], known: dict[tuple[int, str], tuple[int, str]]
    ) -> None:
        """Raises ActRefused where a file that was handed in before is another now: its readings would speak of that."""
        for one in lines:
            size, checksum = known.get((roll_of[one.take], one.path), (one.size, one.checksum))
            if size != one.size or (checksum and checksum != one.checksum):
                unit = self._known.unit.name
                raise ActRefused(f"{one.path} is not the file that unit {unit} handed in before. Nothing was taken in.")

    def _read_since(self, lines: Iterable[FileLine], roll_of: dict[int, int]) -> None:
        """Files that were not read off the card when they were last handed in."""
        waiting = {
            (roll, path): pk
            for roll, path, pk in RollFile.objects.filter(roll__in=set(roll_of.values()), checksum="").values_list(
                "roll", "path", "pk"
            )
        }
        kind = fingerprint_kind()
        for one in lines:
            pk = waiting.get((roll_of[one.take], one.path))
            if pk is not None and one.checksum:
                RollFile.objects.filter(pk=pk, checksum="", size=one.size).update(
                    checksum=one.checksum, fingerprint=comparable(one.fingerprint, kind), others=one.others
                )

    def _copies(self) -> None:
        """A copy that this ledger knows already is left to what was read of it here."""
        for one in self._known.said.of(CopyLine):
            roll, store = self._known.ours("roll", one.roll), self._known.ours("store", one.store)
            if roll is None or store is None or roll in self._apart or self._known.ours("copy", one.id) is not None:
                continue
            here = Copy.every.filter(roll=roll, store=store).first()
            if here is None:
                here = Copy.objects.create(roll_id=roll, store_id=store, folder=one.folder)
                self._known.done.copies += 1
            self._known.note("copy", one.id, here.pk)

    def _readings(self) -> None:
        theirs = set(UnitRow.objects.filter(unit=self._known.unit, kind="reading").values_list("ours", flat=True))
        left_alone: set[int] = set()
        roll_of = {one.id: one.roll for one in self._known.said.of(CopyLine)}
        for one in self._known.said.of(ReadingLine):
            copy = self._known.ours("copy", one.copy_)
            if copy is None or self._known.ours("reading", one.id) is not None:
                continue
            apart = self._known.ours("roll", roll_of[one.copy_]) in self._apart
            if apart or Reading.objects.filter(copy=copy).exclude(pk__in=theirs).exists():
                left_alone.add(copy)
                made = self._against(one, copy)
            else:
                made = self._reading(one, copy, roll_of[one.copy_])
            if made is not None:
                theirs.add(self._known.note("reading", one.id, made.pk))
        for there in Copy.every.filter(pk__in=left_alone).select_related("roll", "store").order_by("pk"):
            words = (
                f"{there.roll.tag} on '{there.store.name}' was read here too: what unit {self._known.unit.name} read"
            )
            self._known.conflict(f"{words} proves nothing here; what it found wrong is noted. Check it.")

    def _reading(self, one: ReadingLine, copy: int, roll: int) -> Reading:
        made = Reading.objects.create(
            copy_id=copy, origin=Origin(one.origin), began_at=one.began_at, noted_at=one.noted_at,
            after=self._after(one, copy), level=one.level, all_but=one.all_but, until=self._until(one, roll),
            agreed_files=one.agreed_files, agreed_bytes=one.agreed_bytes,
        )  # fmt: skip
        if any(file not in self._file for file, *_ in one.results):  # left out, it would pass for one that agrees
            raise ActRefused("A reading in this file speaks of a file that is not in it. Nothing was taken in.")
        self._results(made, one, one.results)
        self._known.done.readings += 1
        return made

    def _until(self, one: ReadingLine, roll: int) -> int:
        """The last take of the roll (their id) that the reading spoke of, as it is here."""
        takes = (take.id for take in self._known.said.of(TakeLine) if take.roll == roll and take.id <= one.until)
        return max((self._known.rows["take", take] for take in takes if ("take", take) in self._known.rows), default=0)

    def _against(self, one: ReadingLine, copy: int) -> Reading | None:
        """Of a copy that was read here as well: only what speaks against it. A check tells whether that still holds."""
        bad = [row for row in one.results if Result(row[1]).bad and row[0] in self._file]
        if not bad:
            return None
        made = Reading.objects.create(
            copy_id=copy, origin=Origin(one.origin), began_at=one.began_at, noted_at=one.noted_at, after=0,
            level=one.level, all_but=False, until=0, agreed_files=0, agreed_bytes=0,
        )  # fmt: skip
        self._results(made, one, bad)
        self._known.done.readings += 1
        return made

    def _results(self, made: Reading, one: ReadingLine, rows: Sequence[tuple[int, str, str, int | None]]) -> None:
        ReadingResult.objects.bulk_create(
            ReadingResult(reading=made, file_id=self._file[file], result=Result(result), reason=reason,
                          modified_ns=modified)
            for file, result, reason, modified in rows
        )  # fmt: skip

    def _after(self, one: ReadingLine, copy: int) -> int:
        """The last evidence of this unit that was noted before: of what happened here meanwhile nothing can be told.

        A device that was reported lost here, or found again, was out of sight: nothing of it counts for that.
        """
        of_unit = [ours for (kind, _), ours in self._known.rows.items() if kind == "loss"]
        if DeviceLoss.objects.filter(device__stores__copies=copy).exclude(pk__in=of_unit).exists():
            return 0
        return self._mapped(one.after)

    def _mapped(self, evidence: int) -> int:
        """The last evidence here that is one of the unit's up to this one."""
        rows = ((theirs, ours) for (kind, theirs), ours in self._known.rows.items() if kind == "reading")
        return max((ours for theirs, ours in rows if theirs <= evidence), default=0)

    def _losses(self) -> None:
        """What was lost there is lost here; what was found there again counts by what was read since."""
        for one in self._known.said.of(StoreLine):
            device = Device.objects.get(stores=self._known.ours("store", one.id))
            for lost in one.losses:
                ours = self._known.ours("loss", lost.id)
                if ours is None:
                    self._loss(device, lost)
                elif lost.found_after is not None and DeviceLoss.objects.filter(pk=ours, found_at=None).exists():
                    words = f"'{device.name}' was found at unit {self._known.unit.name}: say so here once it is there"
                    self._known.conflict(f"{words}, and check what is on it.")

    def _loss(self, device: Device, lost: DeviceLost) -> None:
        made = DeviceLoss(
            device=device, reported_at=now(), reported_by=self._known.person,
            reason=f"unit {self._known.unit.name}: {lost.reason}"[:300],
        )  # fmt: skip
        if lost.found_after is not None:
            made.found_at, made.found_by, made.found_after = now(), self._known.person, self._mapped(lost.found_after)
        made.save()
        self._known.note("loss", lost.id, made.pk)
