"""Cards, files, readers and drives that pass for one another, or once did."""

import os
import shutil
from dataclasses import replace
from datetime import timedelta
from unittest.mock import patch

from django.test import TestCase
from django.utils import timezone

from ruggedraft.intake.acts.note_readers import note_readers
from ruggedraft.intake.models import Card, CardListing, Insertion, Reader
from ruggedraft.intake.readers import CardSeen, Slot
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.acts.look_at_copy import look_at_the_oldest
from ruggedraft.rolls.models import Roll
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.drives import make_drive

from .deciding import ONE, TWO, Deciding
from .oracle import same_but_other
from .world import FILES, SHOT


class NotOurs(Deciding, TestCase):
    """A card of somebody else lies in a reader: in nobody's way, and it is known who said so."""

    def setUp(self):
        super().setUp()
        stranger, _ = self.new_card("X-01", {"f": b"somebody else's"})
        stranger.serials.all().delete()
        stranger.delete()
        hub.insert("X-01", "slot-2")
        look(self.station)

    def other(self) -> dict:
        return next(slot for slot in self.get("bench")["slots"] if slot["name"] == "slot 2")

    def say(self, method: str = "post", person=None):
        address = f"bench/insertions/{self.other()['insertion_id']}/not-ours"
        return self.post(address, person=person, method=method)

    def waits(self) -> bool:
        return "unknown in slot 2" in self.get("waterline")["cards_waiting"]

    def test_what_is_not_ours_is_no_card_that_waits_and_can_be_ours_after_all(self):
        self.assertTrue(self.waits())
        self.assertEqual(self.say(person=self.pip).status_code, 403)
        self.assertEqual(self.say().status_code, 200)
        self.assertEqual((self.other()["not_ours_by"], self.waits()), ("Wren", False))
        self.refused(self.say(), "said so already")
        self.assertEqual(self.say("delete").status_code, 200)
        self.assertEqual((self.other()["not_ours_by"], self.waits()), ("", True))
        self.refused(self.say("delete"), "Nobody has said")

    def test_it_is_said_of_this_stay_only(self):
        self.say()
        hub.remove("slot-2")
        look(self.station)
        hub.insert("X-01", "slot-2")
        look(self.station)
        self.assertEqual((self.other()["not_ours_by"], self.waits()), ("", True))

    def test_a_card_that_is_known_is_one_of_ours(self):
        address = f"bench/insertions/{self.slot()['insertion_id']}/not-ours"
        self.refused(self.post(address), "it is one of ours")


class SameNames(Deciding, TestCase):
    """Same name, size and time are a hint and no proof."""

    def test_a_formatted_card_with_the_same_names_sizes_and_times_is_another_roll(self):
        self.offload()
        self.sign()
        make.format_card(self.card_folder)
        for path, content in FILES.items():
            make.add_file(self.card_folder, path, bytes(byte ^ 1 for byte in content), SHOT)
        self.put_in("A-01")
        self.assertFalse(self.standing()["may_go_back"])
        proposal = self.slot()["proposal"]
        self.assertEqual((proposal["tag"], proposal["startable"]), ("A002", "ready"))
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign", self.standing()["sentence"])
        self.assertEqual(self.standing()["tag"], "A002")
        self.assertEqual((self.on_drive("one", "A002") / ONE).read_bytes(), (self.card_folder / ONE).read_bytes())
        self.assertNotEqual((self.on_drive("one", "A001") / ONE).read_bytes(), (self.card_folder / ONE).read_bytes())

    def test_a_new_serial_begins_a_new_roll_though_every_byte_is_the_same(self):
        self.offload()
        self.sign()
        Insertion.objects.update(serial="ANOTHER")
        Roll.objects.update(fs_serial="SNA-01")
        self.assertEqual(self.standing()["standing"], "not offloaded")
        self.assertEqual(self.slot()["proposal"]["tag"], "A002")

    def test_times_shifted_by_a_zone_are_still_the_same_files(self):
        self.offload()
        for file in self.card_folder.rglob("*"):
            times = file.lstat()
            moved = times.st_mtime_ns - 7 * 3600 * 10**9
            os.utime(file, ns=(times.st_atime_ns, moved)) if file.is_file() else None
        self.put_in("A-01")
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertEqual(self.slot()["proposal"]["startable"], "all held")

    def test_one_more_picture_after_a_clearance_can_be_offloaded_and_signed_for(self):
        self.offload()
        self.sign()
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        self.put_in("A-01")
        self.assertEqual(self.standing()["blocks"][0]["kind"], "revoked")
        self.offload()
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertTrue(self.sign().json()["cleared"])

    def test_a_changed_file_is_taken_into_a_roll_of_its_own_and_the_card_can_be_cleared(self):
        self.offload()
        make.add_file(self.card_folder, ONE, b"another picture", SHOT + timedelta(minutes=1))
        self.put_in("A-01")
        self.assertEqual(self.offload().tag, "A002")
        self.assertTrue(self.sign(tag="A002").json()["cleared"])

    def test_a_damaged_copy_is_set_aside_and_written_again_by_the_next_offload(self):
        roll = self.offload()
        rotten = self.on_drive("two") / ONE
        same_but_other(rotten)
        bad = rotten.read_bytes()
        self.check(roll, "two")
        self.assertEqual(self.slot()["proposal"]["startable"], "ready")
        self.offload()
        self.assertEqual(self.slot()["proposal"]["startable"], "all held")
        self.assertEqual(rotten.read_bytes(), FILES[ONE])
        aside = hub.home() / "drives/two/.raft-set-aside/1/Heron/2026-05-14/A001" / ONE
        self.assertEqual(aside.read_bytes(), bad, "nothing is destroyed, the damaged file least of all")

    def test_somebody_elses_file_under_our_name_is_never_moved(self):
        place = self.on_drive("two") / ONE
        place.parent.mkdir(parents=True)
        place.write_bytes(b"holiday")
        for _ in range(2):
            self.offload()
            self.assertEqual(place.read_bytes(), b"holiday")
        self.assertEqual(self.planks()["two"][0], "broken")


class Vanished(Deciding, TestCase):
    """Files that vanish are news, and never silently an empty card or the next roll."""

    def test_uncopied_files_gone_from_a_card_are_a_question_that_names_them(self):
        make.format_card(self.card_folder)
        self.put_in("A-01")
        case = self.standing()
        self.assertEqual((case["standing"], case["gone_in_all"]), ("files gone", len(FILES)))
        self.assertIn(ONE, case["gone"])
        self.assertEqual(self.get("waterline")["cards_waiting"], ["A-01"])
        self.assertEqual(self.slot()["gone_in_all"], len(FILES))
        make.add_file(self.card_folder, "B/B0001.MOV", b"next", SHOT)
        self.put_in("A-01")
        self.assertIn("say what became of them", self.slot()["question"])
        where = f"clearing/cards/{self.card.pk}/gone"
        self.refused(self.post(where, {"reason": " ", "count": len(FILES)}), "what became")
        self.refused(self.post(where, {"reason": "tests", "count": 1}), "look again")
        self.assertEqual(self.post(where, {"reason": "camera tests", "count": len(FILES)}, self.pip).status_code, 403)
        self.assertEqual(self.post(where, {"reason": "camera tests", "count": len(FILES)}).status_code, 200)
        self.assertEqual(self.slot()["proposal"]["tag"], "A001")
        self.assertIn("camera tests", self.get("log")["entries"][0]["sentence"])

    def test_a_file_is_missed_by_its_ends_though_a_run_listed_the_card_last(self):
        """A listing made as a run begins has no fingerprints; those from before it stand."""
        self.start(picked=[ONE])
        self.run_all()
        self.put_in("A-01")
        make.add_file(self.card_folder, "DCIM/100AAAAA/LATE.JPG", b"late", SHOT)
        self.start(picked=[TWO])
        self.run_all()
        self.assertEqual(CardListing.objects.latest().entries.exclude(fingerprint="").count(), 0, "the run listed it")
        same_but_other(self.card_folder / ONE)
        self.put_in("A-01")
        self.assertEqual(self.standing()["gone"], [], "it is gone from the card, and both copies have it")
        for store in ("one", "two"):
            (self.on_drive(store) / ONE).unlink()
        self.look_at_everything()
        self.assertEqual((self.standing()["standing"], self.standing()["gone"]), ("files gone", [ONE]))

    def test_files_that_are_back_or_in_a_copy_are_no_question(self):
        kept = {path: (self.card_folder / path).read_bytes() for path in (ONE, TWO)}
        (self.card_folder / ONE).unlink()
        self.put_in("A-01")
        self.assertEqual(self.standing()["gone"], [ONE])
        make.add_file(self.card_folder, ONE, kept[ONE], SHOT)
        self.put_in("A-01")
        self.assertEqual(self.standing()["gone_in_all"], 0)
        self.offload()
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertEqual((self.standing()["standing"], self.standing()["gone_in_all"]), ("empty", 0))

    def test_an_empty_twin_of_a_card_is_asked_about_and_can_be_told_apart(self):
        make.make_card(hub.home(), make.CardSheet("TWIN", "TWIN", "SD", 64 * 10**9, clone_of="SNA-01"))
        hub.remove("slot-1")
        look(self.station)
        self.put_in("TWIN", "slot-2")
        self.assertEqual(self.standing()["standing"], "files gone")
        stay = Insertion.objects.get(removed_at=None)
        where = f"bench/insertions/{stay.pk}/introduce"
        answer = self.post(where, {"label": "A-09", "camera": "A", "is_another": True})
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.standing(Card.objects.get(label="A-09"))["standing"], "empty")
        case = self.standing()
        self.assertEqual((case["standing"], case["gone_in_all"]), ("not offloaded", 0))

    def test_a_formatted_card_with_a_new_serial_is_said_to_be_itself_by_its_label(self):
        self.offload()
        self.sign()
        hub.remove("slot-1")
        look(self.station)
        make.make_card(hub.home(), make.CardSheet("NEWSERIAL", "A-01", "SD", 64 * 10**9))
        hub.insert("NEWSERIAL", "slot-2")
        look(self.station)
        slot = self.get("bench")["slots"][1]
        self.assertIn("A-01", slot["identity"]["known"])
        self.assertEqual(
            self.post(f"bench/insertions/{slot['insertion_id']}/recognise", {"label": "a-01"}).status_code, 200
        )
        self.assertEqual(self.standing()["standing"], "empty")

    def test_a_stay_that_has_ended_is_not_recognised(self):
        make.make_card(hub.home(), make.CardSheet("X1", "X1", "SD", 1))
        hub.insert("X1", "slot-2")
        look(self.station)
        stay = Insertion.objects.get(reader__name="slot 2", removed_at=None)
        hub.remove("slot-2")
        look(self.station)
        self.refused(self.post(f"bench/insertions/{stay.pk}/recognise", {"label": "A-01"}), "taken out")
        self.refused(self.post(f"bench/insertions/{stay.pk}/introduce", {"label": "X", "camera": "A"}), "taken out")

    def test_a_rolls_files_that_were_never_read_and_are_gone_are_asked_about_too(self):
        self.start()
        make.format_card(self.card_folder)
        self.put_in("A-01")
        Offload.objects.update(cancel_asked_at=timezone.now())
        self.run_all()
        self.assertEqual(self.standing()["standing"], "files gone")


class Readers(Deciding, TestCase):
    def test_two_readers_of_one_name_on_two_ports_are_two_readers(self):
        blank = CardSeen("BLANK", "SD", 1, token="b")
        slots = [
            Slot("reader 1", str(self.base / "x"), CardSeen("FULL", "SD", 1, token="a"), port="usb-1"),
            Slot("reader 1", str(self.base / "y"), blank, port="usb-2"),
        ]
        note_readers(self.station, slots)
        note_readers(self.station, slots)
        self.assertEqual(Reader.objects.filter(name="reader 1").count(), 2)
        stays = Insertion.objects.filter(reader__name="reader 1", removed_at=None)
        self.assertEqual({(stay.serial, stay.reader.port) for stay in stays}, {("FULL", "usb-1"), ("BLANK", "usb-2")})

    def test_two_cameras_whose_plan_has_one_prefix_never_get_one_tag(self):
        self.change_plan(roll_prefix="HL")
        other = Camera.objects.create(production=self.production, letter="B", name="B", kind="cinema", plan=self.plan)
        self.assertEqual(self.offload().tag, "HL001")
        self.camera = other
        card, _ = self.new_card("B-01", FILES)
        self.put_in("B-01", "slot-2")
        self.assertEqual(self.offload(card).tag, "HL002")


class MoreThanOnePartition(Deciding, TestCase):
    """A reader that cannot show all of a card says so, and nothing is said of the card meanwhile."""

    def test_nothing_is_listed_offloaded_or_cleared_and_the_screen_says_why(self):
        self.offload()
        self.assertTrue(self.sign().json()["cleared"])
        real = hub._seen
        with patch.object(hub, "_seen", lambda *words: replace(real(*words), trouble="More than one partition.")):
            self.put_in("A-01")
            slot = self.slot()
            self.assertEqual((slot["label"], slot["standing"], slot["listing"]), ("A-01", "never read", None))
            self.assertEqual(slot["trouble"], "More than one partition.")
            self.assertIsNone(slot["proposal"])
            answer = self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001"})
            self.refused(answer, "has not been read there yet")
            self.refused(self.sign(), "")
            self.assertFalse(self.standing()["may_go_back"])
        self.put_in("A-01")
        self.assertEqual(self.slot()["standing"], "cleared")


class Clones(Deciding, TestCase):
    def test_a_clone_of_a_drive_that_lacks_a_roll_is_seen_to_lack_it(self):
        self.offload()
        two = hub.home() / "drives" / "two"
        shutil.copytree(two, two.with_name("clone"))
        shutil.rmtree(two.with_name("clone") / "Heron")
        two.rename(two.with_name("away"))
        two.with_name("clone").rename(two)
        with clock.at(timezone.now() + timedelta(hours=1)):
            while look_at_the_oldest(self.station):
                pass
        self.assertEqual(self.planks()["two"][0], "broken")

    def test_a_drive_of_another_make_with_the_same_marker_is_not_the_store(self):
        self.offload()
        make_drive(hub.home() / "drives" / "two", identity="impostor", capacity=10**9)
        look(self.station)
        self.assertIn("another device", self.drives["two"].__class__.objects.get(name="two").sightings.get().trouble)
