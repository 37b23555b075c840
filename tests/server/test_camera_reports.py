"""Camera reports: taken in, held against the rolls as they are now, and refused with a sentence."""

import base64
import json

from django.test import TestCase

from ruggedraft.camera_reports.models import CameraReport, ReportedLine
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.rolls.models import Roll
from ruggedraft.standins import hub

from .world import World, address

COLUMNS = {"roll": ["Reel"], "clip": ["Clip"], "remark": ["Notes"]}


class CameraReports(World, TestCase):
    def take_in(self, text: str | bytes, name: str = "day-1.csv", columns=COLUMNS, person=None):
        data = text.encode() if isinstance(text, str) else text
        said = {"name": name, "content": base64.b64encode(data).decode(), "columns": columns}
        return self.post("camera-reports", said, person or self.pip)

    def clips(self) -> Roll:
        card, _ = self.new_card("A-02", {f"CLIPS/A002_C00{n}.MOV": bytes([n]) * 50 for n in (1, 2, 8)})
        hub.insert("A-02", "slot-2")
        look(self.station)
        return self.offload(card)

    def test_a_report_is_held_against_the_rolls_whenever_they_come(self):
        self.assertEqual(self.take_in("Reel,Clip,Notes\nA002,1,soft from 03:10\nA002,7,\n").status_code, 200)
        (report,) = self.get("camera-reports")
        self.assertEqual((report["lines"], report["fit"], report["rolls"]), (2, 0, []))
        self.assertEqual({one["kind"] for one in report["mismatches"]}, {"no roll"})
        self.offload()
        self.clips()
        (report,) = self.get("camera-reports")
        self.assertEqual((report["fit"], report["rolls"]), (1, ["A002"]))
        self.assertEqual([one["sentence"] for one in report["mismatches"]], [
            "The report has clip 7, A002 has not.", "A002 has A002_C002, A002_C008, the report has not.",
        ])  # fmt: skip
        told = self.get("camera-reports/rolls/A002")
        self.assertEqual(
            [(one["clip"], one["remark"], one["path"]) for one in told["lines"]],
            [("1", "soft from 03:10", "CLIPS/A002_C001.MOV"), ("7", "", "")],
        )
        self.assertIsNone(self.get("camera-reports/rolls/A001"))

    def test_what_does_not_agree_is_open_on_the_day_and_handed_over(self):
        self.offload()
        roll = self.clips()
        self.take_in("Reel,Clip,Notes\nA002,1,\nA002,2,\nA002,7,\nA002,8,\n")
        words = "The report has clip 7, A002 has not."
        day = self.get(f"days/{roll.shoot_day}")["account"]
        self.assertIn({"subject": "A002", "sentence": words}, day["open"])
        self.assertIn({"kind": "wrong", "subject": "A002", "sentence": words}, self.get("shifts/now"))

    def test_a_newer_report_of_a_roll_counts_and_a_withdrawn_one_does_not(self):
        self.offload()
        self.clips()
        self.take_in("Reel,Clip,Notes\nA002,1,\nA002,7,\n")
        self.take_in("Reel,Clip,Notes\nA002,1,\nA002,2,\nA002,8,\n", "day-1-again.csv")
        newer, older = self.get("camera-reports")
        self.assertEqual((newer["fit"], newer["mismatches"], older["lines"]), (3, [], 0))
        path = f"camera-reports/{newer['id']}"
        self.assertEqual(self.post(path, person=self.wren, method="delete").status_code, 403, "pip took it in")
        self.assertEqual(self.post(path, person=self.pip, method="delete").status_code, 200)
        (older,) = self.get("camera-reports")
        self.assertEqual((older["lines"], older["fit"]), (2, 1))

    def test_columns_are_matched_once_and_proposed_again(self):
        look_at = {"content": base64.b64encode(b"Reel,Clip,Notes\nA002,1,x\n").decode()}
        self.assertEqual(self.post("camera-reports/look", look_at).json()["columns"]["remark"], ["Notes"])
        self.take_in("Reel,Clip,Notes\nA002,1,x\n", columns={"roll": ["Clip"], "clip": ["Reel"]})
        again = self.post("camera-reports/look", look_at).json()
        self.assertEqual(again["columns"], {"roll": ["Clip"], "clip": ["Reel"]})
        self.assertEqual(again["first"], [["A002", "1", "x"]])

    def test_what_is_no_report_is_refused_journalled_and_leaves_nothing(self):
        self.take_in("Reel,Clip,Notes\nA002,1,\n")
        for text, words in (
            (b"\x00\x01", "no text"), (b"PK\x03\x04", "a spreadsheet"), ("Roll,Clip\nA1,1\n", "no column 'Reel'"),
            ("Reel,Clip,Notes\n,,\n,,x\n", "No line of this report"),
            ("Reel,Clip,Notes\nA002,1,\n", "was taken in before"),
            (f"Reel,Clip,Notes\n{'A' * 201},1,\n", "too long to be kept"),
        ):  # fmt: skip
            answer = self.take_in(text)
            self.assertEqual(answer.status_code, 409, answer.content)
            self.assertIn(words, answer.json()["title"])
            last = JournalEntry.objects.filter(act="refused act").latest("pk")
            self.assertIn("Pip wanted to take in a camera report, and was refused", last.sentence)
        self.assertEqual((CameraReport.objects.count(), ReportedLine.objects.count()), (1, 1))

    def test_a_hundred_megabytes_are_refused_with_a_sentence(self):
        body = json.dumps({"name": "a.csv", "content": "A" * 100_000_000, "columns": COLUMNS})
        client = self._same_client(self.pip)
        answer = client.post(address("camera-reports"), body, "application/json", headers={"host": "localhost"})
        self.assertEqual(answer.status_code, 413, answer.content[:200])
        self.assertIn("This is too much at once", answer.json()["title"])
        self.assertEqual(CameraReport.objects.count(), 0)

    def test_html_and_formulas_stay_the_words_that_they_are(self):
        self.offload()
        self.clips()
        self.take_in('Reel,Clip,Notes\nA002,1,"<img src=x onerror=alert(1)>=cmd()"\n')
        told = self.get("camera-reports/rolls/A002")
        self.assertEqual(told["lines"][0]["remark"], "<img src=x onerror=alert(1)>=cmd()")
