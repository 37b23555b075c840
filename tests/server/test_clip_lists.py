"""Clips for editing: a table for spreadsheets, a timeline that OpenTimelineIO reads; lengths as ffprobe has them."""

import csv
import io
import json
import subprocess
from urllib.parse import unquote

import opentimelineio as otio
from django.test import TestCase

from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.watching import look
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins import card_maker, hub
from tests.recorder import recorded

from .world import SHOT, World, address

NAMES = ("CLIPS/B2.MOV", "CLIPS/A 1%.MOV")


class ClipLists(World, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        for n, (name, code) in enumerate(zip(NAMES, ("09:00:00:00", "10:00:00:00"), strict=True)):
            words = ("-f", "lavfi", "-i", f"testsrc2=s=160x90:r=25:d={n + 1}", "-c:v", "mjpeg", "-timecode", code)
            card_maker.add_file(self.card_folder, name, recorded("a.mov", *words), SHOT)
        card_maker.add_file(self.card_folder, "=SUM(1).TXT", b"x", SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        read_headers(CardListing.objects.latest("pk"))
        self.roll = self.offload()

    def sent(self, kind: str) -> bytes:
        client = self.client_for(self.wren)
        answer = client.get(address(f"reports/rolls/A001/clips.{kind}"), headers={"host": "localhost"})
        self.assertEqual(answer.status_code, 200)
        self.assertIn(f"A001-clips.{kind}", answer["Content-Disposition"])
        return answer.content

    def frames(self, path: str) -> int:
        """As ffprobe counts them."""
        said = ["ffprobe", "-v", "error", "-count_frames", "-select_streams", "v", "-show_entries",
                "stream=nb_read_frames", "-of", "json", str(self.card_folder / path)]  # fmt: skip
        told = json.loads(subprocess.run(said, check=True, capture_output=True, text=True).stdout)
        return int(told["streams"][0]["nb_read_frames"])

    def test_the_table_has_a_line_a_clip_with_its_place_on_every_store(self):
        rows = list(csv.DictReader(io.StringIO(self.sent("csv").decode("utf-8-sig"))))
        of = {row["clip"]: row for row in rows}
        self.assertEqual(len(rows), 2)
        for path in NAMES:
            row = next(one for one in rows if one["file"].endswith(path))
            for store in ("one", "two"):
                there = hub.home() / "drives" / store / row["file"]
                self.assertEqual(there.read_bytes(), (self.card_folder / path).read_bytes())
            file = RollFile.objects.get(path=path)
            self.assertEqual((row["checksum"], row["bytes"]), (f"xxh128:{file.checksum}", str(file.size)))
            self.assertEqual(float(row["seconds"]) * 25, self.frames(path))
        self.assertEqual({row["timecode"] for row in of.values()}, {"09:00:00:00", "10:00:00:00"})

    def test_the_timeline_opens_and_every_recording_is_there_in_whole(self):
        timeline = otio.adapters.read_from_string(self.sent("otio").decode(), "otio_json")
        clips = list(timeline.find_clips())
        self.assertEqual(len(clips), 2)
        for clip in clips:
            place = unquote(clip.media_reference.target_url)
            path = next(one for one in NAMES if place.endswith(one))
            self.assertTrue((hub.home() / "drives" / "one" / place).is_file())
            self.assertEqual(clip.source_range, clip.media_reference.available_range)
            self.assertEqual((clip.duration().value, clip.duration().rate), (self.frames(path), 25))
            begins = otio.opentime.to_timecode(clip.source_range.start_time, 25)
            self.assertEqual(begins, "09:00:00:00" if path == NAMES[0] else "10:00:00:00")

    def test_a_roll_that_is_not_there_is_not_there(self):
        client = self.client_for(self.wren)
        answer = client.get(address("reports/rolls/Z999/clips.csv"), headers={"host": "localhost"})
        self.assertEqual(answer.status_code, 404)
