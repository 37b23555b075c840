"""Readers by names that people give them, and folders that pass for a reader."""

import shutil

from django.test import TransactionTestCase

from ruggedraft.core.errors import ActRefused, NotPermitted
from ruggedraft.intake.acts.name_reader import name_reader
from ruggedraft.intake.acts.say_folder import say_folder
from ruggedraft.intake.models import Card, Insertion, Reader
from ruggedraft.intake.watching import look
from ruggedraft.standins import card_maker, hub

from .world import SHOT, World


class Readers(World, TransactionTestCase):
    def test_a_name_stays_whatever_the_system_calls_it_and_goes_when_it_is_taken_back(self):
        reader = Reader.objects.get(name="slot 1")
        name_reader(self.sol, reader, "  Red   one ")
        for _ in range(2):
            look(self.station)
            self.assertEqual(Reader.objects.get(pk=reader.pk).name, "Red one")
        self.assertEqual([one["name"] for one in self.get("bench")["slots"] if one["label"] == "A-01"], ["Red one"])
        name_reader(self.sol, reader, "")
        look(self.station)
        self.assertEqual(Reader.objects.get(pk=reader.pk).name, "slot 1")

    def test_two_are_not_called_the_same_and_not_everybody_names_them(self):
        first, second = Reader.objects.order_by("name")[:2]
        name_reader(self.sol, first, "Red")
        with self.assertRaisesRegex(ActRefused, "already"):
            name_reader(self.sol, second, "red")
        with self.assertRaises(ActRefused):
            name_reader(self.sol, second, "x" * 41)
        for person in (self.wren, self.pip):
            with self.assertRaises(NotPermitted):
                name_reader(person, second, "Blue")

    def phone(self):
        folder = self.base / "phone"
        folder.mkdir()
        card_maker.add_stills(folder, prefix="HERN", first=1, count=3, start=SHOT)
        return folder

    def stay(self) -> Insertion | None:
        return Insertion.objects.filter(reader__port__startswith="folder ", removed_at=None).first()

    def test_a_folder_hangs_on_the_bench_is_offloaded_like_a_card_and_is_not_written_to(self):
        folder = self.phone()
        before = sorted((str(one), one.lstat().st_mtime_ns) for one in folder.rglob("*"))
        say_folder(self.sol, str(folder), is_reader=True)
        look(self.station)
        stay = self.stay()
        body = {"label": "A-09", "camera": "A"}
        self.assertEqual(self.post(f"bench/insertions/{stay.pk}/introduce", body).status_code, 200)
        look(self.station)
        roll = self.offload(Card.objects.get(label="A-09"))
        self.assertEqual(roll.files.exclude(checksum="").count(), roll.files.count())
        self.assertGreater(roll.files.count(), 2)
        self.assertEqual(sorted((str(one), one.lstat().st_mtime_ns) for one in folder.rglob("*")), before)
        listed = [one["folder"] for one in self.get("bench/readers") if one["folder"]]
        self.assertEqual(listed, [str(folder)])

    def test_gone_it_is_an_empty_slot_and_said_to_be_none_it_is_no_slot(self):
        folder = self.phone()
        say_folder(self.sol, str(folder), is_reader=True)
        look(self.station)
        self.assertIsNotNone(self.stay())
        shutil.move(folder, self.base / "unplugged")
        look(self.station)
        self.assertIsNone(self.stay())
        self.assertTrue(Reader.objects.filter(port__startswith="folder ", gone_at=None).exists())
        say_folder(self.sol, str(folder), is_reader=False)
        look(self.station)
        self.assertFalse(Reader.objects.filter(port__startswith="folder ", gone_at=None).exists())

    def test_what_can_be_no_card_is_refused(self):
        drive = hub.home() / "drives" / "one"
        for path, words in (
            ("/", "the computer's own"),
            ("/etc", "the computer's own"),
            (str(self.base / "nothing"), "no folder on this machine"),
            ("relative", "folder"),
            (str(drive), "it is a store"),
            (str(drive / "Heron"), "folder|store"),
            (str(hub.home() / "drives"), "it is a store"),
        ):
            with self.subTest(path), self.assertRaisesRegex(ActRefused, words):
                say_folder(self.sol, path, is_reader=True)
        with self.assertRaises(NotPermitted):
            say_folder(self.wren, str(self.phone()), is_reader=True)
