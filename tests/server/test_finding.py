"""What one box finds: the same as reading every name and word would, and how to get to it while every drive is away."""

import base64
import random
from unittest.mock import patch
from urllib.parse import urlencode

from django.db import connection
from django.test import TestCase, TransactionTestCase

from ruggedraft.core.cards.media import MediaFacts, MediaKind
from ruggedraft.core.sources import from_ledger
from ruggedraft.finding import files as file_search
from ruggedraft.footage.models import Media
from ruggedraft.footage.queries import gear_named
from ruggedraft.intake.watching import look
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import FileMedia, FileName, Roll, RollFile
from ruggedraft.rolls.names import keep_names
from ruggedraft.standins import hub
from ruggedraft.stores.acts.sight_stores import sight_stores

from .world import World

NAMES = ("AAAA0001.JPG", "AAAA0002.JPG", "zero", "line\\nbreak \\\\ caf\\xe9")


class Asking(World):
    def find(self, text: str, **more: str) -> dict:
        return self.get(f"find?{urlencode({'text': text, **more})}")

    def names(self, text: str, **more: str) -> list[str]:
        """Of all pages."""
        found, after = [], ""
        while after is not None:
            page = self.find(text, after=after, **more)
            found += [f"{one['tag']}/{one['clip']['path'].rpartition('/')[2]}" for one in page["files"]]
            after = page["after"]
        return found

    def second_roll(self) -> Roll:
        card, _ = self.new_card("B-07", {"CLIPS/Bärge_001.MOV": b"one", "CLIPS/100%_sharp.MOV": b"two"})
        hub.insert(card.label, "slot-2")
        look(self.station)
        return self.offload(card)


class Finding(Asking, TestCase):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()

    def test_every_word_must_stand_in_the_name_or_in_its_roll_card_camera_or_day(self):
        self.second_roll()
        self.assertEqual(self.names("aaaa"), ["A001/AAAA0001.JPG", "A001/AAAA0002.JPG"])
        for text in ("AAAA0002", "0002 a001", "0002 halyard", "0002 a", "0002 2026-05-14", '0002 "A-01"', "0002 a01"):
            self.assertEqual(self.names(text), ["A001/AAAA0002.JPG"], text)
        for text in ("0002 a002", "0002 9999", "aaaa b-07", "0002 2026-05-15", "00", "", "  ", '""'):
            self.assertEqual(self.names(text), [], text)

    def test_a_roll_does_not_bring_all_its_files_along(self):
        found = self.find("A001")
        self.assertEqual([one["name"] for one in found["things"]], ["A001"])
        self.assertEqual(found["files"], [])

    def test_signs_of_patterns_and_letters_with_marks_are_looked_for_as_they_stand(self):
        self.second_roll()
        self.assertEqual(self.names("100%_"), ["A002/100%_sharp.MOV"])
        self.assertEqual(self.names("0%s"), [])
        self.assertEqual(self.names("bÄRGE"), ["A002/Bärge_001.MOV"])
        self.assertEqual(self.names("BA\u0308RGE"), ["A002/Bärge_001.MOV"])

    def test_it_is_narrowed_by_day_camera_and_store(self):
        self.assertEqual(len(self.names("aaaa", camera="A", day="2026-05-14", on="one", not_on="three")), 2)
        for narrowed in ({"camera": "B"}, {"day": "2026-05-15"}, {"on": "three"}, {"not_on": "two"}):
            self.assertEqual(self.names("aaaa", **narrowed), [], narrowed)

    def test_another_production_s_files_are_not_found(self):
        other = Production.objects.create(name="Other", first_day=self.production.first_day)
        Roll.objects.update(production=other)
        self.assertEqual(self.names("aaaa"), [])

    def test_how_to_get_to_it_is_told_while_every_drive_is_away(self):
        [near, _] = self.find("0001")["files"][0]["places"]
        self.assertEqual((near["store"], near["connected"], near["where"]), ("one", True, "cart, connected"))
        self.assertEqual(near["path"], "Heron/2026-05-14/A001/DCIM/100AAAAA/AAAA0001.JPG")
        self.assertTrue((hub.home() / "drives" / "one" / from_ledger(near["path"])).is_file())
        drives = hub.home() / "drives"
        for name in ("one", "two"):
            drives.joinpath(name).rename(drives / f"{name} unplugged")
        sight_stores(self.station)
        [file] = self.find("0001")["files"]
        self.assertEqual([(one["store"], one["connected"]) for one in file["places"]], [("one", False), ("two", False)])
        self.assertEqual({one["where"] for one in file["places"]}, {"cart, not connected"})

    def test_only_what_holds_the_file_is_named_and_what_was_lost_comes_last_and_says_so(self):
        self.on_drive("two", self.roll).joinpath("DCIM/100AAAAA/AAAA0001.JPG").unlink()
        self.check(self.roll, "two")
        self.assertEqual([one["store"] for one in self.find("0001")["files"][0]["places"]], ["one"])
        self.assertEqual([one["store"] for one in self.find("0002")["files"][0]["places"]], ["one", "two"])
        self.post("stores/one/lost", {"reason": "left on the train"}, self.sol)
        places = self.find("0002")["files"][0]["places"]
        self.assertEqual([(one["store"], one["lost"]) for one in places], [("two", False), ("one", True)])
        self.assertEqual((places[1]["where"], places[1]["connected"]), ("reported lost", False))

    def test_what_was_never_read_off_its_card_is_on_no_store(self):
        RollFile.objects.filter(path__endswith="0001.JPG").update(checksum="")
        [file] = self.find("0001")["files"]
        self.assertEqual((file["unread"], file["places"]), (True, []))

    def test_a_file_is_found_by_the_camera_and_lens_that_made_it(self):
        for n, (name, lens) in enumerate((("0001", "Fine 50mm"), ("0002", "Fine 85mm"))):
            facts = MediaFacts(MediaKind.STILL, body="Tern", lens=lens)
            gear = gear_named([facts.gear])[facts.gear]
            media = Media.objects.create(facts=facts.as_data(), gear_id=gear)
            file = RollFile.objects.get(path__endswith=f"{name}.JPG")
            FileMedia.objects.update_or_create(file=file, defaults={"media": media})
            self.assertEqual(self.names(f"{50 + 35 * n}mm"), [f"A001/AAAA{name}.JPG"])
        self.assertEqual(self.names("tern"), ["A001/AAAA0001.JPG", "A001/AAAA0002.JPG"])
        self.assertEqual(self.names('"fine 50mm"'), ["A001/AAAA0001.JPG"])
        self.assertEqual((self.names("tern 0002"), self.names("50mm 0002")), (["A001/AAAA0002.JPG"], []))

    def test_what_somebody_wrote_is_found_by_their_name(self):
        self.post("notes", {"on": "roll", "name": "A001", "words": "afloat"})
        self.assertEqual([one["words"] for one in self.find("wren")["said"]], ["afloat"])
        self.assertEqual(self.find("sol")["said"], [])

    def test_words_of_notes_marks_and_reports_are_found_by_how_they_begin(self):
        path = "DCIM/100AAAAA/AAAA0001.JPG"
        self.post("notes", {"on": "roll", "name": "A001", "words": "Barge afloat; it's o'clock", "clip": path})
        self.post("notes", {"on": "card", "name": "A-01", "words": "sticky contacts"})
        self.post("choosing/rolls/A001/marks", {"path": path, "kind": "soft", "words": "focusing late"})
        for text, where in (("float", []), ("afl", ["note"]), ("focus", ["mark"]), ("soft a001", ["mark"]),
                            ("sticky a-01", ["note"]), ("o'clock", ["note"]), ("sticky b-09", [])):  # fmt: skip
            self.assertEqual([one["where"] for one in self.find(text)["said"]], where, text)
        self.assertEqual(self.names("afloat"), ["A001/AAAA0001.JPG"], "what is said of a clip finds the clip")
        self.assertEqual(self.names("focused 0001"), ["A001/AAAA0001.JPG"])
        self.assertEqual(self.names("sticky"), [])
        [note] = self.find("afloat")["said"]
        self.assertEqual((note["on"], note["name"], note["clip"], note["by"]), ("roll", "A001", path, "Wren"))
        withdrawn = next(one["id"] for one in self.get("notes") if one["words"] == note["words"])
        self.post(f"notes/{withdrawn}", method="delete")
        self.assertEqual((self.find("afloat")["said"], self.names("afloat")), ([], []))

    def test_a_line_of_a_report_is_found_and_nothing_of_one_that_was_withdrawn(self):
        table = "Roll,Clip,Scene,Take,Remarks\nA001,AAAA0001,12B,3,gull in frame\n"
        self.report(table)
        [line] = self.find("gull")["said"]
        self.assertEqual((line["where"], line["name"], line["clip"]), ("report", "A001", "AAAA0001"))
        self.assertEqual(len(self.find("12b a001")["said"]), 1)
        self.post(f"camera-reports/{self.get('camera-reports')[0]['id']}", method="delete")
        self.assertEqual(self.find("gull")["said"], [])

    def report(self, table: str) -> None:
        columns = {"roll": ["Roll"], "clip": ["Clip"], "scene": ["Scene"], "take": ["Take"], "remark": ["Remarks"]}
        content = base64.b64encode(table.encode()).decode()
        self.post("camera-reports", {"name": "day1.csv", "content": content, "columns": columns})

    def test_nonsense_is_answered_and_breaks_nothing(self):
        for text in ("'", "''':*", "\\", "%%%", "a & | ! ( b", "<->", ":*", "\u202e\u0000"[:1] + "abc", "ä" * 200,
                     "Robert'); DROP TABLE rolls_roll;--", '"', '"unfinished', " ".join("abcdefgh")):  # fmt: skip
            self.assertIn("files", self.find(text), text)
        self.assertEqual(len(self.find("aaaa", after="nonsense/x")["files"]), 0)
        for text, words in (("x" * 10_000, "at most 200 signs"), ("a b c d e f g h i", "at most 8 words")):
            refused = self.find(text)
            self.assertEqual(refused["status"], 409)
            self.assertIn(words, refused["title"])

    def test_more_than_a_thousand_are_said_to_be_more_and_are_not_called_all(self):
        with patch.object(file_search, "MOST", 1):
            found = self.find("aaaa")
        self.assertEqual((found["files_in_all"], found["files_more"], len(found["files"])), (1, True, 1))
        found = self.find("aaaa")
        self.assertEqual((found["files_in_all"], found["files_more"]), (2, False))

    def test_what_is_found_is_the_same_before_and_after_names_are_kept_and_when_some_are_behind(self):
        texts = ("aaaa", "0001 a001", "bärge", "sharp a002", "zero", "caf")
        before = {text: self.names(text) for text in texts}
        self.assertEqual((keep_names(), keep_names()), (1, 0))
        self.assertEqual({text: self.names(text) for text in texts}, before)
        self.second_roll()
        both = {text: self.names(text) for text in texts}
        self.assertEqual(both["bärge"], ["A002/Bärge_001.MOV"], "of a roll that is behind")
        self.assertEqual(keep_names(), 1)
        self.assertEqual({text: self.names(text) for text in texts}, both)
        RollFile.objects.filter(path="zero").update(kept_as="kept/renamed.MOV")
        self.assertEqual(self.names("renamed"), ["A001/zero"], "its roll's content changed: it is read itself")
        keep_names()
        self.assertEqual(self.names("renamed"), ["A001/zero"])
        self.assertEqual(FileName.objects.count(), RollFile.objects.count())

    def test_everything_is_reached_page_by_page_and_once(self):
        take = self.roll.takes.get()
        RollFile.objects.bulk_create(
            RollFile(roll=self.roll, take=take, path=f"X/MANY{n:04}.MOV", size=1, modified_ns=1) for n in range(60)
        )
        self.assertEqual(self.names("many"), [f"A001/MANY{n:04}.MOV" for n in range(60)])

    def test_found_is_what_a_naive_scan_of_every_name_finds(self):
        """The reference reads every name and looks for the words in it with Python's own `in`."""
        rng = random.Random(5)
        take = self.roll.takes.get()
        names = {"".join(rng.choices("ab0_%.é", k=rng.randrange(3, 9))) for _ in range(400)}
        RollFile.objects.bulk_create(
            RollFile(roll=self.roll, take=take, path=f"X/{name}", size=1, modified_ns=1,
                     kept_as="" if n % 3 else f"kept/{name[::-1]}")
            for n, name in enumerate(sorted(names))
        )  # fmt: skip
        texts = {
            file.path.rpartition("/")[2]: f"{file.path.rpartition('/')[2]} {file.kept_as.rpartition('/')[2]}"
            for file in RollFile.objects.all()
        }
        found_any = 0
        for n in range(150):
            if n == 75:
                self.assertEqual(keep_names(), 1)
            words = ["".join(rng.choices("ab0_%.é", k=rng.choice((3, 3, 4)))) for _ in range(rng.choice((1, 1, 2)))]
            expected = _naively(texts, words)
            self.assertEqual(sorted(name[5:] for name in self.names(" ".join(words))), expected, words)
            found_any += bool(expected)
        self.assertGreater(found_any, 50, "else nothing was compared")


def _naively(texts: dict[str, str], words: list[str]) -> list[str]:
    return sorted(name for name, text in texts.items() if all(word in text.lower() for word in words))


class TakesTooLong(Asking, TransactionTestCase):
    def test_a_search_that_takes_too_long_is_given_up_and_the_rest_is_answered(self):
        self.offload()
        slow = "pg_sleep(1) IS NULL OR n.names LIKE %s"
        with patch.object(file_search, "_PATIENCE_MS", 50), patch.object(file_search, "_NAMED", slow):
            found = self.find("A001 zero")
        self.assertEqual((found["gave_up"], found["files"]), (True, []))
        with connection.cursor() as cursor:
            cursor.execute("SHOW statement_timeout")
            self.assertEqual(cursor.fetchone(), ("0",))
        self.assertEqual(self.names("zero"), ["A001/zero"])
