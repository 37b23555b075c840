"""Who has each card and drive, since when, and where; and what is lost with a card."""

from datetime import timedelta

from django.test import TestCase

from ruggedraft.clearing.acts.hand_back import hand_back
from ruggedraft.clearing.acts.pass_card import pass_card
from ruggedraft.clearing.acts.set_card_aside import set_card_aside, use_card_again
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import AsideKind
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.models import Custody
from ruggedraft.rolls.acts.pass_device import pass_device
from ruggedraft.standins import hub

from .world import World


class CardsGoFromHandToHand(World, TestCase):
    def take_out(self) -> None:
        hub.remove("slot-1")
        look(self.station)

    def give(self, person=None, **said):
        return self.post(f"cards/{self.card.label}/holder", said, person or self.pip, "put")

    def card_now(self) -> dict:
        return self.get(f"cards/{self.card.label}")["card"]

    def test_who_has_it_is_said_by_an_assistant_and_seen_with_since_when(self):
        self.assertEqual(self.give(username="pip").status_code, 409, "it is in a reader")
        self.take_out()
        self.assertEqual(self.give(username="pip", note="left pouch").status_code, 200)
        said = self.card_now()
        self.assertEqual((said["whereabouts"], said["holder"], said["note"]), ("with Pip", "Pip", "left pouch"))
        self.assertIsNotNone(said["since"])
        self.assertEqual(self.give(username="pip").status_code, 409, "said already")
        self.assertEqual(self.give(outside="Lee, unit B").status_code, 200)
        self.assertEqual(self.card_now()["whereabouts"], "with Lee, unit B")
        self.assertEqual(self.give().status_code, 200)
        self.assertEqual(self.card_now()["whereabouts"], "at the cart")
        acts = list(JournalEntry.objects.filter(act="pass card").order_by("id").values_list("sentence", flat=True))
        self.assertEqual(acts, [
            "Card A-01 is with Pip now. Said with it: left pouch.", "Card A-01 is with Lee, unit B now.",
            "Card A-01 is back: nobody carries it.",
        ])  # fmt: skip

    def test_what_was_said_ends_when_the_card_goes_into_a_reader(self):
        self.take_out()
        self.give(username="pip")
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.assertEqual(self.card_now()["whereabouts"], "in slot 1")
        self.take_out()
        self.assertNotIn("Pip", self.card_now()["whereabouts"], "nobody has said who took it out")
        self.assertEqual(self.give(username="pip").status_code, 200)

    def test_the_order_in_which_things_were_said_counts_and_no_stations_clock(self):
        """A station whose clock is behind puts the card into its reader before somebody took it, as its times say."""
        self.take_out()
        self.give(username="pip")
        with clock.at(clock.now() - timedelta(hours=1)):
            hub.insert("A-01", "slot-1")
            look(self.station)
            self.take_out()
        self.assertNotIn("Pip", self.card_now()["whereabouts"])

    def test_whoever_it_is_handed_back_to_has_it_though_it_left_before_somebody_took_it(self):
        self.offload()
        self.sign()
        self.take_out()
        self.give(username="pip")
        self.assertEqual(self.card_now()["whereabouts"], "with Pip")
        hand_back(self.wren, self.card, "Marlo Finch")
        self.assertEqual(self.card_now()["whereabouts"], "with Marlo Finch")
        self.give(username="sol")
        self.assertEqual(self.card_now()["whereabouts"], "with Sol", "and then on")

    def test_nobody_who_left_or_is_unknown_is_given_anything(self):
        self.take_out()
        self.assertEqual(self.give(username="nobody").status_code, 404)
        self.assertEqual(self.give(username="pip", outside="Lee").status_code, 409)
        self.pip.is_active = False
        self.pip.save()
        with self.assertRaises(ActRefused):
            pass_card(self.wren, self.card, self.pip)
        self.assertEqual(Custody.objects.count(), 0)

    def test_who_has_a_card_says_nothing_of_whether_it_may_be_used(self):
        before = self.standing()["standing"]
        self.take_out()
        self.give(username="pip")
        self.assertEqual(self.standing()["standing"], before)

    def test_of_a_card_that_was_never_read_nobody_says_that_nothing_would_be_lost(self):
        self.new_card("A-09", {"x": b"x"})
        lost = self.get("cards/A-09")["if_lost"]
        self.assertIsNone(lost["read_at"])
        self.assertEqual(lost["safe"]["files"], 0)

    def test_what_would_be_lost_with_it_is_said_before_it_is_called_lost(self):
        lost = self.get("cards/A-01")["if_lost"]
        self.assertEqual((lost["gone"]["files"], lost["below"]["files"], lost["safe"]["files"]), (4, 0, 0))
        self.assertEqual(lost["gone"]["bytes"], 603_003)
        self.plan.stores.set([self.drives["one"]])
        self.offload()
        lost = self.get("cards/A-01")["if_lost"]
        self.assertEqual((lost["gone"]["files"], lost["below"]["files"]), (0, 4), "one copy, and the rule asks for two")
        with self.assertRaisesRegex(ActRefused, "is in slot 1, and not lost"):
            set_card_aside(self.wren, self.card, AsideKind.LOST, "nowhere to be found")
        self.take_out()
        self.assertEqual(
            self.post(f"clearing/cards/{self.card.pk}/aside", {"kind": "lost", "reason": "x"}).status_code, 200
        )
        self.assertIn("lost by Wren", self.standing()["out_of_use"])
        said = self.card_now()
        self.assertEqual((said["life"], said["whereabouts"]), ("lost", "lost; before that last in slot 1"))
        self.assertFalse(self.standing()["may_go_back"])
        use_card_again(self.wren, self.card, "it was in the other pouch")
        self.assertEqual(self.standing()["out_of_use"], "")


class DrivesTravel(World, TestCase):
    def store(self, name: str = "one") -> dict:
        return next(one for one in self.get("stores") if one["name"] == name)

    def give(self, person=None, store: str = "one", **said):
        return self.post(f"stores/{store}/carrier", said, person or self.pip, "put")

    def test_place_follows_custody_and_stays_where_none_is_named(self):
        self.assertEqual(self.give(username="pip").status_code, 200)
        self.assertEqual((self.store()["carrier"], self.store()["location"]), ("Pip", "cart"))
        self.assertEqual(self.give(username="pip", place="office").status_code, 200)
        self.assertEqual((self.store()["location"], self.store()["offsite"]), ("office", True))
        self.assertEqual(self.give(username="sol", place="the moon").status_code, 404, "no such place is known")
        self.assertEqual(self.store()["carrier"], "Pip")
        self.assertIn(
            "it is at office, which is off-site", JournalEntry.objects.filter(act="pass device").first().sentence
        )

    def test_two_drives_that_travel_together_are_in_one_place(self):
        """The rule asks for two places: one drive to the office meets it, and its fellow in the same van does not."""
        self.production.rule.locations = 2
        self.production.rule.save()
        self.offload()
        self.assertIn("1 of 2 locations", str(self.standing()["blocks"]))
        pass_device(self.pip, self.drives["one"].device, self.pip, place=self.office)
        self.assertNotIn("locations", str(self.standing()["blocks"]))
        pass_device(self.pip, self.drives["two"].device, self.pip, place=self.office)
        self.assertIn("1 of 2 locations", str(self.standing()["blocks"]))

    def test_somebody_without_an_account_carries_it_and_what_if_they_are_gone_is_told(self):
        self.offload()
        self.give(outside="Broadcaster's runner", note="back on Friday")
        said = self.store()
        self.assertEqual((said["carrier"], said["carried_by"], said["carry_note"]), (
            "Broadcaster's runner", "", "back on Friday",
        ))  # fmt: skip
        told = self.get("stores/what-if?of=person&name=Broadcaster's runner")
        self.assertEqual(told["stores"], ["one"])
        self.assertEqual(told["below"], 1)


class WhereIs(World, TestCase):
    def ask(self, text: str) -> list[tuple[str, str, str]]:
        return [(one["thing"], one["name"], one["where"]) for one in self.get(f"where?text={text}")]

    def test_a_card_is_found_by_its_number_and_told_with_who_has_it(self):
        card, _ = self.new_card("A-14", {"x": b"x"})
        self.new_card("A-114", {"x": b"x"})
        with clock.at(clock.now() - timedelta(hours=1)):
            pass_card(self.pip, card, self.pip)
        self.assertEqual(self.ask("where is card 14?"), [("card", "A-14", "with Pip")])
        self.assertEqual(self.ask("a14")[0], ("card", "A-14", "with Pip"))
        self.assertEqual(self.ask("card 1"), [("card", "A-01", "in slot 1")])
        self.assertEqual(self.ask("nothing like it"), [])
        self.assertEqual(self.ask(""), [])

    def test_a_roll_is_told_with_its_copies_that_count_and_a_drive_with_its_place(self):
        self.offload()
        self.assertEqual(self.ask("roll 1"), [("roll", "A001", "counting copies on one, two")])
        self.assertEqual(self.ask("a001")[0][1], "A001")
        pass_device(self.sol, self.drives["one"].device, self.pip, place=self.office)
        self.assertEqual(self.ask("drive one"), [("store", "one", "office, with Pip")])
        self.assertEqual(self.ask("three")[0][2], "cart, connected")
