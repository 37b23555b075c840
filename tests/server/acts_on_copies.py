"""What happens to copies and to people's minds on the random walk, and what it tells the oracle."""

import shutil
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from unittest.mock import patch

from django.utils import timezone

from ruggedraft.adopting.models import StoreSearch
from ruggedraft.adopting.tasks import search_store
from ruggedraft.checks import running
from ruggedraft.checks.models import CheckRun
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.journal import clock
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.making_room import running as making_room
from ruggedraft.making_room.models import MakingRoom, TakenOff
from ruggedraft.offloads import feeding
from ruggedraft.offloads.models import Feed
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.rolls.models import Copy, Reading, Roll, Waiver
from ruggedraft.rolls.queries import clips_of, last_evidence
from ruggedraft.runs.queue import HERE
from ruggedraft.stores.models import Store
from ruggedraft.upkeep.keeping_up import keep_up

from .acts_on_cards import ActsOnCards
from .oracle import home_of, root_of, same_but_other


class ActsOnCopies(ActsOnCards):
    """Copies are checked, damaged and lost; plans, rules and clocks change; somebody waives, holds and signs."""

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

        HERE.begin(asked.pk)  # somebody works on it: another worker that comes for a run passes it over
        try:
            with patch.object(running, "check_copy", and_then):
                running.carry_out(asked.pk)
        finally:
            HERE.end(asked.pk)

    def bring_a_roll(self) -> None:
        """From a verified copy to a store that lacks it, whatever lies there already: the first that may be."""
        ways = [(roll, store) for roll in Roll.objects.order_by("pk") for store in Store.objects.order_by("pk")]
        self.chance.shuffle(ways)
        for roll, store in ways:
            if self.post(f"bench/rolls/{roll.pk}/bring", {"store": store.name}).status_code == 200:
                self.carry_out_feed(Feed.objects.latest("pk"))
                return

    def carry_out_feed(self, asked: Feed) -> None:
        real = feeding.feed

        def and_tell(*words, **more):
            result = real(*words, **more)
            there = {one.path for one in result.failed if one.found}
            self.oracle.read_again(asked.copy, {to_ledger(path) for path in result.agreed | there})
            return result

        with patch.object(feeding, "feed", and_tell):
            feeding.carry_out(asked.pk)

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
            home = home_of(copy)
            shutil.rmtree(home, ignore_errors=True)
            self.oracle.silent = {file: old for file, old in self.oracle.silent.items() if home not in file.parents}

    def move_a_copy(self) -> None:
        """In good faith, to another folder of its drive."""
        for copy in self.some(self.copies()):
            home, there = home_of(copy), root_of(copy.store) / f"moved {len(self.done)}" / copy.roll.tag
            if home.is_dir() and copy.store.kind == "folder":
                there.parent.mkdir()
                home.rename(there)
                moved = {there / file.relative_to(home): old for file, old in self.oracle.silent.items()
                         if home in file.parents}  # fmt: skip
                kept = {file: old for file, old in self.oracle.silent.items() if home not in file.parents}
                self.oracle.silent = kept | moved

    def look_for_rolls_and_adopt(self) -> None:
        """Whatever seems to be a roll's, and is not known, or was moved."""
        for store in self.some(list(Store.objects.order_by("pk"))):
            if self.post(f"stores/{store.name}/search").status_code != 200:
                continue
            search_store(StoreSearch.objects.latest("pk").pk)
            for found in self.get(f"stores/{store.name}/search")["rolls"]:
                words = {"production": "heron", "tag": found["tag"], "folder": found["folder"]}
                if self.post(f"stores/{store.name}/adopt", words).status_code == 200:
                    self.judge()
                    asked = CheckRun.objects.latest("pk")
                    running.carry_out(asked.pk)
                    self.oracle.read_again(Copy.objects.select_related("store", "roll").get(pk=asked.copy_id))

    def order_or_withdraw(self) -> None:
        for order in self.get("upkeep")["orders"]:
            self.post(f"upkeep/orders/{order['id']}", person=self.sol, method="delete")
        for store in self.some(list(Store.objects.order_by("pk"))):
            self.post("upkeep/orders", {"to": store.name}, self.sol)

    def care_otherwise(self) -> None:
        for store in self.some(list(Store.objects.order_by("pk"))):
            words = {"check_days": self.chance.choice([None, 1]), "mends": self.chance.random() < 0.7}
            self.post(f"upkeep/stores/{store.name}", words, self.sol, method="put")

    def keep_up_by_itself(self) -> None:
        for run in keep_up(self.station):
            if isinstance(run, Feed):
                self.carry_out_feed(run)
            else:
                running.carry_out(run.pk)
                self.oracle.read_again(run.copy)

    def make_room(self) -> None:
        """Of what was delivered, where the rule does not need it; now and then something happens before it is done."""
        for store in self.some(list(Store.objects.order_by("pk"))):
            self.post("tally/deliveries", {"tags": [roll["tag"] for roll in self.get("tally")["rolls"]], "to": "them"})
            asked = {"store": store.name, "months": 0, "with_kept": self.chance.random() < 0.5}
            found = self.get(f"room?store={store.name}&months=0&with_kept={asked['with_kept']}")
            shown = [{name: one[name] for name in ("tag", "files", "bytes")} for one in found["going"]]
            for one in shown:
                self.assertEqual(self.post("room", {**asked, "rolls": [one]}, self.sol).status_code, 200, one)
            self.judge()
            if shown and self.chance.random() < 0.3:
                getattr(self, self.chance.choice(["lose_a_drive", "rot_in_silence", "delete_a_file", "choose"]))()
            for run in MakingRoom.objects.filter(finished_at=None):
                self.take_off(run)

    def take_off(self, run: MakingRoom) -> None:
        before = last_evidence()
        making_room.carry_out(run.pk)
        off = TakenOff.objects.filter(run=run).values_list("file__path", flat=True)
        self.oracle.read_again(run.copy, set(off))
        for read in Reading.objects.filter(pk__gt=before, origin="check").select_related("copy__store", "copy__roll"):
            paths = read.copy.roll.files.filter(pk__in=run.files).values_list("path", flat=True)
            self.oracle.read_again(read.copy, set(paths))

    def land_or_not(self) -> None:
        """A store becomes a landing area, or none any more; by itself it is emptied where that may be."""
        store = self.chance.choice(list(Store.objects.exclude(name="twin").order_by("pk")))
        words = {"name": store.name, "landing": not store.landing, "seals": store.seals}
        if store.landing or not Store.objects.filter(landing=True).exists():
            self.post(f"stores/{store.name}", words, self.sol, method="put")

    def retire_or_use_again(self) -> None:
        for store in self.some(list(Store.objects.exclude(name="twin").order_by("pk"))):
            if store.retired_at:
                self.post(f"stores/{store.name}/retired", person=self.sol, method="delete")
            elif len(self.in_service()) > 2:
                self.post(f"stores/{store.name}/retired", {"reason": "old"}, self.sol)
                self.judge()
                if self.chance.random() < 0.7:
                    self.post(f"stores/{store.name}/retired", person=self.sol, method="delete")
        self.use_drives_that_are_there()

    def copies(self) -> list[Copy]:
        return list(Copy.objects.select_related("store", "roll").order_by("pk"))

    def files_of(self, copy: Copy) -> list[Path]:
        files = copy.roll.files.order_by("pk")
        return [home_of(copy) / from_ledger(file.kept_as or file.path) for file in files]

    def rename_from_now_on(self) -> None:
        plan = self.get("setup")["plans"][0]
        names = self.chance.choice(["", "{roll}_{number:4}_{counter}", "{roll}_{name}"])
        self.post(f"setup/plans/{plan['id']}", {**plan, "names": names}, method="put")

    def other_algorithm(self) -> None:
        self.change_plan(algorithm=self.chance.choice(["md5", "xxh128", "sha1"]))

    def lose_a_drive(self) -> None:
        there = self.in_service()
        if len(there) > 2:
            self.post(f"stores/{self.chance.choice(there).name}/lost", {"reason": "fell into the creek"})
        self.use_drives_that_are_there()

    def find_a_drive(self) -> None:
        for loss in self.some(list(DeviceLoss.objects.filter(found_at=None).select_related("device"))):
            self.post(f"stores/{loss.device.stores.first().name}/found")

    @staticmethod
    def in_service() -> list[Store]:
        lost = DeviceLoss.objects.filter(found_at=None).values("device")
        there = Store.objects.filter(retired_at=None).exclude(device__in=lost).exclude(name="twin")
        return list(there.order_by("pk"))

    def use_drives_that_are_there(self) -> None:
        there = self.in_service()[:2]
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

    def choose(self) -> None:
        """Somebody drops clips and waives them; here and there the rule lets nobody, and then nothing is waived."""
        RedundancyRule.objects.update(chosen_only=self.chance.random() < 0.8)
        for roll in self.some(list(Roll.objects.order_by("pk"))):
            of_roll = f"choosing/rolls/{roll.tag}"
            for file in self.some(list(clips_of(roll).order_by("pk"))):
                self.post(f"{of_roll}/marks", {"path": file.path, "kind": self.chance.choice(["drop", "drop", "keep"])})
            self.post(f"{of_roll}/waivers", {"seen": self.get(of_roll)["choice"]["dropped"], "though_delivered": True})
            for one in Waiver.objects.filter(roll=roll, reason__startswith="dropped"):
                content = self.oracle.truth.get((roll.tag, one.path))
                if content is not None:
                    self.oracle.shown_waived.add((one.path, one.size, one.modified_ns, content))

    def answer_for_what_is_gone(self) -> None:
        case = self.standing()
        words = {"reason": "camera tests", "count": case["gone_in_all"]}
        if self.post(f"clearing/cards/{self.card.pk}/gone", words).status_code == 200:
            self.oracle.answered |= {one for one in self.oracle.seen if one[0] in case["gone"]}

    def hold_and_lift(self) -> None:
        case = self.standing()
        if case["holds"]:
            for hold in case["holds"]:
                self.post(f"clearing/holds/{hold['id']}", method="delete")
        elif case["roll_id"]:
            on, name = self.chance.choice([("roll", case["tag"]), ("card", "A-01"), ("camera", "A")])
            self.hold(on, name, "wait", ends=self.chance.choice(["lifted", "delivered", "second signature"]))

    def deliver_or_take_back(self) -> None:
        tags = [roll["tag"] for roll in self.get("tally")["rolls"]]
        for tag in self.some(tags):
            if self.get(f"tally/rolls/{tag}")["delivered_to"]:
                self.post(f"tally/rolls/{tag}/delivery", method="delete")
            else:
                self.post("tally/deliveries", {"tags": [tag], "to": "them"})

    def revoke(self) -> None:
        self.post(f"clearing/cards/{self.card.pk}/revoke", {"reason": "not sure"})

    def refuse_to_sign(self) -> None:
        """And take it back, after every screen was asked."""
        words = {"reason": "not sure", "digest": self.standing()["digest"]}
        self.post(f"clearing/cards/{self.card.pk}/refuse", words)
        self.judge()
        for hold in self.standing()["holds"]:
            self.post(f"clearing/holds/{hold['id']}", method="delete")

    def set_aside_and_use_again(self) -> None:
        where = f"clearing/cards/{self.card.pk}/aside"
        self.post(where, {"kind": "quarantined", "reason": "hot"})
        self.judge()
        self.post(f"{where}?why=mended", method="delete")

    def ask_otherwise(self) -> None:
        """Never below two copies on two devices, which is what the oracle asks for."""
        rolls = [("roll", roll["tag"]) for roll in self.get("tally")["rolls"]]
        kind, name = self.chance.choice([("camera", "A"), ("plan", "all"), *rolls])
        parts = self.chance.choice([None, {"copies": 3}, {"copies": 2}, {"signers": 2}, {"fresh_days": 30}])
        words = {"on": {"kind": kind, "name": name}, "parts": parts, "reason": "so"}
        self.post("setup/rule/exceptions", words, self.sol, method="put")

    def open_a_clip(self) -> None:
        for roll in self.some(self.get("tally")["rolls"]):
            for file in self.some(list(Roll.objects.get(tag=roll["tag"]).files.all())):
                self.post(f"tally/rolls/{roll['tag']}/openings", {"path": file.path})

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
