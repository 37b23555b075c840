"""Clips of several cameras that recorded the same action. Invented rigs; what is odd in them is known."""

import random
from dataclasses import dataclass, field
from unittest import TestCase

from ruggedraft.core.rigs import Alignment, OddKind, RigClip, align, arrange

NOON = 1_778_760_000.0


@dataclass
class MadeRig:
    """A rig and what is odd in it: clips by camera and name, and missed shots by camera and the shot's start."""

    clips: dict[str, list[RigClip]]
    odd: set[tuple[str, str]] = field(default_factory=set)
    missed: set[tuple[str, int]] = field(default_factory=set)


def make_rig(seed: int, *, cameras: int = 4, shots: int = 24) -> MadeRig:
    """Clocks up to 40 s apart and drifting by up to 40 ppm; one clip in about thirty has something wrong with it."""
    chance = random.Random(seed)
    names = [f"R{n}" for n in range(1, cameras + 1)]
    ahead = {name: chance.uniform(-40, 40) for name in names}
    drift = {name: chance.uniform(-40e-6, 40e-6) for name in names}
    rig, at = MadeRig({name: [] for name in names}), NOON
    for shot in range(shots):
        at += chance.uniform(45, 600)
        length = chance.uniform(6, 240)
        for name in names:
            _record(rig, chance, name, shot, at + chance.uniform(-0.3, 0.3), length + chance.uniform(-0.4, 0.4))
        if chance.random() < 0.12:
            who = chance.choice(names)
            rig.clips[who].append(RigClip(who, f"{who}-extra{shot}", at + length + chance.uniform(8, 25), 2.0))
            rig.odd.add((who, f"{who}-extra{shot}"))
        at += length + 30
    for name, clips in rig.clips.items():
        rig.clips[name] = [
            RigClip(name, c.name, c.start + ahead[name] + drift[name] * (c.start - NOON), c.length) for c in clips
        ]
    return rig


def _record(rig: MadeRig, chance: random.Random, name: str, shot: int, at: float, length: float) -> None:
    clip, fate = f"{name}-{shot}", chance.random()
    if fate < 0.012:
        rig.missed.add((name, shot))
    elif fate < 0.024 and length > 20:
        first = length * chance.uniform(0.3, 0.6)
        rest = length - first - 1
        rig.clips[name] += [RigClip(name, clip, at, first), RigClip(name, clip + "b", at + first + 1, rest)]
        rig.odd |= {(name, clip), (name, clip + "b")}
    elif fate < 0.036:
        rig.clips[name].append(RigClip(name, clip, at, length * chance.uniform(0.2, 0.6)))
        rig.odd.add((name, clip))
    else:
        rig.clips[name].append(RigClip(name, clip, at, length))


def found_odd(alignment: Alignment) -> set[tuple[str, str]]:
    clips = {(odd.camera, odd.clip.name) for odd in alignment.odd if odd.clip}
    return clips | {(odd.camera, f"missing {_shot_of(alignment, odd.shot)}") for odd in alignment.odd if not odd.clip}


def _shot_of(alignment: Alignment, number: int | None) -> int:
    """Which of the made shots this is, by its clips' names."""
    names = [clip.name for clip in alignment.shots[(number or 1) - 1].clips.values()]
    return max({int(name.split("-")[1].rstrip("b")) for name in names if "extra" not in name}, default=-1)


def odd_by_index(rig: MadeRig) -> set[tuple[str, str]]:
    """What a plain match of the first with the first, the second with the second … would call odd."""
    found = set()
    for n in range(max(len(clips) for clips in rig.clips.values())):
        row = {name: sorted(clips, key=lambda c: c.start)[n] for name, clips in rig.clips.items() if n < len(clips)}
        usual = sorted(clip.length for clip in row.values())[len(row) // 2]
        found |= {(name, clip.name) for name, clip in row.items() if abs(clip.length - usual) > max(1.5, 0.03 * usual)}
        found |= {(name, f"missing {n}") for name in rig.clips if name not in row}
    return found


def score(odd_of, rigs: list[MadeRig]) -> tuple[float, float]:
    """Precision and recall over all rigs."""
    right = told = there = 0
    for rig in rigs:
        truth = rig.odd | {(name, f"missing {shot}") for name, shot in rig.missed}
        said = odd_of(rig)
        right, told, there = right + len(truth & said), told + len(said), there + len(truth)
    return right / told, right / there


class OddClips(TestCase):
    def test_odd_clips_are_found_and_named_far_better_than_by_counting(self):
        rigs = [make_rig(seed, cameras=cameras) for cameras in (4, 5, 8, 16) for seed in range(40)]
        precision, recall = score(lambda rig: found_odd(align(rig.clips)), rigs)
        by_index = score(odd_by_index, rigs)
        self.assertGreaterEqual(precision, 0.98, f"{precision:.4f}; by index {by_index}")
        self.assertGreaterEqual(recall, 0.98, f"{recall:.4f}; by index {by_index}")
        self.assertLess(by_index[0], 0.5)

    def test_clocks_that_are_apart_are_found(self):
        rig = make_rig(3)
        moved = {
            n: [RigClip(n, c.name, c.start + 100 * (n == "R2"), c.length) for c in cs] for n, cs in rig.clips.items()
        }
        before, after = align(rig.clips).ahead_s, align(moved).ahead_s
        self.assertAlmostEqual((after["R2"] - after["R1"]) - (before["R2"] - before["R1"]), 100, delta=0.5)

    def test_a_sentence_names_the_camera_the_clip_and_its_length(self):
        clips = {n: [RigClip(n, f"C{i}", NOON + 100 * i, 30) for i in range(4)] for n in ("R1", "R2", "R3", "R4")}
        clips["R3"].append(RigClip("R3", "OOPS", NOON + 250, 2))
        del clips["R4"][1]
        odd = align(clips).odd
        self.assertEqual([one.kind for one in odd], [OddKind.MISSING, OddKind.EXTRA])
        self.assertEqual(odd[0].sentence, "R4 has no clip of shot 2, which is 30 s long")
        self.assertEqual(odd[1].sentence, "R3 has a 2-second clip, OOPS, that no other camera has")

    def test_cameras_without_clips_or_a_rig_of_nothing_do_no_harm(self):
        self.assertEqual(align({"R1": [], "R2": []}).shots, ())
        alone = align({"R1": [RigClip("R1", "A", NOON, 5)], "R2": [], "R3": []})
        self.assertEqual([one.kind for one in alone.odd], [OddKind.EXTRA])


class Arranging(TestCase):
    def test_one_folder_a_shot_one_clip_a_camera_numbered_on(self):
        clips = {n: [RigClip(n, f"C{i}", NOON + 100 * i, 30) for i in range(3)] for n in ("R1", "R2", "R3")}
        clips["R2"].append(RigClip("R2", "OOPS", NOON + 250, 2))
        alignment = align(clips)
        numbers = arrange(alignment, start=7)
        self.assertEqual(numbers, {(n, f"C{i}"): 7 + i for n in clips for i in range(3)})
        without = arrange(alignment, start=7, without={("R1", "C0")})
        self.assertNotIn(("R1", "C0"), without)

    def test_shots_that_were_taken_before_keep_their_numbers_and_no_number_comes_twice(self):
        clips = {n: [RigClip(n, f"C{i}", NOON + 100 * i, 30) for i in range(3)] for n in ("R1", "R2", "R3")}
        numbers = arrange(align(clips), start=1, taken={"R1/C1": 4})
        self.assertEqual([numbers["R1", f"C{i}"] for i in range(3)], [5, 4, 6])
