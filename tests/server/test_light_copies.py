"""Light copies are made of verified copies behind everything else, are played in stretches, and are never copies."""

import threading
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.core.pictures import CannotBeShown, PictureKind
from ruggedraft.intake.watching import look
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.pictures.caring import keep_within, take_in_parcels
from ruggedraft.pictures.making import lighten_next, make_due
from ruggedraft.pictures.models import FileSeen, Parcel, Picture
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.standins import card_maker, hub
from tests.recorder import recorded

from .world import SHOT, World

LIGHT = PictureKind.LIGHT


RECORDING = ("-f", "lavfi", "-i", "testsrc2=s=320x240:r=25:d=1", "-c:v", "mjpeg")


class LightCopies(World, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        self.recording = recorded("a.mov", *RECORDING)
        for name, content in {"C001.MOV": self.recording, "C002.MOV": self.recording[:3000]}.items():
            card_maker.add_file(self.card_folder, f"CLIP/{name}", content, SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.roll = self.offload()
        self.stop = threading.Event()
        make_due(self.station, self.stop)

    def lighten(self) -> int:
        count = 0
        while lighten_next(self.station, self.stop):
            count += 1
        return count

    def clips(self) -> dict[str, dict]:
        return {one["path"].rpartition("/")[2]: one for one in self.get("footage/rolls/A001/clips")["clips"]}

    def played(self, clip: dict, **headers: str):
        return self.at(clip, "light", **headers)

    def at(self, clip: dict, what: str, **headers: str):
        address = f"/api/productions/heron/footage/rolls/A001/clips/{clip['id']}/{what}"
        return self._same_client(None).get(address, headers={"host": "localhost", **headers})

    def test_one_is_made_of_each_recording_that_can_be_shown_and_is_counted_as_no_copy(self):
        copies = Copy.objects.count()
        self.assertEqual(self.played(self.clips()["C001.MOV"]).status_code, 404)
        self.assertEqual((self.lighten(), self.lighten()), (2, 0))
        whole, cut = (self.clips()[name] for name in ("C001.MOV", "C002.MOV"))
        answer = self.played(whole)
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "video/mp4"))
        self.assertEqual(answer.content[4:8], b"ftyp")
        self.assertNotIn("light", cut["pictures"])
        self.assertEqual((whole["light_note"], bool(cut["light_note"])), ("", True))
        self.assertEqual((Copy.objects.count(), RollFile.objects.count()), (copies, 2))

    def test_a_stretch_of_it_is_what_a_player_asks_for(self):
        """RFC 9110, section 14.1.2, its kinds of ranges."""
        self.lighten()
        clip = self.clips()["C001.MOV"]
        whole = self.played(clip).content
        size = len(whole)
        for asked, first, end in (
            ("0-99", 0, 100),
            ("100-", 100, size),
            ("-50", size - 50, size),
            ("0-999999999", 0, size),
        ):
            with self.subTest(asked):
                answer = self.played(clip, range=f"bytes={asked}")
                self.assertEqual((answer.status_code, answer.content), (206, whole[first:end]))
                self.assertEqual(answer["Content-Range"], f"bytes {first}-{end - 1}/{size}")
        for asked in (f"{size}-", "9-3", "-", "-0"):
            with self.subTest(asked):
                answer = self.played(clip, range=f"bytes={asked}")
                self.assertEqual((answer.status_code, answer["Content-Range"]), (416, f"bytes */{size}"))
        for asked in ("bytes=0-1,5-6", "frames=0-1", "bytes=0-\u0661"):
            with self.subTest(asked):
                self.assertEqual(self.played(clip, range=asked).status_code, 200)

    def test_a_card_that_is_being_offloaded_comes_first(self):
        other, folder = self.new_card("A-02", {})
        card_maker.add_file(folder, "CLIP/D001.MOV", self.recording, SHOT)
        hub.insert("A-02", "slot-2")
        look(self.station)
        start_offload(self.wren, other, propose(other).tag)
        self.assertEqual(self.lighten(), 0)
        self.assertFalse(FileSeen.objects.exclude(light_at=None).exists())

    def test_one_that_made_room_is_made_again_when_somebody_wants_it(self):
        self.lighten()
        keep_within(1)
        self.assertFalse(Picture.objects.filter(kind=LIGHT).exists())
        self.assertEqual(self.lighten(), 0, "nobody wants it")
        forgotten = {name: one["light_forgotten"] for name, one in self.clips().items()}
        self.assertEqual(forgotten, {"C001.MOV": True, "C002.MOV": False})
        self.assertEqual(self.played(self.clips()["C001.MOV"]).status_code, 404)
        self.assertEqual(self.lighten(), 1)
        self.assertEqual(self.played(self.clips()["C001.MOV"]).status_code, 200)
        self.assertEqual(self.played(self.clips()["C002.MOV"]).status_code, 404)
        self.assertEqual(self.lighten(), 0, "what cannot be played is not tried again each time it is asked for")

    def test_while_no_copy_is_at_hand_nothing_is_said_of_it(self):
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        look(self.station)
        self.assertEqual(self.lighten(), 0)
        self.assertEqual({one["light_note"] for one in self.clips().values()}, {""})

    def test_a_drive_that_goes_in_the_middle_says_nothing_of_the_recording(self):
        def pulled(*_, **__):
            for name in ("one", "two"):
                if (hub.home() / "drives" / name).exists():
                    (hub.home() / "drives" / name).rename(self.base / name)
            raise CannotBeShown("it cannot be decoded")

        with patch("ruggedraft.pictures.making.light_copy", side_effect=pulled):
            self.assertEqual(self.lighten(), 0)
        self.assertFalse(FileSeen.objects.exclude(light_at=None).exists())
        for name in ("one", "two"):
            (self.base / name).rename(hub.home() / "drives" / name)
        with patch("ruggedraft.pictures.queries.pixels", side_effect=pulled):
            answer = self.at(self.clips()["C001.MOV"], "pixels")
        self.assertEqual((answer.status_code, "Connect a drive" in answer.json()["title"]), (404, True))

    def test_a_full_disk_says_nothing_of_the_recording(self):
        with patch("ruggedraft.core.pictures.light.shutil.disk_usage") as usage, self.assertRaises(OSError):
            usage.return_value.free = 1000
            self.lighten()
        self.assertFalse(FileSeen.objects.exclude(light_at=None).exists())
        self.assertEqual(self.lighten(), 2)

    def test_a_station_on_another_machine_sends_it(self):
        self.station.role = "raft_station_1"
        self.station.save()
        self.lighten()
        self.assertTrue(Parcel.objects.exists())
        clip = self.clips()["C001.MOV"]
        sent = self.played(clip).content
        take_in_parcels()
        self.assertEqual((self.played(clip).content, Parcel.objects.exists()), (sent, False))
