"""Long random stretches of work, and after every step: is a card called safe that is not?

The oracle knows nothing of the ledger but where copies lie. It looks at bytes.
"""

import os
import random
from datetime import timedelta
from pathlib import Path

from django.test import TestCase

from ruggedraft.clearing.models import Waiver
from ruggedraft.core.cards import from_ledger
from ruggedraft.offloads.tasks import open_runs, run_offload
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Copy, Roll, RollFile
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.stores.models import Device, DeviceLoss, Store

from ruggedraft.intake.watching import look  # isort: skip

from .world import SHOT, World

STEPS = 40
SEEDS = range(20) if os.environ.get("RAFT_LONG") else range(2)
SAFE = ("ready to sign", "cleared", "empty")


class NeverWrong(World, TestCase):
    def test_whatever_happens_no_card_is_called_safe_that_is_not(self):
        seen: dict[str, int] = {}
        for seed in SEEDS:
            self.chance = random.Random(seed)
            self.begin_again()
            done = []
            for _ in range(STEPS):
                act = self.chance.choices(self.ACTS, weights=[weight for _, weight in self.WEIGHTED])[0]
                done.append(act)
                getattr(self, act)()
                standing = self.standing()["standing"]
                seen[standing] = seen.get(standing, 0) + 1
                if standing in SAFE:
                    self.assertEqual(self.in_danger(), [], f"seed {seed}, '{standing}' after {', '.join(done)}")
        self.assertGreater(seen.get("ready to sign", 0) + seen.get("cleared", 0), 3, f"the work got somewhere: {seen}")
        self.assertGreater(seen.get("not clear", 0), 3, f"and was in doubt at times: {seen}")

    WEIGHTED = (
        ("offload", 6), ("offload_a_part", 3), ("shoot", 3), ("shoot_over", 1), ("put_in_again", 4), ("rot", 1),
        ("lose_a_file", 1), ("waive_what_was_left", 2), ("sign_it", 5), ("rename_from_now_on", 1), ("format", 1),
        ("pause_and_resume", 1), ("lose_a_drive", 0.2), ("mend", 2),
    )  # fmt: skip
    ACTS = tuple(name for name, _ in WEIGHTED)

    # What happens

    def begin_again(self) -> None:
        self.count = 0
        DeviceLoss.objects.all().delete()
        self.use_drives_that_are_there()
        self.format()
        self.shoot()
        self.put_in_again()

    def put_in_again(self) -> None:
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)

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
        files = sorted(self.card_folder.rglob("*.JPG"))
        if files:
            file = self.chance.choice(files)
            self.count += 1
            path = str(file.relative_to(self.card_folder))
            make.add_file(self.card_folder, path, self.chance.randbytes(300), SHOT + timedelta(seconds=7 * self.count))
        self.put_in_again()

    def format(self) -> None:
        make.format_card(self.card_folder)
        self.put_in_again()

    def offload(self, **take) -> None:
        tag = (self.get("bench")["slots"][0]["proposal"] or {}).get("tag", "")
        self.post(f"bench/cards/{self.card.pk}/offload", {"tag": tag, "take": take or None})
        self.run_all()

    def run_all(self) -> None:
        while run := open_runs(self.station).first():
            run_offload(offload_id=run.pk)

    def offload_a_part(self) -> None:
        files = [str(file.relative_to(self.card_folder)) for file in sorted(self.card_folder.rglob("*.JPG"))]
        if files:
            self.offload(picked=self.chance.sample(files, self.chance.randint(1, len(files))))

    def pause_and_resume(self) -> None:
        tag = (self.get("bench")["slots"][0]["proposal"] or {}).get("tag", "")
        self.post(f"bench/cards/{self.card.pk}/offload", {"tag": tag})
        run = open_runs(self.station).first()
        if run:
            self.post(f"bench/offloads/{run.pk}/pause")
            self.assertNotIn(self.standing()["standing"], SAFE)
            self.post(f"bench/offloads/{run.pk}/resume")
        self.run_all()

    def rename_from_now_on(self) -> None:
        plan = self.get("setup")["plans"][0]
        names = self.chance.choice(["", "{roll}_{number:4}_{counter}", "{roll}_{name}"])
        self.post(f"setup/plans/{plan['id']}", {**plan, "names": names}, method="put")

    def rot(self) -> None:
        self.spoil(lambda file: file.write_bytes(bytes(b ^ 1 for b in file.read_bytes()) or b"?"))

    def lose_a_file(self) -> None:
        self.spoil(Path.unlink)

    def spoil(self, how) -> None:
        """Something happens to a file of a copy, and a check finds it."""
        copies = [copy for copy in self.copies() if self.files_of(copy)]
        if copies:
            copy = self.chance.choice(copies)
            file = self.chance.choice(self.files_of(copy))
            if file.exists():
                how(file)
            self.check(copy.roll, copy.store.name)

    def copies(self):
        return Copy.objects.filter(store__device__losses=None).select_related("store", "roll").order_by("pk")

    def files_of(self, copy: Copy) -> list[Path]:
        return [self.place_of(copy, file) for file in copy.roll.files.order_by("pk")]

    def place_of(self, copy: Copy, file: RollFile) -> Path:
        return Path(copy.store.path, copy.folder, from_ledger(file.kept_as or file.path))

    def mend(self) -> None:
        """Bad files are put aside by hand; the next offload writes them again."""
        for copy in self.copies():
            for fault in copy.faults.filter(mended_by=None).select_related("file"):
                self.place_of(copy, fault.file).unlink(missing_ok=True)
        self.offload()

    def lose_a_drive(self) -> None:
        if Roll.objects.exists():
            there = list(Device.objects.filter(losses=None).order_by("pk"))
            if len(there) > 2:
                report_loss(self.wren, self.chance.choice(there), "fell into the creek")
                self.use_drives_that_are_there()

    def use_drives_that_are_there(self) -> None:
        self.plan.stores.set(Store.objects.filter(device__losses=None).order_by("pk")[:2])

    def waive_what_was_left(self) -> None:
        count = self.standing()["left_in_all"]
        self.post(f"clearing/cards/{self.card.pk}/waive-left", {"reason": "not ours", "count": count})

    def sign_it(self) -> None:
        case = self.standing()
        if case["tag"]:
            self.post(f"clearing/cards/{self.card.pk}/sign", {"tag": case["tag"], "digest": case["digest"]})

    # The oracle

    def in_danger(self) -> list[str]:
        """Files on the card whose very bytes are not on two drives that are still there, and that nobody waived."""
        return [
            str(file.relative_to(self.card_folder))
            for file in self.card_folder.rglob("*")
            if file.is_file() and not self.waived(file) and len(self.drives_with(file)) < 2
        ]

    def waived(self, file: Path) -> bool:
        facts = file.stat()
        path = str(file.relative_to(self.card_folder))
        return Waiver.objects.filter(path=path, size=facts.st_size, modified_ns=facts.st_mtime_ns).exists()

    def drives_with(self, file: Path) -> set[str]:
        """Drives on which these bytes lie in the place where a roll's copy keeps this file."""
        content, path = file.read_bytes(), str(file.relative_to(self.card_folder))
        found = set()
        for copy in Copy.objects.filter(store__device__losses=None).select_related("store__device", "roll"):
            for known in copy.roll.files.filter(path=path):
                place = self.place_of(copy, known)
                if place.is_file() and place.read_bytes() == content:
                    found.add(copy.store.device.identity)
        return found
