"""The acts of the random walk, what they tell the oracle, and what every screen is asked after each."""

import os
import random
import shutil
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from django.utils import timezone

from ruggedraft.checks import running
from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.cases import case as case_in_full
from ruggedraft.clearing.roll_cases import overview
from ruggedraft.core.sources import from_ledger
from ruggedraft.intake.models import Card, CardListing, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.kit.models import DeviceLoss, Station
from ruggedraft.offloads.models import Offload
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.runs.queue import open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.stores.models import Store

from .deciding import Deciding
from .oracle import Oracle, same_but_other
from .world import SHOT

SAFE = ("ready to sign", "waiting for a signature", "cleared", "empty")


class Walking(Deciding):
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
        while first := open_runs(self.station).first():
            run = Offload.objects.get(pk=first.pk)
            before = {(roll.tag, path) for roll in Roll.objects.all()
                      for path in roll.files.exclude(checksum="").values_list("path", flat=True)}  # fmt: skip
            carry_out_first(run_id=run.pk)
            run.refresh_from_db()
            if not run.finished_at:
                break
            self.oracle.note_run(self.here, before)
            paths = None if not run.take.get("picked") else set(run.take["picked"])
            if run.end in ("well", "trouble") and self.in_reader():
                for copy in run.roll.copies.select_related("store"):
                    self.oracle.read_again(copy, paths or {one[0] for one in self.oracle.files(self.here)})

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

    def check_one(self) -> None:
        for copy in self.some(self.copies()):
            self.check_copy(copy)

    def check_copy(self, copy: Copy, *, meanwhile: Callable[[], None] | None = None) -> None:
        """By either of two stations. meanwhile: what happens after the check has read, and before it is noted."""
        if self.post(f"copies/{copy.pk}/check").status_code != 200:
            return
        asked = CheckRun.objects.latest("id")
        asked.station = self.chance.choice([self.station, self.other])
        asked.save()
        if meanwhile is None:
            running.carry_out(asked.pk)
            self.oracle.read_again(copy)
            return
        real = running.check_copy

        def and_then(*words, **more):
            report = real(*words, **more)
            self.oracle.read_again(copy)
            meanwhile()
            return report

        with patch.object(running, "check_copy", and_then):
            running.carry_out(asked.pk)

    def check_beside_an_offload(self) -> None:
        """While a check has read a copy and not noted it, a file rots and an offload, or another look, finds that."""
        for copy in self.some(self.copies()):
            for file in self.some(self.files_of(copy)):

                def rot_and_find(file=file):
                    if file.exists():
                        file.write_bytes(b"rotten" * 3)
                    self.offload()
                    self.look_at_everything()

                self.check_copy(copy, meanwhile=rot_and_find)

    def rot_in_silence(self) -> None:
        """Same size, same time: nothing but reading finds it."""
        for copy in self.some(self.copies()):
            for file in self.some([f for f in self.files_of(copy) if f.is_file() and f.stat().st_size]):
                if file not in self.oracle.silent:
                    self.oracle.silent[file] = same_but_other(file)

    def cut_a_file(self) -> None:
        for copy in self.some(self.copies()):
            for file in self.some([f for f in self.files_of(copy) if f.is_file()]):
                file.write_bytes(b"cut off here")
                self.oracle.silent.pop(file, None)

    def delete_a_file(self) -> None:
        for copy in self.some(self.copies()):
            for file in self.some([f for f in self.files_of(copy) if f.is_file()]):
                file.unlink()
                self.oracle.silent.pop(file, None)

    def delete_a_copy(self) -> None:
        for copy in self.some(self.copies()):
            home = Path(copy.store.path, copy.folder)
            shutil.rmtree(home, ignore_errors=True)
            self.oracle.silent = {file: old for file, old in self.oracle.silent.items() if home not in file.parents}

    def copies(self) -> list[Copy]:
        return list(Copy.objects.select_related("store", "roll").order_by("pk"))

    def files_of(self, copy: Copy) -> list[Path]:
        files = copy.roll.files.order_by("pk")
        return [Path(copy.store.path, copy.folder, from_ledger(file.kept_as or file.path)) for file in files]

    def rename_from_now_on(self) -> None:
        plan = self.get("setup")["plans"][0]
        names = self.chance.choice(["", "{roll}_{number:4}_{counter}", "{roll}_{name}"])
        self.post(f"setup/plans/{plan['id']}", {**plan, "names": names}, method="put")

    def other_algorithm(self) -> None:
        self.change_plan(algorithm=self.chance.choice(["md5", "xxh128", "sha1"]))

    def lose_a_drive(self) -> None:
        lost = DeviceLoss.objects.filter(found_at=None).values("device")
        there = list(Store.objects.exclude(device__in=lost).exclude(name="twin").order_by("pk"))
        if len(there) > 2:
            self.post(f"stores/{self.chance.choice(there).name}/lost", {"reason": "fell into the creek"})
        self.use_drives_that_are_there()

    def find_a_drive(self) -> None:
        for loss in self.some(list(DeviceLoss.objects.filter(found_at=None).select_related("device"))):
            self.post(f"stores/{loss.device.stores.first().name}/found")

    def use_drives_that_are_there(self) -> None:
        lost = DeviceLoss.objects.filter(found_at=None).values("device")
        there = list(Store.objects.exclude(device__in=lost).exclude(name="twin").order_by("pk"))[:2]
        if self.chance.random() < 0.3:
            there.append(Store.objects.get(name="twin"))
        self.plan.stores.set(there)

    def waive_what_was_left(self) -> None:
        case = self.standing()
        words = {"reason": "not ours", "count": case["left_in_all"], "seen": case["seen"]}
        shown = {one for one in self.oracle.files(self.here) if one[0] in case["left_behind"]}
        if self.post(f"clearing/cards/{self.card.pk}/waive-left", words).status_code == 200:
            self.oracle.shown_waived |= shown

    def waive_one(self) -> None:
        case = self.standing()
        for one in self.some(sorted(self.oracle.files(self.here))):
            words = {"path": one[0], "reason": "out of focus", "seen": case["seen"]}
            if self.post(f"clearing/cards/{self.card.pk}/waive", words).status_code == 200:
                self.oracle.shown_waived.add(one)

    def answer_for_what_is_gone(self) -> None:
        case = self.standing()
        words = {"reason": "camera tests", "count": case["gone_in_all"]}
        if self.post(f"clearing/cards/{self.card.pk}/gone", words).status_code == 200:
            self.oracle.answered |= {one for one in self.oracle.seen if one[0] in case["gone"]}

    def hold_and_lift(self) -> None:
        case = self.standing()
        if case["holds"]:
            self.post(f"clearing/holds/{case['holds'][0]['id']}", method="delete")
        elif case["roll_id"]:
            self.post(f"clearing/rolls/{case['roll_id']}/hold", {"reason": "wait"})

    def change_the_rule(self) -> None:
        """Never below two copies on two devices, which is what the oracle asks for."""
        words = {"copies": self.chance.choice([2, 2, 3]), "fresh_days": self.chance.choice([None, 30]), "reason": "so"}
        self.post("setup/rule", words, self.sol, method="patch")

    def jump_the_clock(self) -> None:
        """Something is done while the machine believes to be in another year."""
        jump = timedelta(days=self.chance.choice([-400, 400]))
        with clock.at(timezone.now() + jump):
            getattr(self, self.chance.choice(["offload", "check_one", "put_in_again"]))()

    def sign_it(self) -> None:
        """By the screen: look, and sign. Whatever is cleared in this moment is safe in this moment."""
        case = self.standing()
        if case["tag"]:
            answer = self.sign(tag=case["tag"])
            if answer.status_code == 200 and answer.json()["cleared"]:
                self.oracle.seen |= self.oracle.files(self.here)
                self.wrong_if(self.oracle.in_danger(self.here) if self.in_reader() else [], "cleared")

    # What is asked, and compared

    def judge(self) -> str:
        """Ask every screen, and return where the card stands.

        First the station looks at the copies, as it does by itself now and then.
        """
        for copy in Copy.objects.filter(store__sightings__online=True).select_related("roll", "store__device"):
            look_at_copy(copy)
        return self.compare()

    def compare(self) -> str:
        with self.oracle.still():
            return self.ask_every_screen()

    def ask_every_screen(self) -> str:
        case = self.standing()
        self.judge_card(case)
        rolls = self.get("tally")["rolls"]
        self.judge_rolls(rolls)
        self.judge_bench(case)
        self.judge_line(case, rolls)
        self.judge_what_is_remembered(rolls)
        return case["standing"]

    def judge_what_is_remembered(self, rolls: list[dict]) -> None:
        """Lists are answered from summaries: they say what follows from every reading and every file."""
        known, places = list(Roll.objects.values_list("pk", flat=True)), places_of_all()
        self.assertEqual(roll_standings(known, places), roll_standings(known, places, in_full=True))
        (of_list,) = [one for one in cases(active_cards()) if one.card.pk == self.card.pk]
        in_full = case_in_full(self.card_row())
        self.assertEqual((of_list.digest, of_list.gone, of_list.signatures, of_list.rolls),
                         (in_full.digest, in_full.gone, in_full.signatures, in_full.rolls))  # fmt: skip
        self.assertEqual(replace(of_list.verdict, blocks=()), replace(in_full.verdict, blocks=()))
        timeless = [[block for block in one.verdict.blocks if block.kind != "listing"] for one in (of_list, in_full)]
        self.assertEqual(*timeless)
        states = overview(self.production, places, clock.now()).states
        self.assertEqual({Roll.objects.get(pk=pk).tag: str(state) for pk, state in states.items()},
                         {roll["tag"]: roll["state"] for roll in rolls})  # fmt: skip

    def card_row(self) -> Card:
        return active_cards().get(pk=self.card.pk)

    def wrong_if(self, wrong: object, said: str) -> None:
        self.assertFalse(wrong, f"'{said}' is not so: {wrong}; after {', '.join(self.done[-8:])}")

    done: list[str] = []

    def judge_card(self, case: dict) -> None:
        standing, known = case["standing"], self.as_listed()
        if standing in SAFE and known:
            self.wrong_if(self.oracle.in_danger(self.here), standing)
            self.wrong_if(self.oracle.owed(self.here), standing)
        if case["lashed"] and known:
            self.wrong_if(self.oracle.in_danger(self.here), "lashed")
        self.wrong_if(case["may_go_back"] and not (self.in_reader() or standing == "cleared"), "may go back")
        self.wrong_if(case["may_go_back"] and standing not in ("cleared", "empty"), "may go back")
        if standing == "empty":
            self.wrong_if(self.oracle.files(self.here) if known else [], "empty")
        if "Every file on it is in enough copies" in case["sentence"] and known:
            self.wrong_if(self.oracle.in_danger(self.here), case["sentence"])
        self.judge_planks(case["planks"], case["tag"])

    def as_listed(self) -> bool:
        """Whether the card is as the station last saw it: what came since nobody can know before it looks."""
        return self.oracle.files(self.here) <= self.oracle.seen and self.in_reader()

    def judge_planks(self, planks: list[dict], tag: str | None) -> None:
        for plank in planks:
            copy = Copy.objects.select_related("store", "roll").get(pk=plank["copy_id"])
            really, files = self.oracle.held(copy.roll, copy), copy.roll.files.count()
            self.wrong_if(plank["files"] > really and plank["state"] != "lost", f"{tag} on {plank['store']}: {plank}")
            if plank["state"] in ("verified", "stale", "weak"):
                self.wrong_if(really + copy.roll.waivers.count() < files, f"{tag} whole on {plank['store']}")
            lost = copy.store.device.losses.filter(found_at=None).exists()
            self.wrong_if(lost != (plank["state"] == "lost"), f"{plank['store']} is {plank['state']}")

    def judge_rolls(self, rolls: list[dict]) -> None:
        for roll in rolls:
            row = Roll.objects.get(tag=roll["tag"])
            self.judge_planks(roll["planks"], roll["tag"])
            self.assertEqual(roll["files"] + roll["waived"], row.files.count())
            unsafe = self.unsafe_files(row)
            self.wrong_if(roll["state"] == "safe" and unsafe, f"{roll['tag']} is safe")
        for roll in self.some(rolls):
            detail = self.get(f"tally/rolls/{roll['tag']}")
            self.assertEqual(detail["roll"], roll)
            unsafe = self.unsafe_files(Roll.objects.get(tag=roll["tag"]))
            self.wrong_if(detail["survives_devices"] >= 1 and unsafe, f"{roll['tag']} survives")

    def unsafe_files(self, roll: Roll) -> list[str]:
        """Files of a roll, none of them waived, that are not on two devices with the bytes that were read."""
        waived = {one[0] for one in self.oracle.shown_waived}
        paths = [path for path in roll.files.values_list("path", flat=True) if path not in waived]
        return [path for path in paths if len(self._devices_of(roll, path)) < 2]

    def _devices_of(self, roll: Roll, path: str) -> set[str]:
        content = self.oracle.truth.get((roll.tag, path))
        return set() if content is None else self.oracle.drives_with(path, content)

    def judge_bench(self, case: dict) -> None:
        slot = self.get("bench")["slots"][0]
        if not slot["label"]:
            return
        self.assertEqual(slot["standing"], case["standing"], "one place judges")
        proposal = slot["proposal"] or {}
        if proposal.get("startable") in ("all held", "chosen held") and self.as_listed():
            stores = {store["store"] for store in proposal["stores"]}
            lacking = [one[0] for one in self.oracle.files(self.here) if not self._on_all(one, stores)]
            self.wrong_if(lacking, proposal["hint"])
        run = slot["offload"]
        if run and "agree" in run["sentence"]:
            self.wrong_if(any(store["state"] != "verified" for store in run["stores"]), run["sentence"])
        contents = self.get(f"bench/insertions/{slot['insertion_id']}/contents")
        clips = contents["clips"] if contents else {"paths": [], "holdings": []}
        there = {one[0]: one[3] for one in self.oracle.files(self.here)}
        for path, holding in zip(clips["paths"], clips["holdings"], strict=True):
            if holding == "held" and self.as_listed():
                known = [bytes_ for (_, of), bytes_ in self.oracle.truth.items() if of == path]
                self.wrong_if(there.get(path) not in known, f"{path} is held")

    def _on_all(self, one, stores: set[str]) -> bool:
        devices = set(Store.objects.filter(name__in=stores).values_list("device__name", flat=True))
        return devices <= self.oracle.drives_with(one[0], one[3])

    def judge_line(self, case: dict, rolls: list[dict]) -> None:
        line = self.get("waterline")
        waits = self.as_listed() and (self.oracle.in_no_copy(self.here) or self.oracle.owed(self.here))
        self.wrong_if(waits and "A-01" not in line["cards_waiting"], "no card waits")
        short = [roll["tag"] for roll in rolls if roll["state"] != "safe"]
        self.assertEqual(sorted(short), sorted([*line["rolls_short"], *line["rolls_below"]]))
        danger = self.as_listed() and case["standing"] != "being offloaded" and self.oracle.in_danger(self.here)
        unread = danger and self.oracle.in_no_copy(self.here) and any(
            len(content) for path, _, _, content in self.oracle.files(self.here)
            if path in self.oracle.in_no_copy(self.here)
        )  # fmt: skip
        self.wrong_if(unread and line["bytes_short"] == 0, "no bytes are short")
