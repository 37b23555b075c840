"""What is taken, where it goes, in which order, and what a reader does by itself. Through the API and the database."""

import io
import json
import subprocess
from datetime import UTC, datetime, timedelta

from django.core.management import CommandError, call_command
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.clearing import unattended
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.tasks import join_chapters, open_runs, run_offload
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.models import Copy, CopyFault, LeftBehind, Roll
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.card_maker import traps
from ruggedraft.standins.drives import make_drive

from .world import SHOT, World


class Deciding(World):
    def put_in(self, label: str, slot: str = "slot-1") -> None:
        hub.remove(slot)
        look(self.station)
        hub.insert(label, slot)
        look(self.station)

    def stills(self, count: int = 4) -> None:
        make.format_card(self.card_folder)
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=count, start=SHOT, kinds=["JPG"])
        self.put_in("A-01")

    def start(self, card: Card | None = None, **wanted):
        card = card or self.card
        take = {name: value for name, value in wanted.items() if name != "uneven"} or None
        proposal = self.post(f"bench/cards/{card.pk}/choice", take or {}).json()["proposal"]
        body = {"tag": proposal["tag"], "take": take, "uneven": wanted.get("uneven", False)}
        return self.post(f"bench/cards/{card.pk}/offload", body)

    def run_all(self) -> None:
        while run := open_runs(self.station).first():
            run_offload(offload_id=run.pk)

    def change_plan(self, **words) -> int:
        plan = next(one for one in self.get("setup")["plans"] if one["name"] == "all")
        return self.post(f"setup/plans/{plan['id']}", {**plan, **words}, method="put").status_code

    def on_store(self, store: str = "one") -> list[str]:
        root = hub.home() / "drives" / store
        return sorted(str(f.relative_to(root)) for f in root.rglob("*") if f.is_file() and not f.name.startswith("."))


class Taking(Deciding, TestCase):
    def test_what_is_left_behind_is_remembered_by_name_and_asked_about_when_the_card_is_cleared(self):
        self.stills()
        picked = ["DCIM/100SKERR/SKR_0001.JPG", "DCIM/100SKERR/SKR_0003.JPG"]
        choice = self.post(f"bench/cards/{self.card.pk}/choice", {"picked": picked}).json()
        self.assertEqual((choice["names"]["files"], choice["names"]["left_files"]), (2, 2))
        self.assertEqual(choice["proposal"]["stores"][0]["missing_files"], 2)
        self.assertEqual(self.start(picked=picked).status_code, 200)
        self.run_all()
        self.assertEqual([name for name in self.on_store() if "JPG" in name],
                         [f"Heron/2026-05-14/A001/{path}" for path in picked])  # fmt: skip
        self.assertEqual(set(LeftBehind.objects.values_list("path", flat=True)),
                         {"DCIM/100SKERR/SKR_0002.JPG", "DCIM/100SKERR/SKR_0004.JPG"})  # fmt: skip
        case = self.standing()
        self.assertEqual((case["standing"], case["left_in_all"], len(case["left_behind"])), ("not clear", 2, 2))
        counts = self.get(f"bench/insertions/{Insertion.objects.get(removed_at=None).pk}/contents")["counts"]
        self.assertEqual((counts["held"], counts["left"], counts["new"]), (2, 2, 0))
        self.assertEqual(self.sign().status_code, 409)

    def test_a_waiver_by_name_lets_the_card_go_and_only_for_what_was_shown(self):
        self.stills()
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        where = f"clearing/cards/{self.card.pk}/waive-left"
        self.assertEqual(self.post(where, {"reason": "the neighbour's", "count": 3}, self.pip).status_code, 403)
        self.assertEqual(self.post(where, {"reason": " ", "count": 3}).status_code, 409)
        self.assertEqual(self.post(where, {"reason": "the neighbour's", "count": 2}).status_code, 409)
        self.assertFalse(self.standing()["may_go_back"])
        self.assertEqual(self.post(where, {"reason": "the neighbour's", "count": 3}).status_code, 200)
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_what_stayed_can_be_taken_later_and_is_covered_then(self):
        self.stills()
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        self.start()
        self.run_all()
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(Roll.objects.get().files.count(), 4)

    def test_only_new_and_a_stretch_of_time(self):
        self.stills(2)
        self.offload()
        make.add_stills(
            self.card_folder, prefix="SKR_", first=3, count=2, start=SHOT + timedelta(hours=1), kinds=["JPG"]
        )
        self.put_in("A-01")
        new = self.post(f"bench/cards/{self.card.pk}/choice", {"only_new": True}).json()["names"]
        self.assertEqual((new["files"], new["left_files"]), (2, 0))
        late = {"from_s": (SHOT + timedelta(minutes=61)).timestamp()}
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/choice", late).json()["names"]["files"], 1)

    def test_a_choice_of_nothing_or_nonsense_is_refused(self):
        self.stills()
        self.assertIn("nothing to offload", self.start(folders=["ELSEWHERE"]).json()["title"])
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/choice", {"kinds": ["films"]}).status_code, 409)
        self.assertEqual(Offload.objects.count(), 0)


class Names(Deciding, TestCase):
    def test_renamed_files_are_read_back_checked_again_and_go_on_under_their_names(self):
        self.change_plan(names="{roll}_{number:3}_{counter}", start=5)
        self.stills(2)
        self.start()
        self.run_all()
        folder = "Heron/2026-05-14/A001"
        self.assertEqual(
            self.on_store(), [f"{folder}.xxh128", f"{folder}/A001_005_0001.JPG", f"{folder}/A001_006_0002.JPG"]
        )
        subprocess.run(
            ["xxhsum", "-c", "A001.xxh128"], cwd=self.on_drive("one").parent, check=True, capture_output=True
        )
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.check(Roll.objects.get(), "one")
        self.assertEqual(CopyFault.objects.count(), 0)
        (self.on_drive("one") / "A001_005_0001.JPG").write_bytes(b"rot")
        self.check(Roll.objects.get(), "one")
        self.assertEqual(CopyFault.objects.get().file.path, "DCIM/100SKERR/SKR_0001.JPG")
        make.add_stills(
            self.card_folder, prefix="SKR_", first=3, count=1, start=SHOT - timedelta(hours=1), kinds=["JPG"]
        )
        self.put_in("A-01")
        self.start()
        self.run_all()
        self.assertIn(f"{folder}/A001_007_0003.JPG", self.on_store("two"))
        self.assertEqual(len(self.on_store("two")), 4)

    def test_a_folder_a_day_holds_several_rolls_each_with_its_own_list(self):
        self.change_plan(folder="{production}/{date}", names="{roll}_{name}")
        self.stills(1)
        self.start()
        self.run_all()
        other, folder = self.new_card("A-02", {})
        make.add_stills(folder, prefix="SKR_", first=1, count=1, start=SHOT, kinds=["JPG"])
        self.put_in("A-02", "slot-2")
        self.start(other)
        self.run_all()
        day = "Heron/2026-05-14"
        self.assertEqual(self.on_store(), [f"{day}/A001.xxh128", f"{day}/A001_SKR_0001.JPG", f"{day}/A002.xxh128",
                                           f"{day}/A002_SKR_0001.JPG"])  # fmt: skip
        for tag in ("A001", "A002"):
            words = ["xxhsum", "-c", f"{tag}.xxh128"]
            subprocess.run(words, cwd=hub.home() / "drives/one" / day, check=True, capture_output=True)

    def test_names_that_a_store_cannot_hold_are_refused_or_mended(self):
        make_drive(hub.home() / "drives/two", identity="two", capacity=10**9, file_system="exFAT")
        make.format_card(self.card_folder)
        traps.add_hostile_names(self.card_folder, SHOT)
        self.put_in("A-01")
        refused = self.start()
        self.assertEqual(refused.status_code, 409)
        self.assertIn("names do not fit on exFAT", refused.json()["title"])
        names = self.post(f"bench/cards/{self.card.pk}/choice", {}).json()["names"]
        self.assertTrue(names["names"][0]["trouble"])
        self.change_plan(mend_names=True)
        self.assertEqual(self.start().status_code, 200)
        self.run_all()
        self.assertEqual(self.standing()["standing"], "ready to sign")
        kept = {name.rpartition("/")[2] for name in self.on_store("two")}
        self.assertFalse([name for name in kept if set(name) & set(':*?"<>|\\\n')])
        self.assertEqual(Roll.objects.get().files.count(), len(traps.HOSTILE_NAMES))

    def test_names_given_twice_are_refused_before_anything_is_written(self):
        self.change_plan(names="{roll}_{name}")
        self.stills(1)
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=1, start=SHOT, tree="101SKERR", kinds=["JPG"])
        self.put_in("A-01")
        self.assertIn("would be given twice", self.start().json()["title"])
        self.assertEqual(self.on_store(), [])

    def test_a_shoot_day_begins_in_the_morning_not_at_midnight(self):
        make.format_card(self.card_folder)
        make.add_file(self.card_folder, "B/B0001.MOV", b"x", datetime(2026, 5, 15, 1, 30, tzinfo=UTC))
        self.put_in("A-01")
        self.assertEqual(self.get("bench")["slots"][0]["proposal"]["folder"], "Heron/2026-05-14/A001")
        words = {"time_zone": "UTC", "first_day": "2026-05-14", "day_starts_at": 1}
        self.assertEqual(self.post("setup/production", words, method="put").status_code, 200)
        self.assertEqual(self.get("bench")["slots"][0]["proposal"]["folder"], "Heron/2026-05-15/A001")


class SetUp(Deciding, TestCase):
    def test_a_plan_is_tried_on_a_real_card_before_it_is_saved(self):
        self.stills(2)
        plan = self.get("setup")["plans"][0]
        tried = self.post(f"setup/plans/{plan['id']}/example", {**plan, "names": "{roll}_{time}_{name}"}).json()
        self.assertEqual((tried["card"], tried["folder"]), ("A-01", "Heron/2026-05-14/A001"))
        self.assertEqual(tried["names"]["names"][0]["kept_as"], "A001_090000_SKR_0001.JPG")
        bad = self.post(f"setup/plans/{plan['id']}/example", {**plan, "names": "{number}"}).json()
        self.assertIn("the camera's own number is never lost", bad["trouble"])
        self.assertEqual(self.get("setup")["plans"][0]["names"], "")

    def test_what_cannot_be_is_refused_and_an_assistant_changes_nothing(self):
        before = self.get("setup")
        for path, body, method in (
            ("setup/plans", {"name": "all", "folder": "{roll}"}, "post"),
            ("setup/plans", {"name": "x", "folder": "{date}"}, "post"),
            ("setup/plans", {"name": "x", "folder": "{roll}", "stores": ["nowhere"]}, "post"),
            ("setup/plans", {"name": "x", "folder": "{roll}", "algorithm": "crc32"}, "post"),
            ("setup/plans", {"name": "x", "folder": "{roll}", "roll_digits": 1}, "post"),
            ("setup/cameras", {"letter": "1", "name": "x", "kind": "x", "plan": "all"}, "post"),
            ("setup/cameras", {"letter": "B", "name": "x", "kind": "x", "plan": "none"}, "post"),
            ("setup/rigs", {"name": "Hull", "cameras": ["A"]}, "post"),
            ("setup/production", {"time_zone": "Mars/Base", "first_day": "2026-05-14", "day_starts_at": 4}, "put"),
            ("setup/production", {"time_zone": "UTC", "first_day": "2026-05-14", "day_starts_at": 23}, "put"),
        ):  # fmt: skip
            with self.subTest(path, body=body):
                self.assertEqual(self.post(path, body, method=method).status_code, 409)
                self.assertEqual(self.post(path, body, self.pip, method=method).status_code, 403)
        self.assertEqual(self.get("setup"), before)

    def test_a_new_camera_with_a_plan_of_its_own(self):
        plan = {
            "name": "Stills",
            "folder": "{year}/{roll}",
            "roll_prefix": "ST",
            "roll_start": 40,
            "stores": ["one", "two"],
        }
        self.assertEqual(self.post("setup/plans", plan).status_code, 200)
        camera = {"letter": "s", "name": "Tern", "kind": "stills", "plan": "Stills"}
        self.assertEqual(self.post("setup/cameras", camera).status_code, 200)
        self.camera = Camera.objects.get(letter="S")
        card, folder = self.new_card("S-01", {})
        make.add_stills(folder, prefix="SKR_", first=1, count=1, start=SHOT, kinds=["JPG"])
        self.put_in("S-01", "slot-2")
        self.start(card)
        self.run_all()
        self.assertEqual(Copy.objects.first().folder, "2026/ST040")


class Queue(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.cards = [self.card]
        for n in (2, 3):
            card, _ = self.new_card(f"A-0{n}", {f"{n}.MOV": bytes(n)})
            self.put_in(card.label, f"slot-{n}")
            self.cards.append(card)
        for card in self.cards:
            self.assertEqual(self.start(card).status_code, 200)

    def runs(self) -> list[dict]:
        return self.get("bench/queue")[0]["runs"]

    def order(self) -> list[str]:
        return [run["tag"] for run in self.runs()]

    def act(self, tag: str, what: str) -> int:
        return self.post(f"bench/offloads/{Offload.objects.get(roll__tag=tag).pk}/{what}").status_code

    def test_cards_wait_in_order_and_say_when_they_are_free(self):
        self.assertEqual(self.order(), ["A001", "A002", "A003"])
        self.assertTrue(all(run["free_in_s"] is not None for run in self.runs()))

    def test_the_order_can_be_changed_and_the_next_turn_follows_it(self):
        ids = {run["tag"]: run["id"] for run in self.runs()}
        wanted = [ids["A003"], ids["A001"], ids["A002"]]
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted}, self.pip, method="put").status_code, 403)
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted[:2]}, method="put").status_code, 409)
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted}, method="put").status_code, 200)
        self.assertEqual(self.order(), ["A003", "A001", "A002"])
        run_offload(offload_id=ids["A001"])
        self.assertEqual(set(Offload.objects.exclude(finished_at=None).values_list("roll__tag", flat=True)), {"A003"})

    def test_a_paused_card_is_passed_over_and_loses_nothing(self):
        self.assertEqual(self.act("A001", "pause"), 200)
        self.run_all()
        self.assertEqual(self.order(), ["A001"])
        self.assertIsNone(self.runs()[0]["free_in_s"])
        self.assertEqual(self.standing(self.card)["standing"], "being offloaded")
        self.assertEqual(self.act("A001", "resume"), 200)
        self.run_all()
        self.assertEqual(self.standing(self.card)["standing"], "ready to sign")

    def test_a_paused_card_can_be_cancelled_and_offloaded_again(self):
        self.act("A001", "pause")
        self.act("A001", "cancel")
        self.run_all()
        self.assertEqual(self.order(), [])
        self.assertNotIn(self.standing(self.card)["standing"], ("ready to sign", "cleared"))
        self.assertEqual(self.start(self.card).status_code, 200)
        self.run_all()
        self.assertEqual(self.standing(self.card)["standing"], "ready to sign")

    def test_a_turn_too_many_does_nothing(self):
        self.run_all()
        before = Offload.objects.values_list("pk", "finished_at")
        run_offload(offload_id=Offload.objects.first().pk)
        self.assertEqual(list(Offload.objects.values_list("pk", "finished_at")), list(before))


class Estimates(Deciding, TestCase):
    def test_a_run_is_judged_by_what_this_reader_and_these_stores_have_shown(self):
        self.assertIsNone(self.get("bench")["slots"][0]["proposal"]["estimated_s"])
        self.offload()
        began = Offload.objects.get().started_at
        Offload.objects.update(read_bytes=50_000_000, finished_at=began + timedelta(seconds=5))
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0009.JPG", bytes(20_000_000), SHOT)
        self.put_in("A-01")
        proposal = self.get("bench")["slots"][0]["proposal"]
        self.assertAlmostEqual(proposal["estimated_s"], 20_603_003 / 10_000_000, delta=0.2)
        self.offload()
        self.assertAlmostEqual(Offload.objects.latest("id").estimated_s, proposal["estimated_s"], delta=0.01)


class Unattended(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        unattended._judged.clear()
        slot = self.get("bench")["slots"][1]
        self.assertEqual(
            self.post(f"bench/readers/{slot['reader_id']}/unattended", {"on": True}, self.pip).status_code, 403
        )
        self.assertEqual(self.post(f"bench/readers/{slot['reader_id']}/unattended", {"on": True}).status_code, 200)
        self.other, self.folder = self.new_card("A-02", {})

    def waits_for(self) -> list[str]:
        return self.get("bench")["slots"][1]["waits_for"]

    def glance(self) -> list[Offload]:
        unattended._judged.clear()
        return unattended.take_up_unattended(self.station)

    def test_a_card_without_a_question_goes_by_itself_once(self):
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        (started,) = self.glance()
        self.assertEqual((started.card.label, started.person), ("A-02", self.wren))
        self.assertEqual((self.glance(), self.waits_for()), ([], []))
        self.run_all()
        self.assertEqual(self.glance(), [])
        self.assertEqual(self.standing(self.other)["standing"], "ready to sign")

    def test_a_card_in_another_reader_waits_for_somebody(self):
        self.assertEqual(self.glance(), [])
        self.assertEqual(Offload.objects.count(), 0)

    def test_whatever_is_in_doubt_waits_with_its_question(self):
        cases = {
            "Its layout is none that a camera writes": lambda: make.add_file(self.folder, "odds/a.jpg", b"x", SHOT),
            "names 1 recording that is not here": lambda: traps.lose_an_indexed_clip(self.folder, SHOT),
            "inside of a card": lambda: (
                make.add_file(self.folder, "CLIP/C0001.MP4", b"x", SHOT)
                and make.add_file(self.folder, "THMBNL/C0001T01.JPG", b"x", SHOT)
            ),
        }
        for words, make_it in cases.items():
            with self.subTest(words):
                make.format_card(self.folder)
                make_it()
                self.put_in("A-02", "slot-2")
                self.assertEqual(self.glance(), [])
                self.assertIn(words, " ".join(self.waits_for()))

    def test_a_reader_given_a_plan_leaves_cards_of_other_plans_waiting(self):
        reader = self.get("bench")["slots"][1]["reader_id"]
        self.post("setup/plans", {"name": "Other", "folder": "{roll}", "stores": ["one", "two"]})
        self.assertEqual(
            self.post(f"bench/readers/{reader}/unattended", {"on": True, "plan": "Other"}).status_code, 200
        )
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        self.assertEqual(self.glance(), [])
        self.assertIn("This reader is for the plan 'Other'", " ".join(self.waits_for()))
        self.post(f"bench/readers/{reader}/unattended", {"on": True, "plan": "all"})
        self.assertEqual(len(self.glance()), 1)

    def test_an_unknown_card_and_one_that_does_not_fit_wait_too(self):
        make.make_card(hub.home(), make.CardSheet("SNX", "?", "SD", 1))
        self.put_in("SNX", "slot-2")
        self.assertEqual((self.glance(), self.waits_for()), ([], ["It is not settled which card this is."]))
        self.plan.stores.set([self.drives["one"]])
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        self.assertEqual(self.glance(), [])
        self.assertIn("add a store to the plan", " ".join(self.waits_for()))


class Rigs(Deciding, TestCase):
    SHOTS = ((0, 4.0), (60, 5.0), (150, 3.0))

    def setUp(self):
        super().setUp()
        self.members = {}
        for n, letter in enumerate(("R1", "R2", "R3"), 1):
            self.camera = Camera.objects.create(
                production=self.production, letter=letter, name="Limpet", kind="action", plan=self.plan
            )
            card, folder = self.new_card(f"{letter}-01", {})
            shots = [*self.SHOTS, *([(100, 2.0)] if letter == "R3" else [])]
            times = sorted((SHOT + timedelta(seconds=at + 5 * n), long) for at, long in shots)
            make.add_rig_clips(folder, shots=times)
            self.members[letter] = card
        self.post("setup/rigs", {"name": "Hull", "cameras": ["R1", "R2", "R3"], "first_shot": 7})
        hub.remove("slot-1")
        for n, card in enumerate(self.members.values(), 1):
            self.put_in(card.label, f"slot-{n}")
        for stay in Insertion.objects.filter(removed_at=None):
            read_headers(stay.listings.latest())

    def test_the_clip_too_many_is_named_before_copying_and_starting_asks(self):
        (rig,) = self.get("bench/rigs")
        self.assertEqual(rig["odd"], ["R3 has a 2-second clip, LMPT0003, that no other camera has."])
        self.assertEqual([len(row["clips"]) for row in rig["rows"]], [3, 3, 4])
        self.assertEqual([clip["shot"] for clip in rig["rows"][2]["clips"]], [1, 2, None, 3])
        asked = self.start(self.members["R3"])
        self.assertEqual((asked.status_code, "no other camera has" in asked.json()["title"]), (409, True))
        self.assertEqual(self.start(self.members["R3"], uneven=True).status_code, 200)

    def test_leaving_it_out_settles_the_question(self):
        kept = [f"DCIM/100LIMPT/LMPT000{n}.MP4" for n in (1, 2, 4)]
        self.assertEqual(self.start(self.members["R3"], picked=kept).status_code, 200)
        self.run_all()
        self.assertEqual(self.standing(self.members["R3"])["left_in_all"], 2)

    def test_a_folder_a_shot_numbered_on_and_shots_taken_before_keep_their_numbers(self):
        self.change_plan(names="{roll}/{shot:3}_{camera}_{name}", folder="{date}")
        for letter in ("R1", "R2"):
            self.assertEqual(self.start(self.members[letter]).status_code, 200)
        self.run_all()
        clips = [name for name in self.on_store() if name.endswith("MP4") and "R1-001" in name]
        self.assertEqual([name.rpartition("/")[2] for name in clips],
                         ["007_R1_LMPT0001.MP4", "008_R1_LMPT0002.MP4", "009_R1_LMPT0003.MP4"])  # fmt: skip
        kept = [f"DCIM/100LIMPT/LMPT000{n}.MP4" for n in (1, 2, 4)]
        choice = self.post(f"bench/cards/{self.members['R3'].pk}/choice", {"picked": kept}).json()
        self.assertEqual(
            [one["kept_as"] for one in choice["names"]["names"] if one["path"].endswith("MP4")],
            [f"R3-001/00{shot}_R3_LMPT000{n}.MP4" for shot, n in ((7, 1), (8, 2), (9, 4))],
        )


class BesideCopies(Deciding, TestCase):
    def test_sidecars_lie_beside_the_copies_and_change_no_original(self):
        self.change_plan(sidecars=True, creator="Wren Tarn", rights="all", keywords=["barge"], job="Launch")
        self.stills(1)
        body = {"tag": "A001", "notes": "rain all day"}
        self.assertEqual(self.post(f"bench/cards/{self.card.pk}/offload", body).status_code, 200)
        self.run_all()
        sidecar = self.on_drive("two") / "DCIM/100SKERR/SKR_0001.xmp"
        words = ["exiftool", "-json", "-XMP:all", sidecar]
        said = json.loads(subprocess.run(words, capture_output=True, check=True).stdout)[0]
        self.assertEqual(
            (said["Creator"], said["Description"], said["Subject"]), ("Wren Tarn", "rain all day", "barge")
        )
        picture = "DCIM/100SKERR/SKR_0001.JPG"
        self.assertEqual((self.on_drive("two") / picture).read_bytes(), (self.card_folder / picture).read_bytes())
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(Roll.objects.get().files.count(), 1)

    def test_a_cameras_own_sidecar_is_never_touched(self):
        self.change_plan(sidecars=True, creator="Wren Tarn")
        self.stills(1)
        make.add_file(self.card_folder, "DCIM/100SKERR/SKR_0001.XMP", b"<mine/>", SHOT)
        self.put_in("A-01")
        self.start()
        self.run_all()
        self.assertEqual((self.on_drive("one") / "DCIM/100SKERR/SKR_0001.XMP").read_bytes(), b"<mine/>")
        self.assertFalse((self.on_drive("one") / "DCIM/100SKERR/SKR_0001.xmp").exists())

    def test_chapters_are_joined_beside_the_originals_on_every_store_on_request(self):
        make.format_card(self.card_folder)
        traps.add_split_recording(self.card_folder, parts=3, start=SHOT, limit=400_000)
        sheet = make.CardSheet("SNA-01", "A-01", "SD", 64 * 10**9, largest_file=400_000)
        make.make_card(hub.home(), sheet)
        self.put_in("A-01")
        read_headers(Insertion.objects.get(removed_at=None).listings.latest())
        where, path = f"bench/cards/{self.card.pk}/join", {"path": "DCIM/100PETRL/PTRL0011.MP4"}
        self.assertIn("offload the card first", self.post(where, path).json()["title"])
        self.start()
        self.run_all()
        self.assertEqual(self.post(where, {"path": "DCIM/100PETRL/PTRL0012.MP4"}).status_code, 409)
        self.assertEqual(self.post(where, path).status_code, 200)
        join_chapters(**ProcrastinateJob.objects.filter(task_name=join_chapters.name).latest("id").args)
        for store in ("one", "two"):
            folder = self.on_drive(store) / "DCIM/100PETRL"
            names = sorted(file.name for file in folder.iterdir())
            self.assertEqual(names, ["PTRL0011.MP4", "PTRL0011_joined.MP4", "PTRL0012.MP4", "PTRL0013.MP4"])
        self.assertIn("PTRL0011_joined.MP4", JournalEntry.objects.latest("id").sentence)
        self.check(Roll.objects.get(), "one")
        self.assertEqual(self.standing()["standing"], "ready to sign")


class OtherStores(Deciding, TestCase):
    def test_the_offload_command_takes_other_stores_than_the_plans(self):
        words = {"plan": "all", "by": "wren", "json": True, "stdout": io.StringIO()}
        with self.assertRaisesRegex(CommandError, "There is no store 'nowhere'"):
            call_command("offload", "A-01", to=["nowhere"], **words)
        with self.assertRaisesRegex(CommandError, "add a store to the plan"):
            call_command("offload", "A-01", to=["three"], **words)
        call_command("offload", "A-01", to=["two", "three"], **words)
        self.run_all()
        self.assertEqual(set(Copy.objects.values_list("store__name", flat=True)), {"two", "three"})
        self.assertEqual(self.standing()["standing"], "ready to sign")
