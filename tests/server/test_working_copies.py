"""Working copies are made of verified copies, match their recordings, overwrite nothing and are counted as nothing."""

import os
from pathlib import Path
from types import SimpleNamespace
from unittest.mock import patch

from django.test import TestCase

from ruggedraft.core.pictures import GaveWay
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.returning import making
from ruggedraft.returning.models import MakingOfCopies
from ruggedraft.rolls.models import Copy, Reading
from ruggedraft.standins import card_maker, hub
from ruggedraft.standins.drives import make_drive
from tests.recorder import recorded

from .world import SHOT, World

RECORDING = ("-f", "lavfi", "-i", "testsrc2=s=320x180:r=25:d=0.4", "-f", "lavfi", "-i", "sine=300:d=0.4",
             "-c:v", "mjpeg", "-c:a", "pcm_s16le", "-timecode", "10:00:00:00")  # fmt: skip
MADE = "A001_dnxhr_lb/CLIP/C001.mov"


class WorkingCopies(World, TestCase):
    def setUp(self):
        super().setUp()
        self.blank_card()
        whole = recorded("a.mov", *RECORDING)
        for name, content in {"C001.MOV": whole, "C002.MOV": whole[:3000], "note.txt": b"x"}.items():
            card_maker.add_file(self.card_folder, f"CLIP/{name}", content, SHOT)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.roll = self.offload()
        self.edit = make_drive(self.base / "edit", identity="edit", capacity=5 * 10**9)

    def ask(self, folder: Path | None = None, **words):
        said = {"station": "cart", "folder": str(folder or self.edit), "tags": ["A001"], "codec": "dnxhr_lb"} | words
        return self.post("returns/making", said)

    def make(self, folder: Path | None = None, **words) -> MakingOfCopies:
        answer = self.ask(folder, **words)
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.carried_out()

    def carried_out(self) -> MakingOfCopies:
        run = MakingOfCopies.objects.latest("pk")
        making.carry_out(run.pk)
        run.refresh_from_db()
        return run

    def files(self) -> list[str]:
        return sorted(str(path.relative_to(self.edit)) for path in self.edit.rglob("*.m*") if path.is_file())

    def test_each_recording_gets_one_that_matches_and_what_cannot_is_named(self):
        run = self.make()
        self.assertEqual(run.end, "trouble")
        self.assertIn("1 of 2 recordings have one that matches and decodes", run.outcome)
        self.assertIn("Not made: C002.mov: it cannot be decoded", run.outcome)
        self.assertEqual(self.files(), [MADE])
        self.assertEqual([list(self.edit.rglob(".raft-on*")), list(self.edit.rglob("note*"))], [[], []])
        self.assertTrue(JournalEntry.objects.filter(act="finish working", subject="A001").exists())
        [told] = self.get("returns")["making"]
        self.assertEqual((told["codec"], told["files"], told["state"]), ("dnxhr_lb", 2, "trouble"))

    def test_nothing_of_it_is_a_copy_or_evidence(self):
        before = (Copy.objects.count(), Reading.objects.count(), self.standing())
        self.make(codec="h264", height=540, burn_in=True)
        self.assertEqual((Copy.objects.count(), Reading.objects.count(), self.standing()), before)
        self.assertEqual(self.files(), ["A001_h264_540_burnt_in/CLIP/C001.mp4"])

    def test_what_is_there_is_not_made_again_and_what_was_lost_is(self):
        self.make()
        at = self.edit / MADE
        first = at.stat().st_mtime_ns
        with patch.object(making, "make_working_copy", wraps=making.make_working_copy) as made:
            self.make()
        self.assertEqual(made.call_count, 1, "only for the one that cannot be made")
        self.assertEqual(at.stat().st_mtime_ns, first)
        at.unlink()
        self.make()
        self.assertTrue(at.is_file())

    def test_a_copy_that_rotted_is_passed_over_and_where_none_is_what_it_was_nothing_is_made(self):
        """One bit of it: what was made of that might well decode, as long and with as many frames."""
        name = "CLIP/C001.MOV"
        good = self.on_drive("one").joinpath(name).read_bytes()
        at = good.index(b"mdat") + len(good[good.index(b"mdat") :]) // 2
        rotten = good[:at] + bytes([good[at] ^ 1]) + good[at + 1 :]
        self.on_drive("one").joinpath(name).write_bytes(rotten)
        read = []

        def take(descriptor, *_, **__):
            read.append(os.pread(descriptor, 10**8, 0))

        with patch.object(making, "make_working_copy", take):
            self.make()
        self.assertIn(good, read)
        self.assertNotIn(rotten, read)
        self.on_drive("two").joinpath(name).write_bytes(rotten)
        run = self.make()
        self.assertIn("C001.mov: no copy at hand holds it as it was taken", run.outcome)
        self.assertEqual(self.files(), [])

    def test_what_stands_there_otherwise_is_left_alone_and_said(self):
        at = self.edit / MADE
        at.parent.mkdir(parents=True)
        at.write_bytes(b"somebody's own")
        run = self.make()
        self.assertEqual(at.read_bytes(), b"somebody's own")
        self.assertIn("C001.mov", run.outcome)
        self.assertIn("0 of 2 recordings", run.outcome)

    def test_one_that_does_not_match_never_gets_its_name(self):
        with patch.object(making, "why_not_the_same", return_value="it has 9 frames, and the recording 10"):
            run = self.make()
        self.assertIn("it has 9 frames", run.outcome)
        self.assertEqual(self.files(), [])

    def test_without_a_verified_copy_at_hand_nothing_is_made(self):
        for name in ("one", "two"):
            (hub.home() / "drives" / name).rename(self.base / name)
        run = self.make()
        self.assertIn("no verified copy of it is connected", run.outcome)
        self.assertEqual(self.files(), [])

    def test_the_system_disk_a_copy_s_folder_and_a_full_drive_get_nothing(self):
        plain = self.base / "plain"
        plain.mkdir()
        self.assertIn("on this computer's system disk", self.make(plain).outcome)
        inside = self.on_drive("one")
        self.assertIn("it is where a copy of A001 is kept", self.make(inside).outcome)
        full = make_drive(self.base / "full", identity="full", capacity=1)
        self.assertIn("there is no room", self.make(full).outcome)
        self.assertEqual([list(one.rglob("*.mov")) for one in (plain, full)], [[], []])
        self.assertFalse(list(inside.rglob("*.mov")))

    def test_without_a_typeface_nothing_is_burnt_in_and_that_is_said(self):
        with patch.object(making, "_FONT", self.base / "none.woff2"):
            run = self.make(burn_in=True)
        self.assertIn("is not installed on this station's machine", run.outcome)
        self.assertEqual(self.files(), [])

    def test_a_card_goes_first_and_what_it_interrupted_is_begun_anew(self):
        real, calls = making.make_working_copy, []

        def interrupted(*args, **words):
            calls.append(1)
            if len(calls) == 1:
                raise GaveWay
            real(*args, **words)

        with patch.object(making, "make_working_copy", interrupted):
            self.make()
        self.assertEqual(self.files(), [MADE])
        self.assertEqual(len(calls), 3, "the first one twice")

    def test_while_a_card_is_offloaded_nothing_is_made(self):
        card, _ = self.new_card("A-02", {"CLIP/C9.MOV": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        start_offload(self.wren, card, propose(card).tag)
        self.ask()
        waited = []

        def over(_: float) -> None:
            waited.append(self.files())
            Offload.objects.update(held_back=True)

        its_own = SimpleNamespace(sleep=over)  # whoever waits for a program sleeps too
        with patch("ruggedraft.core.pictures.bounds._ASK_S", 0), patch.object(making, "time", its_own):
            run = self.carried_out()
        self.assertEqual(waited, [[]])
        self.assertIn("1 of 2", run.outcome)

    def test_a_cancelled_one_says_how_far_it_came(self):
        self.ask()
        run = MakingOfCopies.objects.get()
        self.assertEqual(self.ask().status_code, 409, "under way already")
        self.post(f"runs/{run.pk}/cancel")
        run = self.carried_out()
        self.assertEqual((run.end, self.files()), ("cancelled", []))

    def test_what_cannot_be_asked_for_is_refused(self):
        for words, status in (({"height": 333}, 409), ({"codec": "film"}, 422), ({"tags": []}, 404),
                              ({"tags": ["Z001"]}, 404), ({"folder": "x"}, 409)):  # fmt: skip
            self.assertEqual(self.ask(**words).status_code, status, words)
        said = {"station": "cart", "folder": "/x", "tags": ["A001"], "codec": "h264"}
        self.assertEqual(self.post("returns/making", said, self.pip).status_code, 403)
