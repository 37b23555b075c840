"""Every layout, and every trap of a card, on cards with real media."""

import os
import shutil
from datetime import timedelta
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.cards import FileRole, card_above, contents, describe, recognise
from ruggedraft.core.cards.chapters import FAT32_LARGEST_FILE, chapters
from ruggedraft.core.cards.clocks import CameraClock, Circumstances, ClockSpan
from ruggedraft.core.cards.layouts.dcf import FILE, FOLDER
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.core.sources.listing import Entry, EntryKind, Listing
from ruggedraft.standins import card_maker as make
from ruggedraft.standins.card_maker import traps

from .made_card import GROUND, START, MadeCard

LAYOUTS = {
    "DCIM": lambda card: make.add_stills(card, prefix="SKR_", first=1, count=2, start=START),
    "AVCHD": lambda card: make.add_avchd(card, count=2, start=START),
    "BPAV": lambda card: make.add_bpav(card, count=2, start=START),
    "M4ROOT": lambda card: make.add_m4root(card, count=2, start=START),
    "CONTENTS (clip list)": lambda card: make.add_contents_list(card, count=2, start=START),
    "CONTENTS (clip folders)": lambda card: make.add_contents_folders(card, count=2, start=START),
    "reel folders": lambda card: make.add_clips(card, reel="A001", first=1, count=2, start=START, fine=False),
    "sound recorder": lambda card: make.add_sound(card, day="DAY1", first=1, count=2, start=START, tracks=2),
    "plain": lambda card: [make.add_file(card, f"odds/{n}.jpg", b"x", START) for n in range(2)],
}
STRUCTURE = {"AVCHD": 3, "BPAV": 2, "M4ROOT": 1, "CONTENTS (clip list)": 1, "CONTENTS (clip folders)": 1}
ROLES = {
    "DCIM": [FileRole.MAIN, FileRole.ALTERNATE],
    "AVCHD": [FileRole.MAIN, FileRole.SIDECAR],
    "BPAV": [FileRole.MAIN, *[FileRole.SIDECAR] * 3],
    "M4ROOT": [FileRole.MAIN, FileRole.SIDECAR, FileRole.THUMBNAIL, FileRole.ALTERNATE],
    "CONTENTS (clip list)": [FileRole.MAIN, FileRole.PART, FileRole.PART, FileRole.THUMBNAIL, FileRole.SIDECAR],
    "sound recorder": [FileRole.MAIN, FileRole.PART],
}
_WORDS = (
    *("PRIVATE", "AVCHD", "BDMV", "STREAM", "CLIPINF", "M4ROOT", "CLIP", "THMBNL", "SUB", "CONTENTS", "VIDEO", "AUDIO"),
    *("CLIPS001", "BPAV", "CLPR", "DCIM", "100SKERR", "A001_X", "A001C001", "SKR_0001", "T001_1", "T001_2", "C0001"),
    "C0001M01",
)
_ENDINGS = (".MP4", ".MXF", ".WAV", ".XML", ".JPG", ".DNG", ".MTS", ".CPI", ".THM", ".LRV", "", ".BMP", ".MOV", ".TXT")


class Layouts(MadeCard):
    def test_each_layout_is_recognised_with_its_clips_and_nothing_is_left_out(self):
        for name, make_it in LAYOUTS.items():
            with self.subTest(name):
                card = self.card / name
                card.mkdir()
                make_it(card)
                described = self.described(card=card)
                self.assertEqual(described.layout_names, name)
                self.assertEqual(len(described.clips), 2)
                self.assertEqual([f for f in described.findings if f.kind != "header"], [])
                if name in ROLES:
                    self.assertEqual([part.role for part in described.clips[0].parts], ROLES[name])
                self.assertEqual(len(described.loose), STRUCTURE.get(name, 1 if name == "sound recorder" else 0))
                self._accounts_for_every_file(card)

    def test_several_layouts_stand_on_one_card(self):
        for name in ("DCIM", "M4ROOT", "AVCHD", "sound recorder"):
            LAYOUTS[name](self.card)
        make.add_file(self.card, "notes.txt", b"x", START)
        described = self.described()
        self.assertEqual(described.layout_names, "M4ROOT + AVCHD + DCIM + sound recorder")
        self.assertEqual(len(described.clips), 8)
        self._accounts_for_every_file(self.card)

    def test_any_tree_at_all_is_described_with_each_file_once(self):
        """Names that layouts look for, in any arrangement: nothing is lost and nothing is told twice."""

        @given(st.lists(st.lists(st.sampled_from(_WORDS), min_size=1, max_size=4), max_size=14, unique_by=tuple))
        def check(paths):
            files = {"/".join([*path[:-1], path[-1] + ending]) for path, ending in zip(paths, _ENDINGS, strict=False)}
            folders = {"/".join(path.split("/")[:n]) for path in files for n in range(1, path.count("/") + 1)}
            entries = [Entry(path, EntryKind.FILE, 1, 10**18) for path in files]
            entries += [Entry(path, EntryKind.FOLDER) for path in folders]
            described = describe(Listing(tuple(sorted(entries, key=lambda e: e.path))), GROUND)
            told = [entry.path for clip in described.clips for entry in clip.entries]
            told += [entry.path for entry in described.loose]
            self.assertEqual(sorted(told), sorted(files))

        check()

    def _accounts_for_every_file(self, card: Path) -> None:
        described = self.described(card=card)
        held = [entry.path for clip in described.clips for entry in clip.entries]
        held += [entry.path for entry in described.loose]
        self.assertEqual(sorted(held), sorted(e.path for e in list_card(FolderSource(card)).files), "each file once")


class Dcf(MadeCard):
    """JEITA CP-3461 / CIPA DC-009, 'Design rule for Camera File system' (values from memory)."""

    def test_folder_names_have_a_number_from_100_to_999_and_five_free_characters(self):
        for name in ("100ABCDE", "999_____", "123AB0_9"):
            self.assertTrue(FOLDER.fullmatch(name), name)
        for name in ("099ABCDE", "100ABCD", "100ABCDEF", "100AB-DE", "000ABCDE", "100abcde"):
            self.assertFalse(FOLDER.fullmatch(name), name)

    def test_file_names_have_four_free_characters_and_a_number_from_0001_to_9999(self):
        for name in ("ABCD0001", "_B1D9999"):
            self.assertTrue(FILE.fullmatch(name), name)
        for name in ("ABCD0000", "ABC0001", "ABCDE0001", "AB-D0001", "ABCD001"):
            self.assertFalse(FILE.fullmatch(name), name)

    def test_two_folders_of_one_number_are_said_so(self):
        for tree in ("100SKERR", "100GANNT", "101SKERR"):
            make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START, tree=tree, kinds=["JPG"])
        (finding,) = self.findings("folder number")
        self.assertEqual(len(finding.paths), 2)

    def test_objects_of_one_number_are_one_clip_whatever_their_case(self):
        for name in ("SKR_0001.JPG", "skr_0001.dng", "SKR_0001.XMP", "SKR_0001.WAV", "SKR_0002.JPG"):
            make.add_file(self.card, f"DCIM/100SKERR/{name}", b"x", START)
        self.assertEqual([len(clip.parts) for clip in self.described().clips], [4, 1])
        self.assertEqual(self.described().clips[0].main.path, "DCIM/100SKERR/skr_0001.dng")


class Whole(MadeCard):
    """Is it whole? Indexes against what is there."""

    def test_an_index_that_names_a_clip_which_is_not_there(self):
        traps.lose_an_indexed_clip(self.card, START)
        (finding,) = self.findings("missing clip")
        self.assertEqual(finding.paths, ("BPAV/CLPR/KEEL_0002_01/KEEL_0002_01.MP4",))
        self.assertIn("KEEL_0002_01.MP4", finding.sentence)
        self.assertTrue(finding.grave)

    def test_a_clip_that_no_index_names(self):
        make.add_bpav(self.card, count=2, start=START)
        traps.add_stray_clip(self.card, START)
        (finding,) = self.findings("stray clip")
        self.assertEqual(finding.paths, ("BPAV/CLPR/STRAY_0001/STRAY_0001.MP4",))

    def test_every_layout_with_an_index_misses_a_clip_that_is_gone(self):
        gone = {
            "AVCHD": "PRIVATE/AVCHD/BDMV/STREAM/00001.MTS",
            "BPAV": "BPAV/CLPR/KEEL_0002_01/KEEL_0002_01.MP4",
            "M4ROOT": "PRIVATE/M4ROOT/CLIP/C0002.MP4",
            "CONTENTS (clip list)": "CONTENTS/VIDEO/0002KL.MXF",
            "CONTENTS (clip folders)": "CONTENTS/CLIPS001/OAR_000002/OAR_000002.MXF",
        }
        for name, path in gone.items():
            with self.subTest(name):
                card = self.card / name
                card.mkdir()
                LAYOUTS[name](card)
                (card / path).unlink()
                found = [f for f in self.described(card=card).findings if f.kind == "missing clip"]
                self.assertEqual([finding.paths for finding in found], [(path,)])

    def test_an_index_that_is_damaged_or_hostile_names_nothing_and_stops_nothing(self):
        bomb = (
            b'<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><MediaProfile><Material uri="&b;"/></MediaProfile>'
        )
        out = b'<MediaProfile><Material uri="../../etc/passwd"/></MediaProfile>'
        for content in (b"<Media", bomb, b"\xff\xfe\0", b"", out):
            with self.subTest(content[:20]):
                make.add_bpav(self.card, count=1, start=START)
                make.add_file(self.card, "BPAV/MEDIAPRO.XML", content, START)
                self.assertEqual([f.kind for f in self.described().findings], [])

    def test_a_card_that_was_formatted_in_part(self):
        for name in ("M4ROOT", "BPAV"):
            LAYOUTS[name](self.card)
        traps.half_format(self.card)
        (finding,) = self.findings("emptied")
        self.assertEqual(finding.paths, ("BPAV", "PRIVATE/M4ROOT"))
        self.assertEqual(len(self.findings("missing clip")), 2)

    def test_a_gap_in_a_sequence(self):
        make.add_sequence(self.card, reel="A003", clip=1, frames=20, start=START, skip=[7, 8])
        (clip,) = self.described().clips
        self.assertEqual((clip.kind, len(clip.parts), clip.name), ("sequence", 18, "A003C001"))
        self.assertAlmostEqual(clip.duration_s, 19 / 25, places=3)
        (finding,) = self.findings("frames missing")
        self.assertIn("2 frames missing", finding.sentence)


class Inside(MadeCard):
    def test_a_path_inside_a_card_leads_to_the_card(self):
        inside = {
            "DCIM/100SKERR": 2, "DCIM": 1, "PRIVATE/AVCHD/BDMV/STREAM": 4, "PRIVATE/AVCHD/BDMV": 3, "PRIVATE/AVCHD": 2,
            "PRIVATE": 1, "PRIVATE/M4ROOT/CLIP": 3, "private/m4root": 2, "BPAV/CLPR/KEEL_0001_01": 3, "BPAV": 1,
            "CONTENTS/CLIP": 2, "CONTENTS/CLIPS001/OAR_000001": 3, "CONTENTS": 1,
        }  # fmt: skip
        for path in inside:
            self.assertEqual(card_above(self.card / path), self.card, path)
        for path in ("", "A001", "DAY1", "PRIVATE_PICTURES", "STREAM", "CLIP", "DCIM/odd"):
            self.assertIsNone(card_above(self.card / path), path)

    def test_the_inside_of_a_card_on_its_own_is_known_by_what_lies_in_it(self):
        insides = {
            "DCIM": "DCIM", "AVCHD": "PRIVATE/AVCHD/BDMV", "BPAV": "BPAV", "M4ROOT": "PRIVATE/M4ROOT",
            "CONTENTS (clip list)": "CONTENTS",
        }  # fmt: skip
        for name, inside in insides.items():
            with self.subTest(name):
                card, part = self.card / name, self.card / (name + " part")
                LAYOUTS[name](card)
                shutil.move(card / inside, part)
                (finding,) = [f for f in self.described(card=part).findings if f.kind == "inner folder"]
                self.assertIn(inside, finding.sentence)
        one_folder = self.card / "stills"
        LAYOUTS["DCIM"](one_folder)
        found = self.described(card=one_folder / "DCIM" / "100SKERR").findings
        self.assertEqual([f.kind for f in found], ["inner folder"])


class Split(MadeCard):
    LIMIT = 400_000

    def _ground(self, *limits: int) -> Circumstances:
        return Circumstances(zone=GROUND.zone, now=GROUND.now, first_day=GROUND.first_day, largest_files=limits)

    def test_chapters_of_one_recording_are_one_clip(self):
        traps.add_split_recording(self.card, parts=3, start=START, limit=self.LIMIT)
        make.add_action_clips(
            self.card, first=14, count=1, start=START + timedelta(seconds=5), tree="100PETRL", prefix="PTRL"
        )
        first, second = self.described(self._ground(self.LIMIT)).clips
        self.assertEqual([Path(path).name for path in chapters(first)], [f"PTRL00{n}.MP4" for n in (11, 12, 13)])
        self.assertAlmostEqual(first.duration_s, 5, delta=0.1)
        self.assertEqual(second.name, "PTRL0014", "the last part is short of the limit: what follows is another clip")

    def test_files_that_could_have_gone_on_are_clips_of_their_own(self):
        traps.add_split_recording(self.card, parts=3, start=START, limit=self.LIMIT)
        self.assertEqual(len(self.described(self._ground()).clips), 3, "400 kB is no limit of this card")

    def test_a_pause_or_a_jump_of_the_counter_ends_a_recording(self):
        traps.add_split_recording(self.card, parts=2, start=START, limit=self.LIMIT)
        last = self.card / "DCIM/100PETRL/PTRL0012.MP4"
        last.rename(last.with_name("PTRL0013.MP4"))
        self.assertEqual(len(self.described(self._ground(self.LIMIT)).clips), 2)
        shutil.rmtree(self.card / "DCIM")
        traps.add_split_recording(self.card, parts=2, start=START, limit=self.LIMIT)
        late = make.layouts.media.movie("mp4", START + timedelta(seconds=30))
        make.add_file(self.card, "DCIM/100PETRL/PTRL0012.MP4", late, START + timedelta(seconds=31))
        self.assertEqual(len(self.described(self._ground(self.LIMIT)).clips), 2)

    def test_no_file_on_fat32_reaches_four_gibibytes(self):
        """Microsoft, 'FAT File System Specification' 1.03 (from memory): a file's size has 32 bits."""
        self.assertEqual(FAT32_LARGEST_FILE, 0xFFFFFFFF)


class Clocks(MadeCard):
    def test_a_clock_set_years_ahead_or_back(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=3, start=START)
        make.add_stills(self.card, prefix="FUT_", first=1, count=1, start=START + timedelta(days=900))
        make.add_stills(self.card, prefix="OLD_", first=1, count=2, start=START - timedelta(days=2000))
        (future,), (before,) = self.findings("future"), self.findings("before the production")
        self.assertEqual(future.paths, ("DCIM/100SKERR/FUT_0001.DNG",))
        self.assertEqual(len(before.paths), 2)
        self.assertIn("2028-10-30", future.sentence)

    def test_a_clock_offset_applies_to_what_is_shown_and_clears_the_finding(self):
        make.add_stills(self.card, prefix="FUT_", first=1, count=2, start=START + timedelta(days=900))
        clock = CameraClock((ClockSpan(timedelta(days=900)),))
        around = Circumstances(zone=GROUND.zone, now=GROUND.now, first_day=GROUND.first_day, clock=clock)
        described = self.described(around)
        self.assertEqual(described.clips[0].starts, START)
        self.assertEqual(described.findings, ())

    def test_a_clock_that_was_wrong_for_a_stretch_is_put_right_for_that_stretch_alone(self):
        make.add_stills(self.card, prefix="OFF_", first=1, count=2, start=START + timedelta(days=900))
        make.add_stills(self.card, prefix="SKR_", first=1, count=2, start=START + timedelta(hours=1))
        clock = CameraClock().corrected(ClockSpan(timedelta(days=900), since=START + timedelta(days=1)))
        around = Circumstances(zone=GROUND.zone, now=GROUND.now, first_day=GROUND.first_day, clock=clock)
        starts = {clip.name: clip.starts for clip in self.described(around).clips}
        self.assertEqual(starts["OFF_0001"], START)
        self.assertEqual(starts["SKR_0001"], START + timedelta(hours=1))

    def test_what_is_found_out_later_about_a_clock_holds_and_what_it_covers_is_forgotten(self):
        hour, day = timedelta(hours=1), timedelta(days=1)
        wide = CameraClock().corrected(ClockSpan(hour))
        narrow = wide.corrected(ClockSpan(-hour, START, START + day))
        self.assertEqual(
            [narrow.ahead(START + n * day) for n in (-1, 0, 1, 2)],
            [hour, -hour, -hour, hour],
        )
        self.assertEqual(narrow.corrected(ClockSpan(2 * hour)).spans, (ClockSpan(2 * hour),))
        self.assertEqual(narrow.corrected(ClockSpan(timedelta(0))), CameraClock())
        right_again = wide.corrected(ClockSpan(timedelta(0), since=START))
        self.assertEqual([right_again.ahead(START), right_again.ahead(START - hour)], [timedelta(0), hour])

    def test_clips_far_from_the_rest_of_the_card(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=9, start=START, kinds=["JPG"])
        around = Circumstances(zone=GROUND.zone, now=GROUND.now)
        make.add_stills(self.card, prefix="FAR_", first=1, count=1, start=START - timedelta(days=40), kinds=["JPG"])
        (far,) = self.findings("far in time", around)
        self.assertEqual(far.paths, ("DCIM/100SKERR/FAR_0001.JPG",))

    def test_a_wrapped_counter_is_ordered_by_time_also_within_one_second(self):
        for apart in (timedelta(minutes=1), timedelta(milliseconds=100)):
            shutil.rmtree(self.card / "DCIM", ignore_errors=True)
            make.add_stills(self.card, prefix="SKR_", first=9998, count=4, start=START, kinds=["JPG"], apart=apart)
            names = [clip.name for clip in self.described().clips]
            self.assertEqual(names, ["SKR_9998", "SKR_9999", "SKR_0001", "SKR_0002"])
            self.assertIn("SKR_0001 is the first after it", self.findings("wrapped counter")[0].sentence)

    def test_a_file_without_a_header_began_its_length_before_it_was_closed(self):
        make.add_avchd(self.card, count=1, start=START)
        (clip,) = self.described().clips
        self.assertAlmostEqual(clip.starts.timestamp(), START.timestamp(), delta=0.05)
        self.assertEqual(clip.time_from, "file")


class Oddities(MadeCard):
    def test_mixed_owners_are_told_by_their_bodies(self):
        traps.mix_owners(self.card, START)
        (finding,) = self.findings("mixed bodies")
        self.assertIn("Lanternworks Tern (4 clips), Lanternworks Gannet (2 clips)", finding.sentence)

    def test_links_pipes_and_loops_are_named_and_never_followed(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START)
        traps.add_links_and_pipes(self.card)
        (finding,) = self.findings("odd entry")
        self.assertEqual(finding.paths, ("nowhere", "out", "pipe", "round"))

    def test_hostile_names_survive_and_twins_are_named(self):
        traps.add_hostile_names(self.card, START)
        described = self.described()
        names = {os.fsencode(Path(clip.main.path).name) for clip in described.clips}
        held = names | {os.fsencode(Path(entry.path).name) for entry in described.loose}
        held |= {os.fsencode(Path(entry.path).name) for clip in described.clips for entry in clip.entries}
        self.assertEqual(held, set(traps.HOSTILE_NAMES))
        (twins,) = self.findings("twin names")
        self.assertEqual(len(twins.paths), 4, "é in both forms, and Case with CASE")

    def test_sparse_and_empty_files_are_described_without_being_read_through(self):
        traps.add_sparse_and_empty(self.card, START)
        described = self.described()
        self.assertEqual(sorted(clip.bytes for clip in described.clips), [0, 5 * 2**30])
        self.assertIn("2 headers not read whole", self.findings("header")[0].sentence)

    def test_counts_are_of_clips_by_kind(self):
        for name in ("DCIM", "M4ROOT", "sound recorder"):
            LAYOUTS[name](self.card)
        counts = contents(self.described())
        self.assertEqual((counts.stills, counts.video, counts.sound, counts.sidecars, counts.other), (2, 2, 2, 4, 2))

    def test_recognising_needs_the_listing_alone(self):
        LAYOUTS["DCIM"](self.card)
        self.assertEqual(recognise(list_card(FolderSource(self.card))), "DCIM")
