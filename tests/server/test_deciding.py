"""What is taken of a card, where it goes and under which names; plans; what is written beside copies."""

import io
import json
import subprocess
from datetime import UTC, datetime, timedelta

from django.core.management import CommandError, call_command
from django.test import TestCase

from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import Insertion
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.joining import carry_out as run_join
from ruggedraft.offloads.models import Join, Offload
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.models import Copy, LeftBehind, Roll
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.card_maker import traps
from ruggedraft.standins.drives import make_drive

from .deciding import Deciding
from .world import SHOT


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
        self.assertEqual(self.get("tally/rolls/A001")["faults"], [])
        (self.on_drive("one") / "A001_005_0001.JPG").write_bytes(b"rot")
        self.check(Roll.objects.get(), "one")
        (fault,) = self.get("tally/rolls/A001")["faults"]
        self.assertEqual((fault["path"], fault["result"]), ("DCIM/100SKERR/SKR_0001.JPG", "differs"))
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
        self.assertEqual(self.on_store(), [f"{day}.A001.xxh128", f"{day}.A002.xxh128", f"{day}/A001_SKR_0001.JPG",
                                           f"{day}/A002_SKR_0001.JPG"])  # fmt: skip
        for tag in ("A001", "A002"):
            words = ["xxhsum", "-c", f"2026-05-14.{tag}.xxh128"]
            subprocess.run(words, cwd=hub.home() / "drives/one/Heron", check=True, capture_output=True)

    def test_names_that_a_store_cannot_hold_are_refused_or_mended(self):
        make_drive(hub.home() / "drives/two", identity="two", capacity=10**9, file_system="exFAT")
        self.blank_card()
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
        self.blank_card()
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
            ("setup/cameras", {"letter": "a", "name": "another", "kind": "x", "plan": "all"}, "post"),
            ("setup/cameras/A", {"name": "x", "kind": "x", "plan": "none"}, "put"),
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

    def test_a_camera_is_changed_under_its_letter_and_never_by_adding_one(self):
        other = {"letter": "A", "name": "Another", "kind": "drone", "plan": "all"}
        self.refused(self.post("setup/cameras", other), "Camera A is in this production already")
        del other["letter"]
        self.assertEqual(self.post("setup/cameras/A", other, method="put").status_code, 200)
        self.assertEqual(Camera.objects.get(letter="A").name, "Another")
        self.assertEqual(self.post("setup/cameras/Z", other, method="put").status_code, 404)

    def test_a_value_that_cannot_be_is_named_as_people_name_it(self):
        for body, words in (
            ({"time_zone": "UTC", "first_day": "soon", "day_starts_at": 4}, "first day is not a date"),
            ({"time_zone": "UTC", "first_day": "2026-05-14"}, "day starts at is missing"),
            ({"time_zone": "UTC", "first_day": "2026-05-14", "day_starts_at": "x"}, "is not a whole number"),
        ):
            answer = self.post("setup/production", body, method="put")
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["title"])
            self.assertNotIn("given", answer.json()["title"])


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
        self.blank_card()
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
        run_join(Join.objects.get().pk)
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
        call_command("offload", "A-01", to=["three"], **words)
        self.run_all()
        self.assertEqual(self.standing()["standing"], "not clear", "a first copy, on one store alone")
        call_command("offload", "A-01", to=["two", "three"], **words)
        self.run_all()
        self.assertEqual(set(Copy.objects.values_list("store__name", flat=True)), {"two", "three"})
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_this_card_goes_to_another_store_and_goes_on_there(self):
        proposal = self.post(f"bench/cards/{self.card.pk}/choice", {"to": ["one", "three"]}).json()["proposal"]
        self.assertEqual([store["store"] for store in proposal["stores"]], ["one", "three"])
        self.assertTrue(proposal["other_stores"])
        self.assertEqual(self.start(to=["one", "three"]).status_code, 200)
        self.run_all()
        self.assertEqual(self.planks(), {"one": ("verified", 4), "three": ("verified", 4)})
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(self.slot()["proposal"]["startable"], "all held", "the plan's other store is not asked for")
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        proposal = self.slot()["proposal"]
        self.assertEqual([store["store"] for store in proposal["stores"]], ["one", "three"])
        self.assertEqual((proposal["tag"], proposal["other_stores"]), ("A001", True))
        self.start()
        self.run_all()
        self.assertEqual(self.planks(), {"one": ("verified", 5), "three": ("verified", 5)})

    def test_a_roll_goes_on_to_the_same_stores_whatever_they_are_called_since(self):
        self.start(to=["one", "three"])
        self.run_all()
        for before, name in (("three", "Shelf"), ("two", "three")):
            given = {"name": name, "landing": False, "seals": False}
            self.assertEqual(self.post(f"stores/{before}", given, self.sol, method="put").status_code, 200)
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        self.assertEqual([store["store"] for store in self.slot()["proposal"]["stores"]], ["one", "Shelf"])
        self.start()
        self.run_all()
        self.assertEqual(self.planks(), {"one": ("verified", 5), "Shelf": ("verified", 5)})
        self.assertEqual(self.on_drive("two").exists(), False, "a store that has the old name now was not asked for")

    def test_a_store_that_was_left_out_is_not_written_to_though_the_roll_has_a_copy_there(self):
        self.start()
        self.post(f"runs/{Offload.objects.get().pk}/cancel")
        self.run_all()
        self.assertEqual(self.start(to=["one", "three"]).status_code, 200)
        self.run_all()
        self.assertEqual(self.planks(), {"one": ("verified", 4), "two": ("wanted", 0), "three": ("verified", 4)})
        self.assertEqual(self.on_store("two"), [])
        self.assertEqual(self.slot()["offload"]["state"], "well")
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_stores_that_would_not_do_are_refused_whoever_asked_for_them(self):
        for to, words in (([], "counts"), (["one", "nowhere"], "no store 'nowhere'")):
            with self.subTest(to):
                answer = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001", "take": {"to": to}})
                self.refused(answer, words)
        self.assertEqual(Offload.objects.count(), 0)
