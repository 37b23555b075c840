"""Rolls are found on a store whatever their folders are called; what is like nothing is told."""

import unittest

from ruggedraft.core.recognising import KnownFile, Recognised, Stranger, recognise

CLIPS = {f"CONTENTS/C{n:04}.MXF": 1000 + n for n in range(6)} | {"CONTENTS/INDEX.XML": 40}
STILLS = {f"DCIM/100AAAAA/AAAA{n:04}.JPG": 5000 + n for n in range(4)}


def known(**rolls: dict[str, int]) -> tuple[list[KnownFile], dict[int, int]]:
    """Rolls by number, as r1=…, r2=…"""
    files = [KnownFile(int(name[1:]), path, size) for name, held in rolls.items() for path, size in held.items()]
    return files, {int(name[1:]): len(held) for name, held in rolls.items()}


def lying(folder: str, files: dict[str, int]) -> dict[str, int]:
    return {f"{folder}/{path}" if folder else path: size for path, size in files.items()}


class Recognising(unittest.TestCase):
    def test_a_roll_in_a_folder_of_any_name_or_in_none(self):
        for folder in ("Heron/2026-05-14/A001", "renamed by somebody", ""):
            with self.subTest(folder):
                found = recognise(lying(folder, CLIPS), *known(r1=CLIPS, r2=STILLS))
                self.assertEqual(found.rolls, (Recognised(1, folder, 7, sum(CLIPS.values())),))
                self.assertEqual(found.strangers, ())

    def test_half_of_a_roll_and_twice_the_same_roll(self):
        half = dict(list(CLIPS.items())[:4])
        found = recognise(lying("a", half) | lying("b/c", CLIPS), *known(r1=CLIPS))
        self.assertEqual([(one.folder, one.files) for one in found.rolls], [("b/c", 7), ("a", 4)])

    def test_two_rolls_with_the_same_names_and_other_sizes(self):
        other = {path: size + 1 for path, size in CLIPS.items()}
        found = recognise(lying("x", other) | lying("y", CLIPS), *known(r1=CLIPS, r2=other))
        self.assertEqual([(one.roll, one.folder) for one in found.rolls], [(2, "x"), (1, "y")])

    def test_a_likeness_by_chance_is_none(self):
        found = recognise({"papers/INDEX.XML": 40, "papers/budget": 7}, *known(r1=CLIPS))
        self.assertEqual(found.rolls, ())
        self.assertEqual(found.strangers, (Stranger("papers", 2, 47),))

    def test_the_rest_of_a_copy_that_is_known_is_no_stranger(self):
        rest = dict(list(CLIPS.items())[:1])
        self.assertEqual(len(recognise(lying("a", rest), *known(r1=CLIPS)).strangers), 1)
        found = recognise(lying("a", rest), *known(r1=CLIPS), [(1, "a")])
        self.assertEqual(([(one.folder, one.files) for one in found.rolls], found.strangers), ([("a", 1)], ()))

    def test_a_name_that_only_ends_alike_is_another(self):
        found = recognise({"xCONTENTS/C0000.MXF": 1000}, *known(r1={"CONTENTS/C0000.MXF": 1000}))
        self.assertEqual(found.rolls, ())

    def test_what_is_ours_or_the_systems_is_nobodys(self):
        there = {".raft-store": 36, ".raft-set-aside/1/A/x": 9, "lost+found/#12": 4, "System Volume Information/x": 2}
        self.assertEqual(recognise(there, [], {}).strangers, ())

    def test_a_hundred_thousand_files_are_matched(self):
        rolls = {f"r{n}": {f"DCIM/{i // 999}/{i:05}.JPG": 4_000_000 + (n * 7919 + i) % 100_000 for i in range(10_000)}
                 for n in range(10)}  # fmt: skip
        there = {path: size for n in range(10) for path, size in lying(f"old/{n}", rolls[f"r{n}"]).items()}
        found = recognise(there, *known(**rolls))
        self.assertEqual({(one.roll, one.folder) for one in found.rolls if one.files == 10_000},
                         {(n, f"old/{n}") for n in range(10)})  # fmt: skip
        self.assertEqual(found.strangers, ())
