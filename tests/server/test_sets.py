"""Rolls divided among discs and tapes: folders that fit, indexes and labels that say what is on them."""

import csv
import io
import shutil
import subprocess
from pathlib import Path
from unittest.mock import patch

import pikepdf
from django.test import TestCase

from ruggedraft.checks.models import CheckRun
from ruggedraft.checks.running import carry_out as run_check
from ruggedraft.journal.models import JournalEntry
from ruggedraft.returning.models import Return
from ruggedraft.returning.running import carry_out
from ruggedraft.rolls.models import RollFile
from ruggedraft.sets.acts import take_medium_in
from ruggedraft.sets.models import MediaSet, VolumeRoll
from ruggedraft.standins.drives import make_drive
from ruggedraft.stores.models import Store

from .deciding import Deciding

CD = "CD, 700 MB"


class Sets(Deciding, TestCase):
    def roll(self, label: str, sizes: dict[str, int]) -> str:
        """A roll whose files pretend to be of these sizes: what is divided is what the ledger knows."""
        card, _ = self.new_card(label, {path: path.encode() for path in sizes})
        self.put_in(label, "slot-2")
        made = self.offload(card)
        for path, size in sizes.items():
            RollFile.objects.filter(roll=made, path=path).update(size=size)
        return made.tag

    def divide(self, *tags: str, status: int = 200, person=None, **words) -> dict:
        answer = self.post("sets", {"tags": tags, "medium": CD, **words}, person)
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def media(self, n: int = 0) -> list[dict]:
        return self.get("sets")["sets"][n]["volumes"]

    def paths_on(self, number: int) -> set[str]:
        ids = [pk for of in VolumeRoll.objects.filter(volume__number=number) for pk in of.files]
        return set(RollFile.objects.filter(pk__in=ids).values_list("path", flat=True))

    def test_clips_and_pairs_stay_together_and_everything_fits(self):
        stills = {f"DCIM/100AAAAA/AAAA{n:04}.{kind}": 90_000_000 for n in range(1, 9) for kind in ("JPG", "RAF")}
        tag = self.roll("A-02", stills)
        self.divide(tag)
        volumes = self.media()
        self.assertEqual([one["files"] for one in volumes], [6, 6, 4])
        for one in volumes:
            self.assertLess(one["takes"], one["room"])
            names = {path.rpartition(".")[0] for path in self.paths_on(one["number"])}
            self.assertEqual(len(names) * 2, one["files"], "no picture is divided")
        self.assertEqual(sum(one["bytes"] for one in volumes), 16 * 90_000_000)
        self.assertEqual(volumes[0]["name"], "SET01-01")

    def test_a_roll_that_joins_moves_nothing_and_what_was_made_gets_nothing_more(self):
        first = self.roll("A-02", {"a.mov": 400_000_000, "b.mov": 500_000_000})
        later = self.roll("A-03", {"c.mov": 250_000_000, "d.mov": 150_000_000})
        self.divide(first)
        before = [self.paths_on(n) for n in (1, 2)]
        self.make(1)
        self.divide(later, into=1)
        self.assertEqual(self.paths_on(1), before[0])
        self.assertTrue(before[1] <= self.paths_on(2))
        self.assertEqual(len(self.media()), 3)
        self.assertIn("All of this has its place", self.divide(later, into=1, status=409)["title"])

    def test_a_medium_that_was_made_out_of_turn_gets_nothing_more(self):
        """Its folder is burnt by now: what the ledger says is on it is on it."""
        self.divide(self.roll("A-02", {"a.mov": 400_000_000, "b.mov": 500_000_000}))
        made = self.paths_on(2)
        self.assertEqual(self.make(2)[0].status_code, 200)
        self.divide(self.roll("A-03", {"c.mov": 150_000_000, "d.mov": 120_000_000}), into=1)
        self.assertEqual(self.paths_on(2), made)

    def test_a_clip_that_no_medium_holds_is_said_with_what_would(self):
        tag = self.roll("A-02", {"a.mov": 20_000_000_000, "b.mov": 1000})
        said = self.divide(tag, status=409)["title"]
        self.assertIn(f"{tag}/a.mov (20.0 GB) is larger than a medium (CD, 700 MB)", said)
        self.assertIn("it fits: Blu-ray, 25 GB", said)
        self.assertEqual(MediaSet.objects.count(), 0)
        self.divide(tag, medium="", capacity=50_000_000_000)
        self.assertEqual(self.get("sets")["sets"][0]["medium"], "Disc, 50 GB")
        self.divide(tag, medium="", capacity=1000, status=409)

    def make(self, volume: int = 1, **words):
        place = self.base / "staging"
        if not place.exists():
            make_drive(place, identity="staging", capacity=10**12)
        said = {"station": "cart", "folder": str(place), **words}
        return self.post(f"sets/1/volumes/{volume}/folder", said), place

    def test_its_folder_is_made_read_back_and_as_the_index_says(self):
        roll = self.offload()
        self.divide(roll.tag)
        answer, place = self.make()
        self.assertEqual(answer.status_code, 200, answer.content)
        carry_out(Return.objects.get().pk)
        self.assertEqual(Return.objects.get().end, "well", Return.objects.get().outcome)
        self.assertIsNotNone(self.media()[0]["closed_at"])
        made = place / "SET01-01"
        same = subprocess.run(["diff", "-r", self.card_folder / "DCIM", made / "A001/DCIM"], capture_output=True)
        self.assertEqual(same.returncode, 0, same.stdout)
        self.assertEqual(
            self.post("sets/1/volumes/1/shelf", {"shelf": "shelf 3, box B"}, method="put").status_code, 200
        )
        table = self._same_client(None).get("/api/productions/heron/sets/1/index.csv", headers={"host": "localhost"})
        rows = list(csv.DictReader(io.StringIO(table.content.decode("utf-8-sig"))))
        self.assertEqual(sorted(path.name for path in made.iterdir()),
                         [".raft-store", "A001", "A001.xxh128", "INDEX.csv"])  # fmt: skip
        done = subprocess.run(["xxhsum", "-c", "A001.xxh128"], cwd=made, capture_output=True)
        self.assertEqual((done.stdout.count(b": OK") >= 3, b"FAILED" in done.stdout), (True, False))
        self.assertEqual(len(rows), 4)
        listed = "".join(f"{row['checksum']}  {row['path']}\n" for row in rows if "line" not in row["path"])
        done = subprocess.run(["xxhsum", "-c"], input=listed, cwd=made, capture_output=True, text=True)
        self.assertEqual(done.stdout.count(": OK"), 3, done)
        self.assertEqual({(row["medium"], row["kept"]) for row in rows}, {("SET01-01", "shelf 3, box B")})
        paper = self._same_client(None).get("/api/productions/heron/sets/1/labels.pdf", headers={"host": "localhost"})
        with pikepdf.open(io.BytesIO(paper.content)) as pdf:
            self.assertEqual(len(pdf.pages), 1)
        self.assertIn("shelf 3, box B", JournalEntry.objects.latest("pk").sentence)

    def test_who_may_and_what_is_refused(self):
        roll = self.offload()
        self.divide(roll.tag, person=self.pip, status=403)
        self.divide(status=404)
        self.divide("Z999", status=404)
        self.divide(roll.tag, medium="Floppy", status=409)
        self.divide(roll.tag, into=7, status=404)
        RollFile.objects.filter(path="zero").update(checksum="")
        self.assertIn("never read off the card", self.divide(roll.tag, status=409)["title"])
        RollFile.objects.filter(path="zero").update(checksum="x")
        self.divide(roll.tag)
        self.assertEqual(self.post("sets/1/volumes/9/folder", {"station": "cart", "folder": "/x"}).status_code, 404)
        self.assertEqual(self.post("sets/1/volumes/1/shelf", {"shelf": " "}, method="put").status_code, 409)
        self.assertEqual(self.make(folder="not whole")[0].status_code, 409)
        self.assertIsNone(self.media()[0]["closed_at"], "what was refused closes nothing")

    def burnt(self) -> Path:
        """The medium in a reader: its folder, copied to a place of its own, as a program that burns does."""
        roll = self.offload()
        self.divide(roll.tag)
        _, place = self.make()
        carry_out(Return.objects.get().pk)
        disc = self.base / "disc"
        make_drive(disc, identity="disc 1", capacity=700 * 10**6)
        shutil.copytree(place / "SET01-01", disc / "SET01-01")
        return disc

    def back(self, folder: Path, person=None, **words):
        said = {"station": "cart", "folder": str(folder), "place": "vault", **words}
        return self.post("sets/returned", said, person or self.sol)

    def read(self) -> None:
        for run in CheckRun.objects.filter(finished_at=None):
            run_check(run.pk)

    def test_a_medium_that_comes_back_is_read_and_counts_with_its_place(self):
        disc = self.burnt()
        self.assertEqual(self.back(disc).status_code, 200)
        plank = self.plank()
        self.assertEqual((plank["state"] == "verified", plank["files"], plank["location"]), (False, 0, "vault"))
        self.read()
        plank = self.plank()
        self.assertEqual((plank["state"], plank["files"], plank["location"]), ("verified", 4, "vault"))
        self.assertIn("is the store 'SET01-01' already", self.back(disc).json()["title"])

    def test_two_discs_in_one_drive_are_at_one_place_or_the_second_is_refused(self):
        """To the ledger they are one device: at two places it would be at one of them wrongly."""
        disc = self.burnt()
        Store.objects.filter(name="three").update(identities=["stand-in disc 1"])
        said = self.back(disc)
        self.refused(said, "is one device with 'three', which is at cart")
        self.assertFalse(Store.objects.filter(name="SET01-01").exists())
        self.assertEqual(self.back(disc, place="cart").status_code, 200)
        self.read()
        self.assertEqual((self.plank()["state"], self.plank()["location"]), ("verified", "cart"))

    def test_a_medium_that_was_taken_in_by_half_is_gone_on_with(self):
        disc = self.burnt()
        with patch.object(take_medium_in, "sight_stores", side_effect=OSError), self.assertRaises(OSError):
            take_medium_in.take_medium_in(self.sol, self.production.pk, str(disc), "vault", self.station)
        self.assertEqual(self.back(disc).status_code, 200)
        self.read()
        self.assertEqual((self.plank()["state"], self.plank()["files"]), ("verified", 4))

    def plank(self) -> dict:
        planks = self.get("tally/rolls/A001")["roll"]["planks"]
        return next(one for one in planks if one["store"] == "SET01-01")

    def test_one_that_rotted_is_found_out(self):
        disc = self.burnt()
        spoilt = disc / "SET01-01/A001/DCIM/100AAAAA/AAAA0002.JPG"
        spoilt.write_bytes(b"x" * spoilt.stat().st_size)
        self.back(disc)
        self.read()
        self.assertNotEqual(self.plank()["state"], "verified")
        self.assertEqual(self.plank()["broken_files"], 1)

    def test_what_bears_no_mark_of_a_set_is_no_medium(self):
        disc = self.burnt()
        self.assertEqual(self.back(disc, self.wren).status_code, 403)
        (disc / "SET01-01/.raft-store").write_text("something else")
        for folder in (disc, self.base / "none", Path("relative")):
            self.assertEqual(self.back(folder).status_code, 409, folder)
        self.assertFalse(Store.objects.filter(name="SET01-01").exists())

    def test_a_folder_with_something_else_in_it_is_not_written_over(self):
        roll = self.offload()
        self.divide(roll.tag)
        (self.base / "staging").mkdir()
        make_drive(self.base / "staging", identity="staging", capacity=10**12)
        (self.base / "staging/SET01-01").mkdir()
        (self.base / "staging/SET01-01/INDEX.csv").write_text("somebody's")
        self.make()
        run = Return.objects.get()
        carry_out(run.pk)
        run.refresh_from_db()
        self.assertEqual(run.end, "trouble")
        self.assertIn("What was to lie beside it does not: SET01-01/INDEX.csv stands there already", run.outcome)
        self.assertEqual((self.base / "staging/SET01-01/INDEX.csv").read_text(), "somebody's")
