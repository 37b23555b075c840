"""Plans, templates, tags, and what file systems can hold."""

import os
import shutil
import subprocess
import tempfile
import unicodedata
from datetime import UTC
from pathlib import Path
from unittest import TestCase, skipUnless
from zoneinfo import ZoneInfo

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.errors import PlanError
from ruggedraft.core.naming import FILE_SYSTEMS, NamingPlan, name_files, name_problems, roll_folder, roll_tag
from ruggedraft.core.naming.file_systems import APFS, EXFAT, EXT, FAT32, NTFS, mended
from ruggedraft.core.sources import FolderSource, list_card
from ruggedraft.standins import card_maker as make
from ruggedraft.standins.card_maker import traps

from .made_card import START, MadeCard

_ANY = st.characters(exclude_categories=["Cs"], exclude_characters="/\0") | st.sampled_from("\udc80\udce9\udcff")
"""What a name can be made of, bytes that are no UTF-8 among it."""
VALUES = {
    "production": "Heron: day/night", "date": "2026-05-14", "year": "2026", "month": "05", "day": "14", "camera": "A",
    "roll": "A012", "card": "A-01", "job": "Launch", "fleet": "Skerrow", "model": "Tern", "text": "",
}  # fmt: skip


class Folders(TestCase):
    def test_the_folders_people_really_use(self):
        """Common practice, no source: production / date / roll; nested years; job; date first (ISO 8601)."""
        for template, folder in {
            "{production}/{date}/{roll}": "Heron- day-night/2026-05-14/A012",
            "{date} {production}/{roll}": "2026-05-14 Heron- day-night/A012",
            "{year}/{month}/{day}/{roll}": "2026/05/14/A012",
            "{fleet}/{job:upper} {roll}": "Skerrow/LAUNCH A012",
            "{roll:lower}": "a012",
        }.items():
            self.assertEqual(roll_folder(NamingPlan(template), VALUES), folder)

    def test_what_cannot_be_a_folder_is_refused_in_a_sentence(self):
        for template in (
            "{date}", "{roll}/..", "{roll}/{nothing}", "/{roll}", "{roll}/", "{roll", "a\\{roll}", "{roll}.",
            "{roll!r}",
            "{roll}/{text}", "{roll:4}", "{roll:title}", "{roll}/{name}", "{roll}/{0}",
        ):  # fmt: skip
            with self.subTest(template), self.assertRaises(PlanError) as raised:
                roll_folder(NamingPlan(template), VALUES)
            self.assertGreater(len(str(raised.exception)), 30)

    def test_two_rolls_never_share_a_name_and_the_cameras_number_is_never_lost(self):
        for plan in (
            NamingPlan("{date}"), NamingPlan("{date}", "{name}"), NamingPlan(names="{number:4}"),
            NamingPlan(names="{roll}_{date}"),
        ):  # fmt: skip
            with self.subTest(plan), self.assertRaises(PlanError):
                plan.checked()
        NamingPlan("{date}", "{roll}_{counter}").checked()

    def test_tags_sort_and_grow(self):
        """Common practice, no source: three digits sort up to 999."""
        tags = [roll_tag("A", n, 3) for n in (1, 2, 10, 99, 100, 999)]
        self.assertEqual(tags, sorted(tags))
        self.assertEqual(roll_tag("A", 1000, 3), "A1000")
        self.assertNotEqual(roll_tag("R1", 1, 3), roll_tag("R", 1001, 3))


class FilesOfACard(MadeCard):
    def named(self, plan: NamingPlan, **others) -> dict[str, str]:
        return name_files(self.described(), plan, VALUES, **{"zone": UTC, **others}).kept_as

    def test_by_default_the_cards_own_tree_stays(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=2, start=START)
        named = self.named(NamingPlan())
        self.assertEqual(set(named), {entry.path for entry in list_card(FolderSource(self.card)).files})
        self.assertTrue(all(path == kept for path, kept in named.items()))

    def test_raw_jpeg_and_sidecars_of_one_picture_keep_one_base_name_in_one_folder(self):
        make.add_stills(self.card, prefix="SKR_", first=9998, count=3, start=START)
        make.add_file(self.card, "DCIM/100SKERR/SKR_9998.XMP", b"<x/>", START)
        named = self.named(NamingPlan(names="{date}/{roll}_{number:4}_{counter}", start=10))
        self.assertEqual(
            sorted(named.values()),
            [
                "2026-05-14/A012_0010_9998.DNG", "2026-05-14/A012_0010_9998.JPG", "2026-05-14/A012_0010_9998.XMP",
                "2026-05-14/A012_0011_9999.DNG", "2026-05-14/A012_0011_9999.JPG",
                "2026-05-14/A012_0012_0001.DNG", "2026-05-14/A012_0012_0001.JPG",
            ],
        )  # fmt: skip

    def test_a_roll_that_goes_on_keeps_its_names_and_never_gives_a_number_twice(self):
        plan = NamingPlan(names="{roll}_{number:3}_{name}")
        make.add_stills(self.card, prefix="SKR_", first=5, count=2, start=START)
        before = self.named(plan)
        make.add_stills(self.card, prefix="SKR_", first=1, count=2, start=START.replace(hour=7))
        after = self.named(plan, kept=before)
        self.assertEqual({path: after[path] for path in before}, before)
        self.assertEqual(len(set(after.values())), len(after))

    def test_files_that_refer_to_one_another_by_name_keep_theirs_whatever_the_plan_says(self):
        make.add_m4root(self.card, count=1, start=START)
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START)
        names = name_files(self.described(), NamingPlan(names="{roll}_{name}"), VALUES, zone=UTC)
        self.assertEqual(names.whole, 1)
        moved = {path for path, kept in names.kept_as.items() if kept != path}
        self.assertEqual(moved, {"DCIM/100SKERR/SKR_0001.JPG", "DCIM/100SKERR/SKR_0001.DNG"})

    def test_tracks_and_chapters_stay_apart_under_their_clips_name(self):
        make.add_sound(self.card, day="DAY1", first=1, count=1, start=START, tracks=2)
        traps.add_split_recording(self.card, parts=2, start=START, limit=400_000)
        named = self.named(NamingPlan(names="{roll}_{name}"))
        self.assertEqual(len(set(named.values())), len(named))

    def test_times_are_the_productions_own(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START, kinds=["JPG"])
        zone = ZoneInfo("Pacific/Auckland")
        ((_, kept),) = self.named(NamingPlan(names="{roll}/{taken}_{time}_{name}"), zone=zone).items()
        self.assertEqual(kept, "A012/2026-05-14_213000_SKR_0001.JPG")

    def test_names_wanted_twice_are_told(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START, tree="100SKERR", kinds=["JPG"])
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START, tree="101SKERR", kinds=["JPG"])
        names = name_files(self.described(), NamingPlan(names="{roll}_{name}"), VALUES, zone=UTC)
        self.assertEqual(names.collisions, {"A012_SKR_0001.JPG": 2})

    def test_a_folder_of_many_rolls_keeps_what_belongs_to_no_clip_apart(self):
        make.add_stills(self.card, prefix="SKR_", first=1, count=1, start=START, kinds=["JPG"])
        make.add_file(self.card, "odds.bin", b"x", START)
        named = self.named(NamingPlan("{date}", "{roll}_{name}"))
        self.assertEqual(named["odds.bin"], "A012/odds.bin")


class FileSystems(TestCase):
    """Microsoft, 'FAT File System Specification' 1.03; 'exFAT file system specification' 1.00, 7.7.3, Table 35."""

    def reason(self, path: str, file_system, size: int = 1) -> str:
        found = name_problems([(path, size)], file_system)
        return found[0].reason if found else ""

    def test_sizes(self):
        self.assertEqual(self.reason("a", FAT32, 2**32 - 1), "")
        self.assertIn("4 GiB", self.reason("a", FAT32, 2**32))
        self.assertEqual(self.reason("a", EXFAT, 2**40), "")

    def test_characters_of_the_specification(self):
        for character in [*map(chr, range(1, 32)), *'"*:<>?\\|']:
            for file_system in (FAT32, EXFAT, NTFS):
                self.assertIn("cannot hold", self.reason(f"a{character}b", file_system), repr(character))
            self.assertEqual(self.reason(f"a{character}b", EXT), "")
        for character in "'+,;=[]!#$%&()-@^_`{}~ é\N{CAT FACE}":
            self.assertEqual(self.reason(f"a{character}b", FAT32), "", character)

    def test_lengths_count_in_the_file_systems_own_units(self):
        self.assertEqual(self.reason("é" * 255, EXFAT), "")
        self.assertIn("255", self.reason("é" * 256, EXFAT))
        self.assertIn("255", self.reason("é" * 128, EXT))
        self.assertIn("255", self.reason("\N{CAT FACE}" * 128, EXFAT), "a character outside the first plane is two")

    def test_device_names_trailing_dots_and_names_that_are_no_unicode(self):
        """Microsoft, 'Naming Files, Paths, and Namespaces'."""
        for name in ("CON", "con.jpg", "LPT1", "name.", "name ", "latin-\udce9"):
            self.assertTrue(self.reason(name, NTFS), name)
        for name in ("CONTENTS", "COM", "LPT10", ".name"):
            self.assertEqual(self.reason(name, NTFS), "", name)

    def test_twins(self):
        case, forms = [("Case", 1), ("CASE", 1)], [("caf\u00e9", 1), ("cafe\u0301", 1)]
        self.assertEqual([len(name_problems(case, one)) for one in (FAT32, EXFAT, NTFS, APFS, EXT)], [1, 1, 1, 1, 0])
        self.assertEqual([len(name_problems(forms, one)) for one in (FAT32, EXFAT, NTFS, APFS, EXT)], [0, 0, 0, 1, 0])

    @given(st.lists(st.text(_ANY, min_size=1, max_size=300), unique=True, max_size=6))
    def test_what_is_mended_fits_and_stays_apart(self, names):
        names = [name for name in names if name not in (".", "..")]
        for file_system in FILE_SYSTEMS.values():
            problems = {one.path: one.mend for one in name_problems([(name, 1) for name in names], file_system)}
            after = [problems.get(name, name) for name in names]
            self.assertEqual([one.reason for one in name_problems([(n, 1) for n in after], file_system)], [], after)

    def test_a_mend_keeps_the_ending(self):
        self.assertEqual(mended("take: 3?.WAV", FAT32), "take_ 3_.WAV")
        self.assertTrue(mended("x" * 300 + ".JPG", EXFAT).endswith("x.JPG"))

    def test_hostile_names_of_a_real_card_can_be_mended_for_every_file_system(self):
        with tempfile.TemporaryDirectory() as folder:
            traps.add_hostile_names(Path(folder), START)
            paths = [(entry.path, entry.size) for entry in list_card(FolderSource(Path(folder))).files]
        for file_system in FILE_SYSTEMS.values():
            mends = {one.path: one.mend for one in name_problems(paths, file_system)}
            keys = {file_system.key(mends.get(path, path)) for path, _ in paths}
            self.assertEqual(len(keys), len(paths), file_system.name)


@skipUnless(shutil.which("mkfs.exfat") and os.path.exists("/dev/fuse"), "no exFAT tools, or no FUSE on this machine")  # noqa: PTH110
class ARealExfat(TestCase):
    """The same judgements by a real exFAT file system, through FUSE."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)
        disk, self.there = self.base / "disk", self.base / "there"
        disk.touch()
        os.truncate(disk, 64 * 2**20)
        self.there.mkdir()
        subprocess.run(["mkfs.exfat", disk], check=True, capture_output=True)
        loop = subprocess.run(["losetup", "-f", "--show", disk], capture_output=True, text=True)
        if loop.returncode:
            self.skipTest(f"no loop device is to be had here: {loop.stderr.strip()}")
        device = loop.stdout.strip()
        self.addCleanup(subprocess.run, ["losetup", "-d", device], check=True)
        mounted = subprocess.run(["mount.exfat-fuse", device, self.there], capture_output=True, text=True)
        if mounted.returncode:
            self.skipTest(f"FUSE is not to be had here: {mounted.stderr.strip()}")
        self.addCleanup(subprocess.run, ["umount", str(self.there)], check=True)

    def holds(self, name: str) -> bool:
        try:
            (self.there / name).write_bytes(b"x")
        except (OSError, ValueError):
            return False
        return unicodedata.normalize("NFC", name) in {unicodedata.normalize("NFC", n) for n in os.listdir(self.there)}

    def test_it_refuses_what_we_say_it_refuses_and_holds_every_mend(self):
        for name in ("a:b", 'a"b', "a*b", "a?b", "a<b", "a|b", "é" * 256, "é" * 255, "plain", "\N{CAT FACE}" * 127):
            problems = name_problems([(name, 1)], EXFAT)
            with self.subTest(name):
                self.assertEqual(self.holds(name), not problems)
                self.assertTrue(self.holds(problems[0].mend if problems else name))
