"""Pictures are made of verified copies, stay when every drive is away, and are only ever for looking at."""

import io
import threading
from unittest.mock import patch

from django.test import TestCase
from PIL import Image, ImageChops, ImageStat

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.pictures import PictureKind
from ruggedraft.intake.watching import look
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.pictures import queries
from ruggedraft.pictures.caring import keep_within, take_in_parcels
from ruggedraft.pictures.keeping import pictures_kept
from ruggedraft.pictures.making import make_due
from ruggedraft.pictures.models import FileSeen, Parcel, Picture
from ruggedraft.rolls.models import Reading, ReadingResult, Roll, RollFile
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import media

from .world import SHOT, World

SMALL, LARGE = PictureKind.SMALL, PictureKind.LARGE


class Pictures(World, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        self.still = media.jpeg("mudlark", SHOT, model="Tern", size=(2400, 1600))
        files = {
            "DCIM/100AAAAA/AAAA0001.JPG": self.still,
            "DCIM/100AAAAA/AAAA0002.JPG": self.still[: len(self.still) // 2],
            "DCIM/100AAAAA/AAAA0003.JPG": media.jpeg("hen", SHOT, model="Tern"),
        }
        for path, content in files.items():
            card_maker.add_file(self.card_folder, path, content, SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)

    def make(self) -> int:
        return make_due(self.station, threading.Event())

    def clips(self) -> dict[str, dict]:
        found = self.get("footage/rolls/A001/clips")
        self.assertIsNone(found["after"])
        return {one["path"].rpartition("/")[2]: one for one in found["clips"]}

    def shown(self, clip: dict, kind: PictureKind):
        path = f"footage/rolls/A001/clips/{clip['id']}/{kind}"
        address = f"/api/productions/heron/{path}"
        return self._same_client(None).get(address, headers={"host": "localhost"})

    def test_they_are_there_while_every_drive_is_away(self):
        self.offload()
        self.assertEqual(
            {(one["gone_through"], bool(one["pictures"])) for one in self.clips().values()}, {(False, False)}
        )
        self.assertEqual(self.make(), 3)
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        clips = self.clips()
        answer = self.shown(clips["AAAA0001.JPG"], LARGE)
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))
        self.assertIn("immutable", answer["Cache-Control"])
        picture = Image.open(io.BytesIO(answer.content))
        own = Image.open(io.BytesIO(self.still)).convert("RGB").resize(picture.size)
        self.assertLess(max(ImageStat.Stat(ImageChops.difference(picture, own)).mean), 3)
        broken = clips["AAAA0002.JPG"]
        self.assertEqual(
            (broken["pictures"], broken["note"], broken["gone_through"]), ({}, "it cannot be decoded", True)
        )
        self.assertEqual(self.shown(broken, SMALL).status_code, 404)
        self.assertEqual(self.make(), 0, "each is gone through once")

    def test_a_roll_that_was_gone_through_is_asked_about_no_more_until_it_grows(self):
        roll = self.offload()
        self.make()
        self.assertEqual(self.make(), 0)
        with patch("ruggedraft.pictures.due._not_gone_through") as asked:
            self.make()
        asked.assert_not_called()
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0009.JPG", self.still, SHOT)
        self.look_at_everything()
        self.assertEqual(self.offload(), roll)
        self.assertEqual(self.make(), 1)

    def test_a_broken_picture_says_nothing_of_the_copy(self):
        roll = self.offload()
        before = self.standing()["standing"], ReadingResult.objects.count()
        self.make()
        self.assertEqual((self.standing()["standing"], ReadingResult.objects.count()), before)
        self.assertEqual(roll.files.count(), 3)

    def test_nothing_is_made_of_what_was_not_read_back(self):
        self.offload()
        Reading.objects.update(level=Evidence.WRITTEN)
        self.assertEqual(self.make(), 0)
        Reading.objects.update(level=Evidence.READ_BACK)
        path = self.on_drive("one") / "DCIM/100AAAAA/AAAA0001.JPG"
        path.chmod(0o644)
        path.write_bytes(b"another one")
        self.look_at_everything()
        self.assertEqual(self.make(), 3, "from the other copy")
        self.assertEqual(self.shown(self.clips()["AAAA0001.JPG"], LARGE).status_code, 200)

    def test_a_file_of_another_size_is_not_looked_at(self):
        self.offload()
        name = "DCIM/100AAAAA/AAAA0001.JPG"
        for drive in ("one", "two"):
            path = self.on_drive(drive) / name
            path.chmod(0o644)
            path.write_bytes(b"another one")
        self.assertEqual(self.make(), 3, "and keeps none of the others waiting")
        self.assertFalse(Picture.objects.filter(file__path=name).exists())
        self.assertIn("as it was taken", self.clips()["AAAA0001.JPG"]["note"])

    def test_what_one_copy_has_lost_is_seen_on_the_other(self):
        self.offload()
        path = self.on_drive("one") / "DCIM/100AAAAA/AAAA0001.JPG"
        path.unlink()
        self.make()
        self.assertEqual(set(self.clips()["AAAA0001.JPG"]["pictures"]), {"small", "large"})

    def test_a_card_that_is_being_offloaded_comes_first(self):
        self.offload()
        other, folder = self.new_card("A-02", {})
        card_maker.add_file(folder, "DCIM/100AAAAA/BBBB0001.JPG", self.still, SHOT)
        hub.insert("A-02", "slot-2")
        look(self.station)
        start_offload(self.wren, other, propose(other).tag)
        self.assertEqual(self.make(), 0)
        Offload.objects.filter(finished_at=None).update(finished_at=SHOT)
        self.assertEqual(self.make(), 3)

    def test_one_that_was_lost_or_damaged_is_made_again(self):
        self.offload()
        self.make()
        clip = self.clips()["AAAA0001.JPG"]
        kept = pictures_kept()
        place = kept._place(clip["pictures"]["large"])
        place.write_bytes(b"\x00" + place.read_bytes()[1:])
        answer = self.shown(clip, LARGE)
        self.assertEqual(answer.status_code, 404)
        self.assertIn("made again", answer.json()["title"])
        self.assertEqual(self.make(), 1)
        self.assertEqual(self.shown(clip, LARGE).status_code, 200)

    def test_large_ones_that_nobody_looked_at_make_room_and_small_ones_stay(self):
        self.offload()
        self.make()
        looked_at, other = self.clips()["AAAA0001.JPG"], self.clips()["AAAA0003.JPG"]
        Picture.objects.update(at=SHOT)
        self.assertEqual(self.shown(looked_at, LARGE).status_code, 200)
        all_of_it = sum(Picture.objects.values_list("size", flat=True))
        self.assertEqual(keep_within(all_of_it), 0)
        self.assertEqual(keep_within(all_of_it - 1), 1)
        self.assertEqual(set(self.clips()["AAAA0001.JPG"]["pictures"]), {"small", "large"})
        self.assertEqual(set(self.clips()["AAAA0003.JPG"]["pictures"]), {"small"})
        self.assertIsNone(pictures_kept().get(other["pictures"]["large"]))
        self.assertEqual(keep_within(0), 1)
        self.assertEqual({one.kind for one in Picture.objects.all()}, {"small"})
        self.assertEqual(self.shown(other, LARGE).status_code, 404)
        self.assertEqual(self.make(), 1, "who wants to see it gets it again")
        self.assertEqual(self.shown(other, LARGE).status_code, 200)

    def test_a_station_on_another_machine_sends_them(self):
        self.offload()
        self.station.role = "elsewhere"
        self.make()
        self.assertEqual(list(pictures_kept().all()), [])
        clip = self.clips()["AAAA0001.JPG"]
        on_its_way = self.shown(clip, SMALL)
        self.assertEqual(on_its_way.status_code, 200)
        self.assertEqual(take_in_parcels(), 4)
        self.assertFalse(Parcel.objects.exists())
        self.assertEqual(self.shown(clip, SMALL).content, on_its_way.content)

    def test_the_same_picture_is_kept_once_and_as_long_as_somebody_has_it(self):
        self.offload()
        self.make()
        first = Picture.objects.get(kind="large", file__path__endswith="0001.JPG")
        twin = RollFile.objects.get(path__endswith="0002.JPG")
        Picture.objects.create(file=twin, kind="large", digest=first.digest, size=first.size, at=SHOT)
        Picture.objects.filter(pk=first.pk).update(at=SHOT)
        self.assertEqual(keep_within(sum(Picture.objects.values_list("size", flat=True)) - 1), 1)
        self.assertIsNotNone(pictures_kept().get(first.digest))

    def test_a_picture_is_asked_for_under_its_own_roll(self):
        self.offload()
        self.make()
        clip = self.clips()["AAAA0001.JPG"]
        other = Roll.objects.get(tag="A001")
        Roll.objects.filter(pk=other.pk).update(tag="A009", number=9)
        other.pk = None
        other.save(force_insert=True)
        self.assertEqual(self.shown(clip, SMALL).status_code, 404)

    def test_a_full_disk_leaves_nothing_half_kept(self):
        self.offload()
        full = OSError(28, "No space left on device")
        with patch("pathlib.Path.replace", side_effect=full), self.assertRaises(OSError):
            self.make()
        self.assertFalse(FileSeen.objects.exists())
        self.assertEqual(list(pictures_kept().all()), [])
        self.assertEqual(self.make(), 3)

    def pixels(self, name: str, words: str = ""):
        path = f"footage/rolls/A001/clips/{self.clips()[name]['id']}/pixels{words}"
        return self._same_client(None).get(f"/api/productions/heron/{path}", headers={"host": "localhost"})

    def test_a_still_is_seen_pixel_for_pixel_while_a_verified_copy_is_connected(self):
        self.offload()
        answer = self.pixels("AAAA0001.JPG", "?x=0&y=1")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/png"))
        own = Image.open(io.BytesIO(self.still)).convert("RGB").crop((0, 1060, 960, 1600))
        self.assertIsNone(ImageChops.difference(Image.open(io.BytesIO(answer.content)), own).getbbox())
        refused = self.pixels("AAAA0002.JPG")
        self.assertEqual((refused.status_code, "cannot be decoded" in refused.json()["title"]), (409, True))
        for words in ("?x=1.5", "?x=nan", "?y=-1", "?at=inf"):
            self.assertEqual(self.pixels("AAAA0001.JPG", words).status_code, 422, words)
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        away = self.pixels("AAAA0001.JPG")
        self.assertEqual((away.status_code, "Connect a drive" in away.json()["title"]), (404, True))

    def test_where_many_look_pixel_for_pixel_those_who_cannot_wait_are_told(self):
        self.offload()
        with patch("ruggedraft.pictures.queries._PATIENCE_S", 0.01), queries._AT_ONCE, queries._AT_ONCE:
            answer = self.pixels("AAAA0001.JPG")
        self.assertEqual((answer.status_code, "Try again" in answer.json()["title"]), (409, True))
        self.assertEqual([self.pixels(f"AAAA000{n}.JPG").status_code for n in (2, 2, 2, 1)], [409, 409, 409, 200])

    def test_what_is_no_verified_copy_is_not_shown_pixel_for_pixel(self):
        self.offload()
        Reading.objects.update(level=Evidence.WRITTEN)
        self.assertEqual(self.pixels("AAAA0001.JPG").status_code, 404)
