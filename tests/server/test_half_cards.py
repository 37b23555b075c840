"""A part of a card is never said to be the whole of it: pulled, stopped, paused, chosen, waived."""

from unittest.mock import patch

from django.test import TestCase
from django.utils import timezone

from ruggedraft.intake.acts.note_readers import note_readers
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Insertion
from ruggedraft.intake.watching import look
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.running import carry_out
from ruggedraft.rolls.models import Reading
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import ONE, Deciding
from .world import FILES, SHOT


class HalfACard(Deciding, TestCase):
    """A copy of half a card is never whole, at any moment of a run, after a cancel, a pull or a crash."""

    def run_until(self, stop) -> dict:
        self.assertEqual(self.start().status_code, 200)
        offload = Offload.objects.select_related("roll", "card", "station").get()
        with patch.object(hub.PacedSource, "wait_for", stop(offload)):
            carry_out(offload.pk)
        look(self.station)
        return self.slot()

    def test_a_card_pulled_in_the_middle_leaves_no_solid_plank_and_no_whole_copy(self):
        make.add_file(self.card_folder, "Z.MOV", bytes(6_000_000), SHOT)
        self.put_in("A-01")

        def pull(offload):
            def pulled(source, count):
                if count > 50_000:
                    hub.remove("slot-1")

            return pulled

        self.run_until(pull)
        for state, files in self.planks().values():
            self.assertIn(state, ("partial", "wanted"))
            self.assertLess(files, len(FILES) + 1)
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["state"], roll["files"]), ("short", len(FILES) + 1))
        self.assertGreater(roll["unread"], 0)
        case = self.standing()
        self.assertEqual((case["may_go_back"], case["lashed"]), (False, False))

    def pull_in_the_middle(self) -> Offload:
        make.add_file(self.card_folder, "Z.MOV", bytes(6_000_000), SHOT)
        self.put_in("A-01")
        self.run_until(lambda offload: lambda source, count: hub.remove("slot-1") if count > 50_000 else None)
        return Offload.objects.get()

    def test_a_pulled_cards_slot_is_in_alarm_until_somebody_says_that_they_know(self):
        offload = self.pull_in_the_middle()
        self.assertEqual(offload.state, "pulled")
        words = {"offload_id": offload.pk, "label": "A-01", "tag": "A001", "letter": "A"}
        self.assertEqual(self.slot()["pulled"], words)
        address = f"bench/offloads/{offload.pk}/acknowledge"
        self.assertEqual(self.post(address, person=self.pip).status_code, 403)
        self.assertEqual(self.post(address).status_code, 200)
        self.assertIsNone(self.slot()["pulled"])
        self.refused(self.post(address), "said so already")
        self.assertEqual(self.standing()["standing"], "not clear", "to know of it makes nothing safe")

    def test_a_pulled_card_that_is_put_back_goes_on_and_pulled_again_is_in_alarm_again(self):
        self.pull_in_the_middle()
        self.put_in("A-01", "slot-2")
        told = {slot["name"]: slot for slot in self.get("bench")["slots"]}
        self.assertIsNone(told["slot 1"]["pulled"], "it is here again")
        proposal = told["slot 2"]["proposal"]
        self.assertEqual((proposal["tag"], proposal["goes_on"], proposal["startable"]), ("A001", True, "ready"))
        hub.remove("slot-2")
        look(self.station)
        self.assertEqual(self.slot()["pulled"]["tag"], "A001", "nothing was done about it meanwhile")
        self.put_in("A-01")
        self.offload()
        hub.remove("slot-1")
        look(self.station)
        self.assertIsNone(self.slot()["pulled"], "what was missing was brought")

    def test_a_card_whose_run_ended_by_itself_was_not_pulled(self):
        self.offload()
        hub.remove("slot-1")
        look(self.station)
        self.assertIsNone(self.slot()["pulled"])
        self.refused(self.post(f"bench/offloads/{Offload.objects.get().pk}/acknowledge"), "not taken out in the middle")

    def test_a_hub_that_is_unplugged_whole_takes_the_alarm_with_it_no_more_than_its_cards(self):
        self.pull_in_the_middle()
        note_readers(self.station, [])
        (slot,) = self.get("bench")["slots"]
        self.assertEqual((slot["name"], slot["pulled"]["tag"]), ("slot 1", "A001"))
        self.post(f"bench/offloads/{slot['pulled']['offload_id']}/acknowledge")
        self.assertEqual(self.get("bench")["slots"], [])

    def test_a_run_that_lost_its_worker_and_then_its_card_is_in_alarm_too(self):
        self.start()
        Offload.objects.update(started_at=timezone.now())
        hub.remove("slot-1")
        look(self.station)
        self.assertEqual(self.slot()["pulled"]["tag"], "A001")

    def test_a_run_stopped_before_its_first_byte_is_whole_on_no_store(self):
        def cancel(offload):
            offload.cancel_asked_at = timezone.now()
            offload.save()
            return lambda source, count: None

        slot = self.run_until(cancel)
        self.assertEqual(slot["offload"]["state"], "cancelled")
        self.assertIn("on no store", slot["offload"]["sentence"])
        self.assertEqual({store["state"] for store in slot["offload"]["stores"]}, {"wanted"})
        self.assertEqual(Reading.objects.count(), 0)

    def test_the_roll_has_all_its_files_from_the_moment_it_is_taken(self):
        self.start()
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["files"], roll["unread"], roll["state"]), (len(FILES), len(FILES), "short"))

    def test_a_paused_run_does_not_say_that_it_was_cancelled(self):
        self.start()
        offload = Offload.objects.get()
        self.post(f"runs/{offload.pk}/pause")
        self.assertEqual(self.slot()["offload"]["state"], "paused")
        self.assertNotIn("cancel", str(self.slot()).lower())

    def test_a_run_that_is_stopped_takes_nothing_away_from_what_stood(self):
        self.offload()
        make.add_file(self.card_folder, "LATE.MOV", b"late", SHOT)
        read_card(Insertion.objects.get(removed_at=None))
        self.start()
        Offload.objects.filter(finished_at=None).update(cancel_asked_at=timezone.now())
        self.run_all()
        self.assertEqual(set(self.planks().values()), {("partial", len(FILES))})
        self.assertEqual(self.get("tally/rolls/A001")["faults"], [])


class Account(Deciding, TestCase):
    """What is left behind or waived is part of the roll's account wherever the roll is shown."""

    def test_one_of_three_taken_and_two_waived_is_said_before_and_after_signing(self):
        self.stills(3)
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        self.assertEqual(self.standing()["left_in_all"], 2)
        self.post(f"clearing/cards/{self.card.pk}/waive-left", {"reason": "out of focus", "count": 2})
        before = self.standing()
        self.assertEqual((before["standing"], before["waived_in_all"]), ("ready to sign", 2))
        self.assertIn("1 of its 3 files are in enough copies. 2 were waived", before["sentence"])
        self.assertEqual([plank["files"] for plank in before["planks"]], [1, 1])
        self.assertTrue(self.sign().json()["cleared"])
        after = self.standing()
        self.assertEqual([waiver["reason"] for waiver in after["waived"]], ["out of focus"] * 2)
        detail = self.get("tally/rolls/A001")
        self.assertEqual((detail["roll"]["left"], len(detail["left_behind"])), (2, 2))

    def test_a_file_of_the_roll_that_cannot_be_read_may_be_waived_and_the_roll_says_so(self):
        bad = self.card_folder / ONE
        real = hub.PacedSource.open

        def broken(source, path):
            if path == ONE:
                from ruggedraft.core.errors import SourceUnreadable

                raise SourceUnreadable("it could not be read off the card")
            return real(source, path)

        with patch.object(hub.PacedSource, "open", broken):
            self.put_in("A-01")
            self.offload()
            self.assertEqual(self.get("tally/rolls/A001")["roll"]["unread"], 1)
            self.post(f"clearing/cards/{self.card.pk}/waive", {"path": ONE, "reason": "a bad sector"})
            self.assertEqual([block["kind"] for block in self.standing()["blocks"]], ["health"])
            seen = self.get(f"cards/{self.card.label}")["card"]["doubts"]
            self.post(f"clearing/cards/{self.card.pk}/trust", {"reason": "a dirty contact", "seen": seen})
            self.assertEqual(self.standing()["standing"], "ready to sign", self.standing()["sentence"])
            self.assertTrue(self.sign().json()["cleared"])
        roll = self.get("tally/rolls/A001")["roll"]
        self.assertEqual((roll["state"], roll["waived"], roll["unread"], roll["files"]), ("safe", 1, 0, len(FILES) - 1))
        self.assertTrue(bad.exists())

    def test_a_choice_of_nothing_is_not_every_file_on_every_store(self):
        self.stills(2)
        choice = self.post(f"bench/cards/{self.card.pk}/choice", {"picked": []}).json()["proposal"]
        self.assertEqual(choice["startable"], "nothing chosen")
        self.assertNotIn("very file", choice["hint"])
        self.refused(
            self.post(f"bench/cards/{self.card.pk}/offload", {"tag": "A001", "take": {"picked": []}}), "chosen"
        )

    def test_one_clip_taken_and_chosen_again_is_what_the_copies_hold_and_not_the_card(self):
        self.stills(3)
        self.start(picked=["DCIM/100SKERR/SKR_0001.JPG"])
        self.run_all()
        size = (self.card_folder / "DCIM/100SKERR/SKR_0001.JPG").stat().st_size
        slot = self.slot()
        self.assertEqual({store["bytes"] for store in slot["offload"]["stores"]}, {size})
        again = self.post(f"bench/cards/{self.card.pk}/choice", {"picked": ["DCIM/100SKERR/SKR_0001.JPG"]}).json()
        self.assertEqual(again["proposal"]["startable"], "chosen held")
        self.assertIn("the card has more", again["proposal"]["hint"])
