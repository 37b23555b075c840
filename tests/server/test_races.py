"""Two things at the same moment, on the real database: whichever comes first, nothing wrong is said afterwards."""

import os
import shutil
import threading
from collections.abc import Callable

from django.db import connections
from django.test import TransactionTestCase

from ruggedraft.clearing.models import Clearance, HandedBack, Hold, Revocation, Signature, SigningAsked
from ruggedraft.core.errors import RaftError
from ruggedraft.intake.acts.read_card import read_card
from ruggedraft.intake.models import Card, CardSerial, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.models import Copy, Roll, Waiver
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .world import SHOT, World

ROUNDS = 50 if os.environ.get("RAFT_LONG") else 6


class Races(World, TransactionTestCase):
    def at_once(self, *acts: Callable[[], object]) -> list[object]:
        """What each of them gave, an error of ours as its sentence."""
        barrier, outcomes = threading.Barrier(len(acts)), [None] * len(acts)

        def go(n: int, act: Callable[[], object]) -> None:
            barrier.wait()
            try:
                outcomes[n] = act()
            except RaftError as error:
                outcomes[n] = error.sentence
            finally:
                connections.close_all()

        threads = [threading.Thread(target=go, args=(n, act)) for n, act in enumerate(acts)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return outcomes

    def about_to_sign(self) -> Callable[[], object]:
        """Everything was looked at for the signature: pressing once more signs."""
        for model in (
            Clearance.rolls.through, Signature, HandedBack, Revocation, Clearance, SigningAsked, Hold,
        ):  # fmt: skip
            model.objects.all().delete()
        words = {"tag": "A001", "digest": self.standing()["digest"]}
        where = f"clearing/cards/{self.card.pk}/sign"
        self.assertEqual(self.post(where, words).json()["state"], "looking", self.standing()["sentence"])
        self.look_at_everything()
        return lambda: self.post(where, words).status_code

    def race(self, other: Callable[[], object], afterwards: Callable[[], object]) -> None:
        """Signing against something that speaks against it: afterwards the card is not clear, whoever was first."""
        first = {True: 0, False: 0}
        for _ in range(ROUNDS):
            signed, _ = self.at_once(self.about_to_sign(), other)
            self.assertIn(signed, (200, 409))
            self.assertFalse(self.standing()["may_go_back"], self.standing()["sentence"])
            first[Clearance.objects.exists()] += 1
            afterwards()
        self.assertEqual(sum(first.values()), ROUNDS)

    def test_sign_against_a_new_listing(self):
        self.offload()
        made = iter(range(1000))

        def list_again():
            make.add_file(self.card_folder, f"NEW{next(made)}.MOV", b"new", SHOT)
            read_card(Insertion.objects.select_related("reader__station", "card__camera").get(removed_at=None))

        self.race(list_again, self.offload)

    def test_sign_against_a_reported_loss(self):
        roll = self.offload()
        device = self.drives["two"].device

        def mend():
            report_found(self.wren, device)
            self.check(roll, "two")

        self.race(lambda: report_loss(self.wren, device, "fell overboard"), mend)

    def test_sign_against_a_hold(self):
        roll = self.offload()
        self.race(lambda: self.hold("roll", roll.tag, "wait"), lambda: Hold.objects.all().delete())

    def test_sign_against_a_hold_on_the_camera(self):
        self.offload()
        self.race(lambda: self.hold("camera", "A", "wait"), lambda: Hold.objects.all().delete())

    def test_sign_against_a_refusal(self):
        self.offload()

        def refuse():
            words = {"reason": "no", "digest": self.standing()["digest"]}
            return self.post(f"clearing/cards/{self.card.pk}/refuse", words, self.sol).status_code

        for _ in range(ROUNDS):
            signed, refused = self.at_once(self.about_to_sign(), refuse)
            self.assertEqual(sorted((signed, refused)), [200, 409], "one of them came too late")
            self.assertEqual(self.standing()["may_go_back"], signed == 200)

    def test_sign_against_a_card_that_is_set_aside(self):
        self.offload()
        where = f"clearing/cards/{self.card.pk}/aside"
        self.race(
            lambda: self.post(where, {"kind": "quarantined", "reason": "hot"}),
            lambda: self.post(f"{where}?why=cold", method="delete"),
        )

    def test_sign_against_a_stricter_rule_for_the_camera(self):
        self.offload()
        on = {"on": {"kind": "camera", "name": "A"}, "reason": "so"}
        where = "setup/rule/exceptions"
        self.race(
            lambda: self.post(where, {**on, "parts": {"copies": 3}}, self.sol, "put"),
            lambda: self.post(where, {**on, "parts": None}, self.sol, "put"),
        )

    def test_sign_against_a_delivery_that_is_taken_back(self):
        self.offload()

        def about_to_take_back():
            self.post("tally/deliveries", {"tags": ["A001"], "to": "them"})

        for _ in range(ROUNDS):
            about_to_take_back()
            Hold.objects.all().delete()
            sign = self.about_to_sign_held()
            self.at_once(sign, lambda: self.post("tally/rolls/A001/delivery", method="delete"))
            self.assertFalse(self.standing()["may_go_back"], self.standing()["sentence"])

    def about_to_sign_held(self) -> Callable[[], object]:
        sign = self.about_to_sign()
        Hold.objects.create(
            roll=Roll.objects.get(), reason="wait", placed_by=self.sol, placed_at=now(), ends="delivered"
        )
        return sign

    def test_two_revoke_and_one_signs_again(self):
        self.offload()
        where = f"clearing/cards/{self.card.pk}/revoke"
        for _ in range(ROUNDS):
            self.assertEqual(self.about_to_sign()(), 200)
            answers = self.at_once(*(lambda: self.post(where, {"reason": "no"}).status_code for _ in range(2)))
            self.assertEqual(sorted(answers), [200, 409])
            self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_revoke_against_hand_back(self):
        self.offload()
        for _ in range(ROUNDS):
            self.put_it_in()
            self.assertEqual(self.about_to_sign()(), 200)
            hub.remove("slot-1")
            look(self.station)
            self.at_once(
                lambda: self.post(f"clearing/cards/{self.card.pk}/revoke", {"reason": "no"}),
                lambda: self.post(f"clearing/cards/{self.card.pk}/hand-back", {"to": "Kit"}),
            )
            told = self.standing()
            self.assertFalse(told["may_go_back"])
            self.assertTrue(told["recalled"], "it is out, whoever was first: somebody has to call")

    def put_it_in(self) -> None:
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def test_sign_against_a_check_that_finds_rot(self):
        roll = self.offload()
        file = self.on_drive("two") / "zero"

        def rot_is_found():
            file.write_bytes(b"x")
            self.check(roll, "two")

        def mend():
            file.write_bytes(b"")
            os.utime(file, (SHOT.timestamp(), SHOT.timestamp()))
            self.check(roll, "two")

        self.race(rot_is_found, mend)

    def test_sign_against_a_copy_that_is_deleted_and_looked_at(self):
        roll = self.offload()
        copy = Copy.objects.select_related("roll", "store__device").get(roll=roll, store__name="two")

        def delete_and_look():
            shutil.move(self.on_drive("two"), self.base / "away")
            look_at_copy(copy)

        def mend():
            shutil.move(self.base / "away", self.on_drive("two"))
            self.check(roll, "two")

        self.race(delete_and_look, mend)

    def test_a_waiver_against_a_changing_listing_is_for_what_was_shown_or_refused(self):
        path = "DCIM/100AAAAA/AAAA0001.JPG"
        for n in range(ROUNDS):
            Waiver.objects.all().delete()
            case = self.standing()
            words = {"path": path, "reason": "not ours", "seen": case["seen"]}

            def change(n=n):
                make.add_file(self.card_folder, path, bytes([65 + n % 50]) * (2000 + n), SHOT)
                read_card(Insertion.objects.select_related("reader__station", "card__camera").get(removed_at=None))

            self.at_once(lambda words=words: self.post(f"clearing/cards/{self.card.pk}/waive", words), change)
            uncovered = next(b for b in self.standing()["blocks"] if b["kind"] == "uncovered")
            self.assertIn(path, uncovered["paths"], "the file as it is now was shown to nobody")

    def test_one_card_is_recognised_in_one_reader(self):
        hub.remove("slot-1")
        for name in ("X1", "X2"):
            make.make_card(hub.home(), make.CardSheet(name, name, "SD", 1))
        for _ in range(ROUNDS):
            for slot, name in (("slot-2", "X1"), ("slot-3", "X2")):
                hub.remove(slot)
                look(self.station)
                CardSerial.objects.filter(serial=name).delete()
                hub.insert(name, slot)
            look(self.station)
            stays = Insertion.objects.filter(removed_at=None).values_list("pk", flat=True)
            wheres = [f"bench/insertions/{pk}/recognise" for pk in stays]
            answers = self.at_once(*(lambda w=w: self.post(w, {"label": "A-01"}).status_code for w in wheres))
            self.assertEqual(sorted(answers), [200, 409])
            self.assertEqual(Insertion.objects.filter(card=self.card, removed_at=None).count(), 1)

    def test_one_label_is_introduced_once(self):
        for n in range(ROUNDS):
            for slot in ("slot-2", "slot-3"):
                hub.remove(slot)
            look(self.station)
            for slot in ("slot-2", "slot-3"):
                make.make_card(hub.home(), make.CardSheet(f"{slot}{n}", slot, "SD", 1))
                hub.insert(f"{slot}{n}", slot)
            look(self.station)
            stays = Insertion.objects.filter(removed_at=None, card=None).values_list("pk", flat=True)
            wheres = [f"bench/insertions/{pk}/introduce" for pk in stays]
            words = {"label": f"N-{n}", "camera": "A"}
            answers = self.at_once(*(lambda w=w, words=words: self.post(w, words).status_code for w in wheres))
            self.assertEqual(sorted(answers), [200, 409])
            self.assertEqual(Card.objects.filter(label=f"N-{n}").count(), 1)

    def test_a_card_taken_out_while_it_is_recognised_is_not_settled_afterwards(self):
        hub.remove("slot-1")
        look(self.station)
        make.make_card(hub.home(), make.CardSheet("X1", "X1", "SD", 1))
        for _ in range(ROUNDS):
            CardSerial.objects.filter(serial="X1").delete()
            hub.insert("X1", "slot-2")
            look(self.station)
            stay = Insertion.objects.get(removed_at=None)
            hub.remove("slot-2")
            where = f"bench/insertions/{stay.pk}/recognise"
            self.at_once(lambda w=where: self.post(w, {"label": "A-01"}).status_code, lambda: look(self.station))
            stay.refresh_from_db()
            self.assertIsNotNone(stay.removed_at)
            self.assertFalse(self.standing()["may_go_back"])
        self.assertFalse(Roll.objects.exists())
