"""A folder of finals is taken in like a card: listed, copied, verified, delivered; and never cleared nor removed."""

import shutil

from django.test import TransactionTestCase

from ruggedraft.core.redundancy import CardStanding
from ruggedraft.intake.acts.say_folder import say_folder
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.rolls.models import Copy, Roll

from .oracle import home_of
from .world import World


class Finals(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        self.folder = self.base / "finals"
        self.folder.mkdir()
        for name in ("harbour_v3.mov", "harbour_v3.wav"):
            (self.folder / name).write_bytes(name.encode() * 100)
        answer = self.post("bench/folders", {"path": str(self.folder), "is_reader": True, "finals": True}, self.sol,
                           method="put")  # fmt: skip
        self.assertEqual(answer.status_code, 200, answer.content)
        look(self.station)
        stay = Insertion.objects.get(reader__port__startswith="folder ", removed_at=None)
        self.post(f"bench/insertions/{stay.pk}/introduce", {"label": "Finals 1", "camera": "A"})
        look(self.station)
        self.set = Card.objects.get(label="Finals 1")

    def case(self) -> dict:
        return self.get(f"cards/{self.set.label}")["case"]

    def take_in(self) -> Roll:
        roll = self.offload(self.set)
        self.look_at_everything()
        return roll

    def test_it_is_listed_copied_and_verified_and_stands_as_what_it_is(self):
        self.assertEqual((self.set.kind, self.case()["standing"]), ("finals", CardStanding.UNREAD))
        roll = self.take_in()
        self.assertEqual(roll.files.exclude(checksum="").count(), 2)
        self.assertEqual(self.get("tally")["rolls"][0]["state"], "safe")
        self.assertEqual(self.case()["standing"], CardStanding.FINALS)
        self.assertIn("nothing of it is cleared or removed", self.case()["sentence"])
        self.post("tally/deliveries", {"tags": [roll.tag], "to": "the broadcaster"})
        self.assertEqual(self.get(f"tally/rolls/{roll.tag}")["delivered_to"], "the broadcaster")
        self.assertEqual({path.name for path in self.folder.iterdir()}, {"harbour_v3.mov", "harbour_v3.wav"})

    def test_nobody_is_asked_to_clear_it_and_nobody_can(self):
        roll = self.take_in()
        self.assertNotIn("Finals 1", [one["label"] for one in self.get("clearing")["cards"]])
        signed = self.post(f"clearing/cards/{self.set.pk}/sign", {"tag": roll.tag, "digest": self.case()["digest"]})
        self.assertEqual((signed.status_code, "nothing of it is cleared" in signed.json()["title"]), (409, True))
        gone = self.post(f"clearing/cards/{self.set.pk}/removal", {"tag": roll.tag, "digest": self.case()["digest"]})
        self.assertNotEqual(gone.status_code, 200)
        self.assertEqual(len(list(self.folder.iterdir())), 2)

    def test_what_comes_into_it_later_is_named_until_it_is_taken_in_too(self):
        self.take_in()
        (self.folder / "harbour_v4.mov").write_bytes(b"newer")
        self.look_at_everything()
        self.assertEqual(self.case()["standing"], CardStanding.BLOCKED)
        self.assertIn("1 file on this card is in no copy", self.case()["sentence"])
        self.assertIn("Finals 1", [one["label"] for one in self.get("clearing")["cards"]], "that needs work")
        self.take_in()
        self.assertEqual((self.case()["standing"], Roll.objects.filter(card=self.set).count()),
                         (CardStanding.FINALS, 1))  # fmt: skip

    def test_it_is_no_longer_safe_once_a_copy_is_gone(self):
        self.take_in()
        copy = Copy.objects.select_related("store").get(store__name="two")
        shutil.rmtree(home_of(copy))
        self.look_at_everything()
        self.assertEqual(self.case()["standing"], CardStanding.BLOCKED)

    def test_a_folder_that_passed_for_a_card_before_is_none_once_it_is_said_to_hold_finals(self):
        self.take_in()
        Card.objects.filter(pk=self.set.pk).update(kind="folder")
        self.assertEqual(self.case()["standing"], CardStanding.CLEARABLE, "as a card it could be signed for")
        for finals in (False, True):
            say_folder(self.sol, str(self.folder), is_reader=finals, finals=finals)
            look(self.station)
        stay = Insertion.objects.get(reader__port__startswith="folder ", removed_at=None)
        self.assertIsNone(stay.card, "it is asked which it is")
        said = self.post(f"bench/insertions/{stay.pk}/recognise", {"label": "Finals 1"})
        self.assertEqual(said.status_code, 200, said.content)
        self.look_at_everything()
        self.assertEqual(self.case()["standing"], CardStanding.FINALS)

    def test_a_folder_is_one_or_the_other(self):
        said = {"path": str(self.folder), "is_reader": True, "finals": False}
        refused = self.post("bench/folders", said, self.sol, method="put")
        self.assertEqual((refused.status_code, "holds a set of finals" in refused.json()["title"]), (409, True))
        say_folder(self.sol, str(self.folder), is_reader=False)
        self.assertEqual(self.post("bench/folders", said, self.sol, method="put").status_code, 200)
