"""What happens to cards on the random walk, and what it tells the oracle: shot on, read, offloaded, formatted."""

import os
import random
from datetime import datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Station
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.models import Roll
from ruggedraft.runs.queue import open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import Deciding
from .oracle import Oracle, same_but_other
from .world import SHOT


class ActsOnCards(Deciding):
    """The acts, and what they tell the oracle."""

    def setUp(self):
        super().setUp()
        self.chance = random.Random(0)
        self.count = 0
        self.oracle = Oracle()
        self.drive("twin", identity="one")  # a second folder of the first drive
        self.other = Station.objects.create(name="van")
        self.twin = make.make_card(hub.home(), make.CardSheet("TWIN", "TWIN", "SD", 64 * 10**9, clone_of="SNA-01"))
        self.here = self.card_folder
        self.blank_card()
        self.shoot()

    # What people and accidents do

    def see(self) -> None:
        """The station looks at its readers. A card that stays where it was is not listed each time."""
        before = self.last_listed()
        look(self.station)
        if self.in_reader() and self.last_listed() != before:
            self.oracle.seen |= self.oracle.files(self.here)

    @staticmethod
    def last_listed() -> tuple[int, datetime] | None:
        return CardListing.objects.order_by("-id").values_list("id", "began_at").first()

    def put_in_again(self, folder: Path | None = None) -> None:
        hub.remove("slot-1")
        look(self.station)
        self.here = folder or self.card_folder
        hub.insert("TWIN" if self.here == self.twin else "A-01", "slot-1")
        self.see()

    def take_out(self) -> None:
        hub.remove("slot-1")
        self.see()

    def shoot(self) -> None:
        """New pictures, which the ledger learns of when the card is read again."""
        for _ in range(self.chance.randint(1, 3)):
            self.count += 1
            content = self.chance.randbytes(self.chance.randint(0, 4000))
            moment = SHOT + timedelta(seconds=7 * self.count)
            make.add_file(self.card_folder, f"DCIM/100SKERR/SKR_{self.count:04d}.JPG", content, moment)
        self.put_in_again()

    def shoot_over(self) -> None:
        """Another picture under a name that was there: counters wrap, people swap files."""
        for file in self.some(self.pictures()):
            self.count += 1
            path = str(file.relative_to(self.card_folder))
            make.add_file(self.card_folder, path, self.chance.randbytes(300), SHOT + timedelta(seconds=7 * self.count))
        self.put_in_again()

    def shoot_in_the_slot(self) -> None:
        """A file comes onto the card while it is in its reader, and nobody takes it out."""
        if self.here == self.card_folder and self.in_reader():
            self.count += 1
            make.add_file(self.card_folder, f"DCIM/100SKERR/SLOT{self.count:04d}.JPG", self.chance.randbytes(99), SHOT)

    def pictures(self) -> list[Path]:
        return sorted(file for file in self.card_folder.rglob("*.JPG"))

    def some(self, things: list) -> list:
        return [self.chance.choice(things)] if things else []

    def in_reader(self) -> bool:
        return Insertion.objects.filter(removed_at=None).exists()

    def format(self) -> None:
        make.format_card(self.card_folder)
        self.put_in_again()

    def format_and_shoot_the_same_names(self) -> None:
        """A camera without a clock: the same names, sizes and times, and other pictures."""
        again = [(file, file.stat().st_mtime, file.read_bytes()) for file in self.pictures()]
        make.format_card(self.card_folder)
        for file, at, content in again:
            file.parent.mkdir(parents=True, exist_ok=True)
            file.write_bytes(bytes(byte ^ 1 for byte in content))
            os.utime(file, (at, at))
        self.put_in_again()

    def rewrite_one(self) -> None:
        """One file of the card gets other bytes, and keeps its name, size and time."""
        for file in self.some([file for file in self.pictures() if file.stat().st_size]):
            same_but_other(file)
        self.put_in_again()

    def erase_one(self) -> None:
        for file in self.some(self.pictures()):
            file.unlink()
        self.put_in_again()

    def put_in_the_twin(self) -> None:
        """A card with the same serial and size, which nobody has told apart yet."""
        make.format_card(self.twin)
        if self.chance.random() < 0.5:
            make.add_file(self.twin, "DCIM/100SKERR/TWIN.JPG", self.chance.randbytes(50), SHOT)
        self.put_in_again(self.twin)

    def shift_the_zone(self) -> None:
        """FAT keeps local time: the same card, read in another zone."""
        hours = self.chance.choice([-9, -1, 2, 5])
        for file in self.pictures():
            at = file.stat().st_mtime_ns + hours * 3600 * 10**9
            os.utime(file, ns=(at, at))
        moved = {(path, size, at + hours * 3600 * 10**9, content) for path, size, at, content in self.oracle.seen}
        self.oracle.seen = {one for one in self.oracle.seen | moved if one in self.oracle.files(self.card_folder)} | {
            one for one in self.oracle.seen if not self._moved_is_here(one, hours)
        }
        self.oracle.shown_waived |= {
            (path, size, at + hours * 3600 * 10**9, content) for path, size, at, content in self.oracle.shown_waived
        }
        self.put_in_again()

    def _moved_is_here(self, one, hours: int) -> bool:
        path, size, at, content = one
        return (path, size, at + hours * 3600 * 10**9, content) in self.oracle.files(self.card_folder)

    def offload(self, **take) -> None:
        tag = (self.get("bench")["slots"][0]["proposal"] or {}).get("tag", "")
        self.post(f"bench/cards/{self.card.pk}/offload", {"tag": tag, "take": take or None})
        self.run_all()

    def run_all(self) -> None:
        while first := open_runs(self.station).filter(kind=Offload.KIND).first():
            run = Offload.objects.get(pk=first.pk)
            before = {(roll.tag, path) for roll in Roll.objects.all()
                      for path in roll.files.exclude(checksum="").values_list("path", flat=True)}  # fmt: skip
            carry_out_first(run_id=run.pk)
            run.refresh_from_db()
            if not run.finished_at:
                break
            self.oracle.note_run(self.here, before)
            self.tell_what_was_read(run)

    def tell_what_was_read(self, run: Offload) -> None:
        """Of the copies on the stores that it wrote to; a card that was pulled did not come to every one."""
        pulled = not any(card.slot for card in hub.cards())
        if run.end not in ("well", "trouble") or pulled or not self.in_reader():
            return
        paths = set(run.take.get("picked") or ()) or {one[0] for one in self.oracle.files(self.here)}
        for copy in run.roll.copies.filter(store__in=run.targets).select_related("store"):
            self.oracle.read_again(copy, paths)

    def offload_a_part(self) -> None:
        files = [str(file.relative_to(self.card_folder)) for file in self.pictures()]
        if files:
            self.offload(picked=self.chance.sample(files, self.chance.randint(1, len(files))))

    def start_only(self) -> None:
        tag = (self.get("bench")["slots"][0]["proposal"] or {}).get("tag", "")
        self.post(f"bench/cards/{self.card.pk}/offload", {"tag": tag})

    def pause_and_resume(self) -> None:
        self.start_only()
        if run := open_runs(self.station).first():
            self.post(f"runs/{run.pk}/pause")
            self.judge()
            self.post(f"runs/{run.pk}/resume")
        self.run_all()

    def cancel(self) -> None:
        self.start_only()
        if run := open_runs(self.station).first():
            self.judge()
            self.post(f"runs/{run.pk}/cancel")
        self.run_all()

    def pull_in_the_middle(self) -> None:
        """The card is taken out after some of its bytes were read; and put in again later, or not."""
        left = self.chance.randint(0, 3000)
        given = [0]

        def pull(source, count):
            given[0] += count
            if given[0] > left:
                hub.remove("slot-1")

        self.start_only()
        with patch.object(hub.PacedSource, "wait_for", pull):
            self.run_all()
        self.see()
