"""What people say about clearing: holds with their ends, refusals, signatures that no longer stand, taking back."""

import hashlib
from datetime import timedelta

from django.test import TestCase

from ruggedraft.clearing.cases import case
from ruggedraft.clearing.models import Hold, Signature
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import RedundancyRule
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import Deciding
from .world import FILES, SHOT


class Decided(Deciding):
    def stands(self) -> str:
        """From summaries and in full alike."""
        said = self.standing()["standing"]
        self.assertEqual(case(self.card).standing.value, said)
        return said

    def two_must_sign(self) -> None:
        RedundancyRule.objects.update(signers=2)

    def of_card(self, act: str, person=None, **words):
        return self.post(f"clearing/cards/{self.card.pk}/{act}", words, person)

    def refusals(self) -> list[str]:
        return list(JournalEntry.objects.filter(act="refused act").order_by("pk").values_list("sentence", flat=True))


class Holds(Decided, TestCase):
    def test_each_place_of_a_hold_blocks_and_says_where_it_is(self):
        roll = self.offload()
        for on, name, where in (("roll", roll.tag, ""), ("card", "A-01", ""), ("camera", "A", "camera A is ")):
            with self.subTest(on):
                self.assertEqual(self.hold(on, name, "the lab has not called").status_code, 200)
                self.assertEqual(self.stands(), "not clear")
                sentence = f"Not clear: {where}on hold by Wren: the lab has not called."
                self.assertEqual(self.standing()["sentence"], sentence)
                (held,) = self.standing()["holds"]
                self.assertEqual(self.post(f"clearing/holds/{held['id']}?why=called", method="delete").status_code, 200)
                self.assertEqual(self.stands(), "ready to sign")
                self.refused(self.post(f"clearing/holds/{held['id']}", method="delete"), "lifted already")
        self.assertEqual(set(Hold.objects.values_list("lifted_why", flat=True)), {"called"})

    def test_a_hold_on_a_camera_is_about_every_card_of_it_and_no_other(self):
        self.offload()
        self.hold("camera", "A", "the lab has not called")
        other, _ = self.new_card("A-02", {"DCIM/100AAAAA/AAAA0009.JPG": b"new"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.offload(other)
        self.assertIn("camera A is on hold", self.standing(other)["sentence"])
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertEqual(self.stands(), "empty", "it is about what is on cards")

    def test_a_hold_on_a_card_keeps_it_with_nothing_on_it(self):
        self.offload()
        self.sign()
        hub.remove("slot-1")
        look(self.station)
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertTrue(self.standing()["may_go_back"])
        self.hold("card", "A-01", "its door sticks")
        self.assertEqual((self.stands(), self.standing()["may_go_back"]), ("not clear", False))

    def test_a_hold_until_a_moment_ends_by_itself(self):
        self.offload()
        soon = clock.now() + timedelta(hours=2)
        self.assertEqual(self.hold("roll", "A001", "the lab", ends="date", until=soon.isoformat()).status_code, 200)
        self.assertEqual(self.stands(), "not clear")
        Hold.objects.update(until=clock.now() - timedelta(seconds=1))
        self.assertEqual(self.stands(), "ready to sign")
        self.refused(self.hold("roll", "A001", "x", ends="date", until="2020-01-01T00:00:00Z"), "still to come")
        self.refused(self.hold("roll", "A001", "x", ends="date"), "still to come")

    def test_a_hold_until_delivery_ends_with_the_delivery_and_holds_again_without_it(self):
        self.offload()
        for on, name in (("roll", "A001"), ("card", "A-01"), ("camera", "A")):
            self.hold(on, name, "until the client has it", ends="delivered")
        self.assertEqual(self.stands(), "not clear")
        said = self.post("tally/deliveries", {"tags": ["A001"], "to": "the broadcaster"})
        self.assertEqual((said.status_code, self.stands()), (200, "ready to sign"))
        self.refused(self.post("tally/deliveries", {"tags": ["A001"], "to": "again"}), "already")
        self.refused(self.hold("roll", "A001", "again", ends="delivered"), "delivered already")
        self.assertEqual(self.get("tally/rolls/A001")["delivered_to"], "the broadcaster")
        self.post("tally/rolls/A001/delivery", method="delete")
        self.assertEqual(self.stands(), "not clear")

    def test_a_hold_until_a_second_signature_asks_for_one_and_ends_with_it(self):
        self.offload()
        self.hold("roll", "A001", "the operator was not sure", ends="second signature")
        self.assertEqual((self.stands(), self.standing()["missing_signatures"]), ("ready to sign", 2))
        self.assertFalse(self.sign().json()["cleared"])
        self.assertEqual(self.stands(), "waiting for a signature")
        self.assertTrue(self.sign(self.sol).json()["cleared"])
        self.assertEqual(Hold.objects.get().lifted_why, "it was signed for")

    def test_holds_are_refused_without_a_reason_twice_and_without_the_role(self):
        self.offload()
        self.refused(self.hold("roll", "A001", "  "), "needs a reason")
        self.hold("roll", "A001", "wait")
        self.refused(self.hold("roll", "A001", "wait"), "already")
        self.assertEqual(self.hold("roll", "A001", "wait", self.pip).status_code, 403)
        self.assertEqual(self.hold("card", "A-99", "wait").status_code, 404)
        self.assertEqual(len(self.refusals()), 3)
        self.assertIn("Pip wanted to place a hold, and was refused: Only a wrangler", self.refusals()[-1])


class Signing(Decided, TestCase):
    def test_what_changed_since_the_first_signature_stands_before_the_second(self):
        self.two_must_sign()
        self.drives["three"] = self.drives["three"]
        self.plan.stores.set(self.drives.values())
        roll = self.offload()
        self.sign()
        self.assertEqual((self.stands(), self.standing()["void"]), ("waiting for a signature", []))
        self.post("stores/three/lost", {"reason": "overboard"})
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": "zero", "reason": "nothing is in it"})
        (void,) = self.standing()["void"]
        self.assertEqual((void["by"], self.standing()["signed_by"]), ("Wren", []))
        told = "; ".join(void["changes"])
        self.assertIn(f"the copy of {roll.tag} on 'three' does not count any more", told)
        self.assertIn("Wren waived zero: nothing is in it", told)
        self.assertFalse(self.sign(self.sol).json()["cleared"], "Wren's signature is for something else")
        self.assertTrue(self.sign().json()["cleared"])
        self.assertEqual(self.standing()["void"], [], "what was before the clearance is of no interest")

    def test_what_did_not_change_leaves_the_first_signature_standing(self):
        self.two_must_sign()
        self.offload()
        self.sign()
        self.hold("roll", "A001", "wait")
        held = self.standing()["holds"][0]["id"]
        self.post(f"clearing/holds/{held}", method="delete")
        self.check(self.card.rolls.get(), "one")
        self.assertEqual((self.stands(), self.standing()["void"]), ("waiting for a signature", []))
        self.assertTrue(self.sign(self.sol).json()["cleared"])

    def test_two_do_not_sign_in_one_session(self):
        self.two_must_sign()
        self.offload()
        self.sign()
        mine = Signature.objects.get()
        key = hashlib.sha256(self._same_client(self.sol).session.session_key.encode()).hexdigest()
        self.assertNotEqual(mine.session, key)
        Signature.objects.update(session=key)
        self.refused(self.sign(self.sol), "in this session")

    def test_a_refusal_stands_until_it_is_taken_back(self):
        self.offload()
        digest = self.standing()["digest"]
        self.assertEqual(self.of_card("refuse", reason="the sound was not copied", digest=digest).status_code, 200)
        self.assertEqual(self.standing()["sentence"], "Not clear: Wren would not sign: the sound was not copied.")
        self.refused(self.sign(self.sol), "Wren would not sign")
        (held,) = self.standing()["holds"]
        self.assertTrue(held["refusal"])
        self.assertEqual(self.post(f"clearing/holds/{held['id']}", person=self.pip, method="delete").status_code, 403)
        self.assertEqual(self.post(f"clearing/holds/{held['id']}", method="delete").status_code, 200)
        self.assertTrue(self.sign(self.sol).json()["cleared"])

    def test_no_is_said_of_what_was_shown_and_of_nothing_else(self):
        self.offload()
        self.refused(self.of_card("refuse", reason="no", digest="other"), "not as you were shown")
        self.hold("roll", "A001", "wait")
        self.refused(self.of_card("refuse", reason="no", digest=self.standing()["digest"]), "Nobody is asked to sign")

    def test_every_refused_signature_is_journalled_with_what_to_do(self):
        self.offload()
        self.refused(self.sign(digest="stale"), "Look again")
        self.refused(self.sign(tag="A002"), "You typed 'A002'")
        self.assertEqual(self.sign(self.pip).status_code, 403)
        self.sign()
        self.refused(self.sign(), "cleared already")
        said = self.refusals()
        self.assertEqual(len(said), 4)
        self.assertTrue(all("wanted to sign, and was refused: " in one for one in said), said)
        self.assertIn("refused act", [entry["act"] for entry in self.get("log?kind=clearing")["entries"]])

    def test_a_swapped_card_is_not_signed_for(self):
        self.offload()
        digest = self.standing()["digest"]
        twin, _ = self.new_card("A-09", FILES)
        hub.remove("slot-1")
        hub.insert("A-09", "slot-1")
        look(self.station)
        self.assertEqual(self.sign(digest=digest).json().get("cleared"), True, "A-01 as it was last read, in no reader")
        self.assertFalse(self.standing(twin)["may_go_back"])
        words = {"tag": "A001", "digest": digest}
        self.refused(self.post(f"clearing/cards/{twin.pk}/sign", words), "nothing that could be cleared")


class Revoking(Decided, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        self.sign()

    def test_a_clearance_taken_back_in_our_hands_has_to_be_signed_anew(self):
        self.assertEqual(self.of_card("revoke", reason="wrong card").status_code, 200)
        self.assertEqual(self.stands(), "ready to sign")
        told = self.standing()
        self.assertEqual((told["signed_by"], told["recalled"], told["may_go_back"]), ([], False, False))
        self.assertIn("Wren revoked its clearance: wrong card", told["sentence"])
        self.assertEqual(self.get("waterline")["cards_recalled"], [])
        self.assertTrue(self.sign().json()["cleared"])
        self.assertEqual(self.stands(), "cleared")

    def test_after_it_went_out_it_is_an_alarm_that_says_whom_to_call(self):
        hub.remove("slot-1")
        look(self.station)
        self.assertEqual(self.of_card("hand-back", to="Kit Marsh").status_code, 200)
        self.assertEqual((self.stands(), self.standing()["handed_to"]), ("handed back", "Kit Marsh"))
        self.refused(self.of_card("hand-back", to="Kit Marsh"), "handed back already")
        self.of_card("revoke", self.sol, reason="the array lied")
        self.assertEqual(self.stands(), "not clear")
        told = self.standing()
        self.assertTrue(told["recalled"])
        self.assertIn("Sol revoked that: the array lied. Call Kit Marsh", told["sentence"])
        self.assertEqual(self.get("waterline")["cards_recalled"], ["A-01"])
        self.assertIn("call Kit Marsh", JournalEntry.objects.filter(act="revoke clearance").get().sentence)
        self.assertFalse(self.sign().status_code == 200, "nobody signs for a card that is out")
        self.put_in("A-01")
        self.assertEqual((self.stands(), self.get("waterline")["cards_recalled"]), ("ready to sign", []))
        hub.remove("slot-1")
        look(self.station)
        self.assertEqual(self.get("waterline")["cards_recalled"], [], "it came home once, and was read")

    def test_a_card_that_is_out_and_on_hold_is_called_back_too(self):
        hub.remove("slot-1")
        look(self.station)
        self.hold("camera", "A", "the lab has not called")
        self.assertEqual(self.stands(), "not clear")
        self.of_card("revoke", reason="the array lied")
        self.assertTrue(self.standing()["recalled"])
        self.assertEqual(self.get("waterline")["cards_recalled"], ["A-01"])

    def test_it_is_refused_where_there_is_nothing_to_take_back(self):
        self.refused(self.of_card("revoke", reason=" "), "Say why")
        self.of_card("revoke", reason="wrong card")
        self.refused(self.of_card("revoke", reason="again"), "revoked already")
        card, _ = self.new_card("A-02", {})
        self.refused(self.post(f"clearing/cards/{card.pk}/revoke", {"reason": "x"}), "never cleared")
        self.assertEqual(self.of_card("revoke", self.pip, reason="x").status_code, 403)

    def test_a_formatted_card_cannot_be_called_back(self):
        hub.remove("slot-1")
        look(self.station)
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.refused(self.of_card("revoke", reason="too late"), "formatted since")


class Waiving(Decided, TestCase):
    def setUp(self):
        super().setUp()
        self.stills(6)
        self.offload()
        for n in range(1, 5):
            make.add_file(self.card_folder, f"MISC/NOTE{n}.TXT", b"note %d" % n, SHOT)
        self.put_in("A-01")

    def stretch(self, first: int, last: int, count: int, **words):
        told = {"first": f"MISC/NOTE{first}.TXT", "last": f"MISC/NOTE{last}.TXT", "count": count, "reason": "tests"}
        return self.post(f"clearing/cards/{self.card.pk}/waive-stretch", {**told, **words})

    def test_a_stretch_is_waived_by_name_and_no_other_file(self):
        self.assertEqual(self.stretch(2, 3, 2).status_code, 200)
        waived = [one["path"] for one in self.standing()["waived"]]
        self.assertEqual(waived, ["MISC/NOTE2.TXT", "MISC/NOTE3.TXT"])
        self.assertEqual(self.stands(), "not clear")
        self.assertEqual(self.stretch(1, 4, 2).status_code, 200)
        self.assertEqual(self.stands(), "ready to sign")
        self.assertEqual(len(self.standing()["waived"]), 4)

    def test_it_is_refused_where_it_is_not_what_was_shown(self):
        self.refused(self.stretch(2, 3, 5), "look again")
        self.refused(self.stretch(2, 3, 2, seen="other"), "read again")
        self.refused(self.stretch(2, 3, 2, reason=""), "needs a reason")
        words = {"path": "MISC/NOTE1.TXT", "reason": "tests"}
        self.of_card("waive", **words)
        self.refused(self.of_card("waive", **words), "waived already")
        self.assertEqual(len(self.refusals()), 4)


class Standing(Decided, TestCase):
    def test_no_state_but_cleared_and_empty_says_that_a_card_may_go(self):
        self.assertEqual({one for one in CardStanding if one.may_go_back}, {CardStanding.CLEARED, CardStanding.EMPTY})
