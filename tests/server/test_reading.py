"""A card in a reader: what is on it, how much of it is held, which card it is. Through the API and the database."""

import asyncio
import shutil
from collections import Counter
from datetime import UTC, datetime, timedelta
from unittest.mock import patch

from django.core.management import call_command
from django.db import connection
from django.test import TestCase

from ruggedraft.api.intake.shapes import WINDOW
from ruggedraft.footage.models import Media
from ruggedraft.intake.acts.compare_card import compare_card
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import Card, Insertion, ListedEntry
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.matching import BY_TIME
from ruggedraft.rolls.models import FileMedia, Roll, RollFile
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.card_maker import traps

from .world import FILES, SHOT, World, address


class Reading(World):
    def stay(self, slot: str = "slot 1") -> Insertion:
        return Insertion.objects.select_related("reader__station", "card__camera").get(
            reader__name=slot, removed_at=None
        )

    def put_in(self, label: str, slot: str = "slot-1") -> Insertion:
        hub.remove(slot)
        look(self.station)
        hub.insert(label, slot)
        look(self.station)
        return self.stay(slot.replace("-", " "))

    def contents(self, slot: str = "slot 1", *, headers: bool = False) -> dict:
        stay = self.stay(slot)
        if headers:
            read_headers(stay.listings.latest())
        return self.get(f"bench/insertions/{stay.pk}/contents")

    def counts(self, **only: int) -> dict:
        counts = self.contents()["counts"]
        return {name: counts[name] for name in ("held", "new", "changed", "left", "alike")}


class Held(Reading, TestCase):
    def test_a_card_that_comes_back_says_what_is_held_new_and_changed(self):
        self.assertEqual(self.counts()["new"], len(FILES))
        self.offload()
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three", SHOT)
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0001.JPG", b"another picture", SHOT)
        self.put_in("A-01")
        self.assertEqual(self.counts(), {"held": 3, "new": 1, "changed": 1, "left": 0, "alike": 0})
        clips = self.contents()["clips"]
        standing = dict(zip(clips["paths"], zip(clips["holdings"], clips["rolls"], strict=True), strict=True))
        self.assertEqual(standing["DCIM/100AAAAA/AAAA0001.JPG"], ("changed", "A001"))
        self.assertEqual(standing["DCIM/100AAAAA/AAAA0002.JPG"], ("held", "A001"))

    def test_what_was_taken_once_stays_held_when_every_copy_of_it_is_gone(self):
        """Somebody looked at these and threw them away: they must not come back as new."""
        self.offload()
        for store in ("one", "two"):
            shutil.rmtree(self.on_drive(store))
            self.check(Roll.objects.get(), store)
        self.put_in("A-01")
        self.assertEqual(self.counts()["held"], len(FILES))
        self.assertFalse(self.standing()["may_go_back"])

    def test_what_was_waived_was_left_behind(self):
        waived = {"path": "DCIM/100AAAAA/AAAA0002.JPG", "reason": "the neighbour's"}
        self.assertEqual(self.post(f"clearing/cards/{self.card.pk}/waive", waived).status_code, 200)
        self.assertEqual((self.counts()["left"], self.counts()["new"]), (1, len(FILES) - 1))

    def test_another_cameras_file_of_one_name_size_and_time_is_alike_until_its_content_was_compared(self):
        """Recorders locked to one clock write such files, with different sounds in them."""
        self.offload()
        self.camera = Camera.objects.create(
            production=self.production, letter="B", name="Halyard", kind="cinema", plan=self.plan
        )
        card, folder = self.new_card("B-01", FILES)
        twin = "DCIM/100AAAAA/AAAA0002.JPG"
        make.add_file(folder, twin, b"owt" * 200_000, SHOT)
        self.put_in("B-01")
        self.assertEqual((self.counts()["alike"], self.counts()["new"]), (len(FILES) - 1, 1), "its ends tell it apart")
        self.assertEqual(self.post(f"bench/cards/{card.pk}/compare").status_code, 200)
        compare_card(self.stay(), self.plan.algorithm)
        after = self.contents()
        self.assertEqual(after["compared"], len(FILES))
        self.assertEqual((after["counts"]["held"], after["counts"]["new"]), (len(FILES) - 1, 1))
        clips = after["clips"]
        clips = after["clips"]
        self.assertEqual(clips["holdings"][clips["paths"].index(twin)], "new")

    def test_comparing_by_content_finds_what_was_renamed_and_what_only_looks_the_same(self):
        self.offload()
        one, two = (self.card_folder / f"DCIM/100AAAAA/AAAA000{n}.JPG" for n in (1, 2))
        one.rename(one.with_name("RENAMED1.JPG"))
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0002.JPG", b"owt" * 200_000, SHOT)
        self.put_in("A-01")
        self.assertEqual({name: n for name, n in self.counts().items() if n}, {"held": 2, "new": 1, "changed": 1})
        compare_card(self.stay(), self.plan.algorithm)
        self.assertEqual(self.counts(), {"held": 3, "new": 0, "changed": 1, "left": 0, "alike": 0})
        self.assertTrue(two.exists())

    def test_a_card_pulled_in_the_middle_of_a_comparison_keeps_what_was_read(self):
        self.offload()
        stay = self.put_in("A-01")
        real, seen = hub.PacedSource.open, []

        def open_and_pull(source, path):
            seen.append(path)
            if len(seen) == 3:
                hub.remove("slot-1")
            return real(source, path)

        with patch.object(hub.PacedSource, "open", open_and_pull):
            compare_card(stay, self.plan.algorithm)
        self.assertEqual(ListedEntry.objects.exclude(checksum="").count(), 2)

    def test_times_that_all_moved_by_hours_are_said_so_and_the_files_are_still_known(self):
        self.offload()
        for file in FILES:
            make.add_file(self.card_folder, file, FILES[file], SHOT + timedelta(hours=1))
        self.put_in("A-01")
        found = self.contents()
        self.assertEqual((found["shifted_s"], found["shifted_roll"]), (3600, "A001"))
        self.assertEqual(found["counts"]["held"], len(FILES))
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_a_card_whose_uncleared_roll_is_gone_from_it_says_so(self):
        self.offload()
        make.format_card(self.card_folder)
        make.add_file(self.card_folder, "B/B0001.MOV", b"new", SHOT)
        self.put_in("A-01")
        self.assertEqual(self.contents()["gone_roll"], "A001")

    def test_jpegs_of_a_card_whose_raws_are_held_are_its_companion(self):
        self.blank_card()
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=4, start=SHOT, kinds=["DNG"])
        self.put_in("A-01")
        self.offload()
        _, folder = self.new_card("A-02", {})
        make.add_stills(folder, prefix="SKR_", first=1, count=4, start=SHOT, kinds=["JPG"])
        self.put_in("A-02", "slot-2")
        self.assertEqual(self.contents("slot 2")["companion"], {"roll": "A001", "pairs": 4, "clips": 4})


class QuickHands(Reading, TestCase):
    def test_a_card_taken_out_and_put_in_between_two_looks_is_listed_anew(self):
        before = self.stay().pk
        hub.remove("slot-1")
        make.add_file(self.card_folder, "NEW.MOV", b"new", SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.assertNotEqual(self.stay().pk, before)
        self.assertEqual(self.stay().listings.latest().files, len(FILES) + 1)


class InPassing(Reading, TestCase):
    """A card that stays in its reader is listed every minute, and every open screen asks again when it is told."""

    def told(self, at, *, glance: bool = True) -> bool:
        with clock.at(at), patch("ruggedraft.intake.acts.read_card.changed") as changed:
            read_card(self.stay(), glance=glance)
        return changed.called

    def test_screens_are_told_of_what_is_new_and_now_and_then_of_the_time(self):
        at = datetime(2026, 5, 14, 12, 0, 30, tzinfo=UTC)
        self.told(at, glance=False)
        minutes = [self.told(at + timedelta(minutes=n)) for n in range(1, 6)]
        self.assertEqual(minutes, [False] * 4 + [True], "another five minutes have begun")
        self.assertTrue(self.told(at + timedelta(minutes=5.2), glance=False), "somebody asked for it")
        self.assertTrue(self.told(at + timedelta(minutes=9)), "it was not looked at for a while")
        self.assertFalse(self.told(at + timedelta(minutes=9.2)))
        (self.card_folder / "new.txt").write_bytes(b"new")
        self.assertTrue(self.told(at + timedelta(minutes=9.3)))
        Insertion.objects.update(trouble="it did not answer")
        self.assertTrue(self.told(at + timedelta(minutes=9.4)))


class Starting(Reading, TestCase):
    def test_a_station_knows_its_cards_before_it_takes_up_work(self):
        before, known = self.stay().pk, []

        def work(lanes: dict[str, int]):
            known.extend(Insertion.objects.filter(removed_at=None).values_list("card__label", "listings__files"))
            return asyncio.sleep(0)

        command = "ruggedraft.project.management.commands.station"
        with (
            patch(f"{command}.be_the_only_one"),
            patch(f"{command}.watch_readers"),
            patch(f"{command}._work", work),
        ):
            call_command("station", self.station.name)
        self.assertEqual(known, [("A-01", len(FILES))])
        self.assertNotEqual(self.stay().pk, before, "it may have been out while nobody looked")


class TheLedgersSize(Reading, TestCase):
    def test_matching_looks_each_file_up_in_an_index(self):
        roll = self.offload()
        take = roll.takes.get()
        RollFile.objects.bulk_create(
            RollFile(roll=roll, take=take, path=f"f{n}", size=n % 97, modified_ns=n * 10**9, checksum=f"{n:032x}")
            for n in range(20_000)
        )
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE rolls_rollfile")
            cursor.execute("ANALYZE intake_listedentry")
            cursor.execute(f"EXPLAIN {BY_TIME}", [self.stay().listings.latest().pk, self.production.pk])
            plan = "\n".join(row[0] for row in cursor.fetchall())
        self.assertIn("roll_file_by_time", plan)
        self.assertNotIn("Seq Scan on rolls_rollfile", plan)

    def test_a_card_of_many_files_costs_as_many_queries_as_one_of_few(self):
        from django.test.utils import CaptureQueriesContext

        self.get("waterline")  # which signs in
        counted = []
        for count in (2, 400):
            self.blank_card()
            traps.add_many_stills(self.card_folder, count=count, start=SHOT)
            stay = self.put_in("A-01")
            with CaptureQueriesContext(connection) as queries:
                self.get(f"bench/insertions/{stay.pk}/contents")
            counted.append(len(queries))
        self.assertEqual(counted[0], counted[1])

    def test_of_many_clips_the_first_come_with_what_is_to_be_said_of_all(self):
        self.blank_card()
        traps.add_many_stills(self.card_folder, count=400, start=SHOT)
        stay = self.put_in("A-01")
        said, clips = (self.get(f"bench/insertions/{stay.pk}/{of}") for of in ("contents", "clips"))
        self.assertEqual(said["clips"], {name: column[:WINDOW] for name, column in clips.items()})
        self.assertEqual((said["clips_in_all"], len(clips["paths"])), (400, 400))
        self.assertEqual((said["shot_from"], said["shot_until"]), (clips["starts"][0], clips["starts"][-1]))
        self.assertEqual(said["clip_holdings"], dict(Counter(clips["holdings"])))
        self.assertEqual(said["clips_odd"], sum(odd >= 0 for odd in clips["odd"]))


class Headers(Reading, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=3, start=SHOT)
        self.put_in("A-01")

    def test_the_listing_is_there_before_any_header_and_previews_arrive_behind_it(self):
        before = self.contents()
        self.assertEqual((before["counts"]["stills"], before["headers_read"]), (3, False))
        self.assertEqual(before["clips"]["previews"], [0, 0, 0])
        after = self.contents(headers=True)
        self.assertTrue(after["headers_read"])
        self.assertEqual(set(after["clips"]["bodies"]), {"Lanternworks Tern"})
        answer = self.client_for(self.wren).get(
            address(f"footage/{after['clips']['previews'][0]}/preview"), headers={"host": "localhost"}
        )
        self.assertEqual((answer["Content-Type"], answer.content[:2]), ("image/jpeg", b"\xff\xd8"))

    def test_headers_read_once_move_on_to_the_next_listing_of_the_card(self):
        self.contents(headers=True)
        known = Media.objects.count()
        make.add_stills(self.card_folder, prefix="SKR_", first=4, count=1, start=SHOT + timedelta(hours=1))
        self.put_in("A-01")
        self.assertEqual(sum(preview > 0 for preview in self.contents()["clips"]["previews"]), 3)
        self.contents(headers=True)
        self.assertEqual(Media.objects.count(), known + 2)  # a RAW and its JPEG

    def test_a_rolls_files_keep_their_previews_when_the_card_is_formatted(self):
        self.contents(headers=True)
        self.offload()
        make.add_stills(self.card_folder, prefix="SKR_", first=4, count=1, start=SHOT + timedelta(hours=1))
        self.put_in("A-01")
        self.offload()
        late = {file["path"]: file["preview"] for file in self.get("tally/rolls/A001/files")["files"]}
        self.assertEqual([bool(late[f"DCIM/100SKERR/SKR_000{n}.JPG"]) for n in (1, 2, 3, 4)], [True, True, True, False])
        self.contents(headers=True)
        make.format_card(self.card_folder)
        self.put_in("A-01")
        Insertion.objects.exclude(pk=self.stay().pk).first().listings.first()
        files = self.get("tally/rolls/A001/files")["files"]
        stills = [file for file in files if file["path"].endswith(".JPG")]
        self.assertTrue(all(file["preview"] for file in stills), "headers read after the offload count too")
        self.assertEqual({file["body"] for file in stills}, {"Lanternworks Tern"})
        answer = self.client_for(self.wren).get(
            address(f"footage/{stills[0]['preview']}/preview"), headers={"host": "localhost"}
        )
        self.assertEqual(answer.content[:2], b"\xff\xd8")

    def test_a_formatted_cards_new_shots_are_not_shown_for_the_old_rolls_files(self):
        roll = self.offload()
        make.format_card(self.card_folder)
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=3, start=SHOT)
        self.put_in("A-01")
        Roll.objects.update(fs_serial="before the format")
        self.contents(headers=True)
        self.assertEqual(FileMedia.objects.filter(file__roll=roll).count(), 0)

    def test_a_card_pulled_while_its_headers_are_read_stops_that_without_a_word(self):
        listing = self.stay().listings.latest()
        hub.remove("slot-1")
        read_headers(listing)
        self.assertIsNone(type(listing).objects.get(pk=listing.pk).headers_read_at)

    def test_a_header_made_to_exhaust_whoever_believes_it_is_a_note_and_no_failure(self):
        traps.add_bombs(self.card_folder, SHOT)
        self.put_in("A-01")
        found = self.contents(headers=True)
        self.assertTrue(found["headers_read"])
        said = [finding for finding in found["findings"] if finding["kind"] == "header"]
        self.assertTrue(
            said and all(any(path.endswith(name) for name in traps.BOMBS) for f in said for path in f["paths"])
        )


class Clock(Reading, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        make.add_stills(self.card_folder, prefix="SKR_", first=9998, count=4, start=SHOT + timedelta(days=1826))
        self.put_in("A-01")

    def test_a_wrong_clock_is_told_and_its_offset_mends_what_is_shown_and_no_file(self):
        before = self.contents(headers=True)
        self.assertIn("future", {finding["kind"] for finding in before["findings"]})
        times = sorted(file.stat().st_mtime_ns for file in self.card_folder.rglob("*.JPG"))
        ahead = 1826 * 86_400
        self.assertEqual(self.post("bench/cameras/A/clock", {"ahead_s": ahead}).status_code, 200)
        after = self.contents()
        self.assertNotIn("future", {finding["kind"] for finding in after["findings"]})
        shifted = zip(before["clips"]["starts"], after["clips"]["starts"], strict=True)
        self.assertEqual({was - is_now for was, is_now in shifted}, {float(ahead)})
        self.assertEqual(sorted(file.stat().st_mtime_ns for file in self.card_folder.rglob("*.JPG")), times)
        self.assertEqual(self.get("bench")["slots"][0]["proposal"]["folder"], "Heron/2026-05-14/A001")
        self.assertIn("1826 d ahead", JournalEntry.objects.latest("id").sentence)

    def test_cards_and_days_that_a_clock_would_move_are_named_before_it_does(self):
        ahead = 1826 * 86_400
        starts = self.contents()["clips"]["starts"]
        moves = self.post("bench/cameras/A/clock/moves", {"ahead_s": ahead}).json()
        self.assertEqual([(move["label"], move["day_then"]) for move in moves], [("A-01", "2026-05-14")])
        self.assertTrue(moves[0]["day"].startswith("2031"))
        elsewhere = {"ahead_s": ahead, "until_s": int(min(starts)) - 3600}
        self.assertEqual(self.post("bench/cameras/A/clock/moves", elsewhere).json(), [])
        backwards = {"ahead_s": 60, "since_s": int(max(starts)), "until_s": int(min(starts)) - 60}
        self.assertEqual(self.post("bench/cameras/A/clock", backwards).status_code, 409)
        self.assertEqual(Camera.objects.get(letter="A").clock, [])
        only_these = {"ahead_s": ahead, "since_s": int(min(starts)), "until_s": int(max(starts)) + 60}
        self.assertEqual(self.post("bench/cameras/A/clock", only_these).status_code, 200)
        self.assertEqual(self.contents()["clock_ahead_s"], ahead)
        self.assertEqual(self.get("bench")["slots"][0]["proposal"]["folder"], "Heron/2026-05-14/A001")
        self.assertIn(" until 2031-", JournalEntry.objects.latest("id").sentence)

    def test_the_shoot_day_of_an_impossible_clock_is_today(self):
        self.assertNotIn("2031", self.get("bench")["slots"][0]["proposal"]["folder"])

    def test_pictures_of_a_wrapped_counter_stand_in_the_order_they_were_taken(self):
        self.assertEqual(self.contents()["clips"]["names"], ["SKR_9998", "SKR_9999", "SKR_0001", "SKR_0002"])

    def test_nonsense_is_refused_and_an_assistant_may_not(self):
        for nonsense in ({"ahead_s": 10**11}, {"ahead_s": 10**20}, {"ahead_s": 0, "since_s": 10**17}):
            self.assertEqual(self.post("bench/cameras/A/clock", nonsense).status_code, 409, nonsense)
        self.assertEqual(self.post("bench/cameras/A/clock", {"ahead_s": 60}, self.pip).status_code, 403)
        self.assertEqual(Camera.objects.get(letter="A").clock, [])


class Identity(Reading, TestCase):
    def add(self, serial: str, *, clone_of: str = "", volume: str = "", pointed_at: str = "") -> str:
        sheet = make.CardSheet(serial, serial, "SD", 64 * 10**9, volume, clone_of=clone_of, pointed_at=pointed_at)
        make.make_card(hub.home(), sheet)
        return serial

    def slot(self, n: int) -> dict:
        return self.get("bench")["slots"][n - 1]

    def test_a_cloned_serial_is_told_apart_while_its_twin_is_in_another_reader(self):
        self.add("CLONE", clone_of="SNA-01")
        self.put_in("CLONE", "slot-2")
        slot = self.slot(2)
        self.assertIsNone(slot["card_id"])
        self.assertIn("It claims to be A-01, which is in slot 1", slot["identity"]["question"])
        where = f"bench/insertions/{slot['insertion_id']}/recognise"
        self.assertIn("another card", self.post(where, {"label": "A-01"}).json()["title"])
        where = f"bench/insertions/{slot['insertion_id']}/introduce"
        self.assertEqual(self.post(where, {"label": "A-07", "camera": "A"}).status_code, 200)

    def test_cards_that_share_a_serial_are_told_apart_by_what_is_on_them(self):
        folder = make.make_card(hub.home(), make.CardSheet("CLONE", "CLONE", "SD", 64 * 10**9, clone_of="SNA-01"))
        make.add_file(folder, "B/B0001.MOV", b"other", SHOT)
        self.put_in("CLONE", "slot-2")
        self.post(f"bench/insertions/{self.slot(2)['insertion_id']}/introduce", {"label": "A-07", "camera": "A"})
        hub.remove("slot-1")
        hub.remove("slot-2")
        look(self.station)
        self.put_in("CLONE", "slot-3")
        self.assertEqual(self.slot(3)["label"], "A-07")
        self.put_in("A-01", "slot-1")
        self.assertEqual(self.slot(1)["label"], "A-01")

    def test_a_card_formatted_elsewhere_is_proposed_by_its_volume_name_and_remembered(self):
        self.add("NEW1", volume="a-02")
        Card.objects.create(label="A-02", kind="SD", camera=self.camera)
        self.put_in("NEW1", "slot-2")
        slot = self.slot(2)
        self.assertEqual((slot["label"], slot["identity"]["candidates"]), (None, ["A-02"]))
        where = f"bench/insertions/{slot['insertion_id']}/recognise"
        self.assertEqual(self.post(where, {"label": "A-02"}, self.pip).status_code, 403)
        self.assertEqual(self.post(where, {"label": "A-02"}).status_code, 200)
        self.assertEqual(self.post(where, {"label": "A-02"}).status_code, 409)
        self.put_in("NEW1", "slot-2")
        self.assertEqual(self.slot(2)["label"], "A-02")

    def test_an_unknown_card_that_holds_what_a_known_one_held_is_proposed_as_that_one(self):
        folder = make.make_card(hub.home(), make.CardSheet("NEW2", "NEW2", "SD", 64 * 10**9))
        shutil.copytree(self.card_folder, folder, dirs_exist_ok=True)
        hub.remove("slot-1")
        look(self.station)
        self.put_in("NEW2", "slot-2")
        self.assertEqual((self.slot(2)["label"], self.slot(2)["identity"]["candidates"]), (None, ["A-01"]))

    def test_a_reader_that_shows_the_inside_of_a_card_waits_until_the_whole_is_read(self):
        folder = make.make_card(
            hub.home(), make.CardSheet("INSIDE", "INSIDE", "SD", 64 * 10**9, pointed_at="PRIVATE/M4ROOT/CLIP")
        )
        make.add_m4root(folder, count=1, start=SHOT)
        card = Card.objects.create(label="A-05", kind="SD", camera=self.camera)
        card.serials.create(serial="INSIDE")
        self.put_in("INSIDE", "slot-2")
        slot = self.slot(2)
        self.assertIn("shows a folder inside card A-05", slot["question"])
        self.assertIsNone(slot["proposal"])
        where = f"bench/insertions/{slot['insertion_id']}/whole"
        self.assertEqual(self.post(where, {}, self.pip).status_code, 403)
        self.assertEqual(self.post(where).status_code, 200)
        read_card(self.stay("slot 2"))
        self.assertEqual(self.slot(2)["proposal"]["refusals"], [])
        self.assertEqual(self.contents("slot 2")["layouts"], ["M4ROOT"])
        self.assertEqual(self.post(where).status_code, 409)
        roll = self.offload(card)
        self.assertTrue((self.on_drive("one", roll) / "PRIVATE/M4ROOT/MEDIAPRO.XML").exists())
