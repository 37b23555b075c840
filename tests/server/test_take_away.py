"""What is seen of a roll is taken away in a folder: complete, or without a page; it says nothing that it should not."""

import hashlib
import threading
from html.parser import HTMLParser
from pathlib import Path
from unittest.mock import patch
from urllib.parse import unquote

from django.test import TestCase

from ruggedraft.core.working import ClipShown, page
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import CardListing
from ruggedraft.intake.watching import look
from ruggedraft.kit.models import Station
from ruggedraft.pictures.keeping import pictures_kept
from ruggedraft.pictures.making import lighten_next, make_due
from ruggedraft.pictures.models import Picture
from ruggedraft.returning import taking_away
from ruggedraft.returning.models import TakeAway
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.card_maker import media
from ruggedraft.standins.drives import make_drive
from tests.recorder import recorded

from .world import SHOT, World


class Links(HTMLParser):
    """Everything that a page refers to, and the text on it."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.links: list[str] = []
        self.tags: list[str] = []
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        self.tags.append(tag)
        self.links += [unquote(value or "") for name, value in attrs if name in ("src", "href", "poster", "action")]


class TakingAway(World, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        movie = recorded("a.mov", "-f", "lavfi", "-i", "testsrc2=s=320x240:r=25:d=1", "-c:v", "mjpeg")
        card_maker.add_file(self.card_folder, "CLIP/C001.MOV", movie, SHOT)
        card_maker.add_file(
            self.card_folder, "CLIP/C002.JPG", media.jpeg("hen", SHOT, model="Tern", size=(600, 400)), SHOT
        )
        card_maker.add_file(self.card_folder, "CLIP/C003.WAV", media.wave(SHOT), SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        read_headers(CardListing.objects.latest("pk"))
        self.roll = self.offload()
        stop = threading.Event()
        make_due(self.station, stop)
        while lighten_next(self.station, stop):
            pass
        self.stick = make_drive(self.base / "stick", identity="stick", capacity=10**9)
        self.post("choosing/rolls/A001/marks", {"path": "CLIP/C001.MOV", "kind": "soft", "words": "late <b>"})
        self.post("notes", {"on": "roll", "name": "A001", "words": "the barge <script>alert(1)</script>"})

    def take(self, **words) -> TakeAway:
        said = {"station": "cart", "folder": str(self.stick), "tags": ["A001"]} | words
        answer = self.post("returns/take-aways", said)
        self.assertEqual(answer.status_code, 200, answer.content)
        run = TakeAway.objects.latest("pk")
        taking_away.carry_out(run.pk)
        run.refresh_from_db()
        return run

    def folder(self, run: TakeAway) -> Path:
        return self.stick / run.name

    def test_everything_that_the_page_names_lies_beside_it_and_nothing_else_is_named(self):
        run = self.take()
        self.assertEqual(run.end, "well", run.outcome)
        self.assertIn("3 clips, 2 with a picture, 2 to play. Open index.html.", run.outcome)
        folder = self.folder(run)
        text = (folder / "index.html").read_text()
        found = Links(text)
        self.assertEqual({(folder / one).is_file() for one in found.links}, {True})
        self.assertGreaterEqual(len(set(found.links)), 4)
        self.assertEqual([one for one in found.links if ":" in one or one.startswith("/")], [])
        for picture in Picture.objects.filter(kind__in=("small", "large", "light")):
            there = folder / f"media/{picture.file_id}_{picture.kind}.{'mp4' if picture.kind == 'light' else 'jpg'}"
            self.assertEqual(hashlib.sha256(there.read_bytes()).hexdigest(), picture.digest)
        self.assertFalse(list(self.stick.rglob(".raft-on*")))

    def test_words_of_people_are_text_and_stay_at_home_if_wanted(self):
        text = (self.folder(self.take()) / "index.html").read_text()
        self.assertEqual(Links(text).tags.count("script"), 1, "the page's own")
        self.assertNotIn("b", Links(text).tags)
        self.assertIn("late &lt;b&gt;", text)
        self.assertIn("the barge &lt;script&gt;", text)
        bare = (self.folder(self.take_later(words=False)) / "index.html").read_text()
        for said in ("late &lt;", "barge", "out of focus"):
            self.assertNotIn(said, bare)

    def take_later(self, **words) -> TakeAway:
        """Another one of the same second would have the same folder."""
        TakeAway.objects.update(name="earlier")
        for path in self.stick.iterdir():
            if path.is_dir():
                path.rename(self.stick / "earlier")
        return self.take(**words)

    def test_a_page_holds_any_name(self):
        hostile = ClipShown("<img src=x onerror=alert(1)>\"'", "a & b", ["<i>"], "media/%2e ?#.jpg", "", False)
        found = Links(page("<script>", "</title>", [hostile]))
        self.assertEqual(found.links, ["media/%2e ?#.jpg", "media/%2e ?#.jpg"])
        self.assertEqual([tag for tag in found.tags if tag in ("i", "script")], ["script"])
        self.assertIn("no picture of it was made", page("x", "y", [ClipShown("a", "", [], "", "", False)]))

    def test_an_interrupted_one_goes_on_and_one_that_was_stopped_has_no_page(self):
        real = taking_away._write

        def killed(folder, path, data):
            if path.endswith("index.html"):
                raise RuntimeError("killed")
            real(folder, path, data)

        with patch.object(taking_away, "_write", killed), self.assertRaises(RuntimeError):
            self.take()
        run = TakeAway.objects.latest("pk")
        self.assertFalse((self.folder(run) / "index.html").exists())
        taking_away.carry_out(run.pk)
        run.refresh_from_db()
        self.assertEqual(run.end, "well")
        answer = self.post("returns/take-aways", {"station": "cart", "folder": str(self.stick), "tags": ["A001"]})
        self.assertEqual(answer.status_code, 200)
        TakeAway.objects.filter(pk=TakeAway.objects.latest("pk").pk).update(name="another")
        run = TakeAway.objects.latest("pk")
        self.post(f"runs/{run.pk}/cancel")
        taking_away.carry_out(run.pk)
        run.refresh_from_db()
        self.assertEqual((run.end, (self.folder(run) / "index.html").exists()), ("cancelled", False))

    def test_a_picture_that_was_lost_is_left_out_and_a_full_or_system_disk_is_said(self):
        pictures_kept().forget(Picture.objects.get(kind="light", file__path__endswith="MOV").digest)
        self.assertIn("1 to play", self.take().outcome)
        plain = self.base / "plain"
        plain.mkdir()
        self.assertIn("system disk", self.take(folder=str(plain)).outcome)
        self.assertEqual(list(plain.iterdir()), [])
        with patch("ruggedraft.returning.taking_away.os.write", side_effect=OSError(28, "No space left on device")):
            run = self.take(folder=str(make_drive(self.base / "full", identity="full", capacity=10**9)))
        self.assertIn("is not complete", run.outcome)
        self.assertFalse(list((self.base / "full").rglob("index.html")))

    def test_what_cannot_be_asked_for_is_refused(self):
        Station.objects.create(name="van", role="raft_station_van")
        for words, status in (({"station": "van"}, 409), ({"tags": []}, 404), ({"tags": ["Z1"]}, 404),
                              ({"folder": "x"}, 409)):  # fmt: skip
            said = {"station": "cart", "folder": str(self.stick), "tags": ["A001"]} | words
            self.assertEqual(self.post("returns/take-aways", said).status_code, status, words)
