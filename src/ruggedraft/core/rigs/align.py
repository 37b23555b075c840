"""Lining up the clips of a rig by when they began and how long they are."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import median

from .clocks import ClockLine, fitted, lines_of

_TOGETHER = 2.0
"""Seconds within which the cameras of a rig start a shot."""
_ROUNDS = 3


@dataclass(frozen=True)
class RigClip:
    """One clip. start: seconds since 1970-01-01 UTC by its camera's clock. length: seconds.

    name: as people call it. path: of its main file, where names come twice on a card
    """

    camera: str
    name: str
    start: float
    length: float
    path: str = ""

    @property
    def key(self) -> str:
        """What tells it from its camera's other clips."""
        return self.path or self.name


@dataclass(frozen=True)
class Shot:
    """A shot: at most one clip a camera (of a split one the first part). start: by the rig's clock; length: seconds."""

    number: int
    start: float
    length: float
    clips: Mapping[str, RigClip]


class OddKind(StrEnum):
    """What does not fit."""

    EXTRA = "extra"
    """no other camera has it, or too few"""
    MISSING = "missing"
    """the others have this shot, this camera has not"""
    SHORT = "short"
    """it ended before the others, or went on after them"""
    SPLIT = "split"
    """one camera stopped and went on within a shot"""


@dataclass(frozen=True)
class Odd:
    """Something that does not fit. clip: None where it is missing. at: seconds by the rig's clock. shot: its number."""

    kind: OddKind
    camera: str
    clip: RigClip | None
    at: float
    shot: int | None
    sentence: str


@dataclass(frozen=True)
class Alignment:
    """shots in order of time. odd in order of time. ahead_s: how far each camera's clock is ahead of the rig's."""

    shots: tuple[Shot, ...]
    odd: tuple[Odd, ...]
    ahead_s: Mapping[str, float]

    @property
    def even(self) -> bool:
        """Whether everything fits."""
        return not self.odd


def align(cameras: Mapping[str, Sequence[RigClip]]) -> Alignment:
    """Line up the clips of two or more cameras. A shot is what more than half of them have."""
    clips = {camera: sorted(found, key=lambda clip: clip.start) for camera, found in sorted(cameras.items())}
    lines = lines_of({camera: [(clip.start, clip.length) for clip in found] for camera, found in clips.items()})
    for _ in range(_ROUNDS):
        lines = _refitted(clips, lines, _shots_among(_grouped(clips, lines), len(clips)))
    groups = _grouped(clips, lines)
    real = _shots_among(groups, len(clips))
    shots = tuple(group.as_shot(number) for number, group in enumerate(real, 1))
    strays, splits = _splits(shots, _strays(groups, real), lines)
    odd = [*splits, *_extras(strays, len(clips)), *_within(shots, clips, splits)]
    origin = median(line.ahead_s for line in lines.values())
    return Alignment(
        shots,
        tuple(sorted(odd, key=lambda one: (one.at, one.camera))),
        {camera: line.ahead_s - origin for camera, line in lines.items()},
    )


@dataclass(frozen=True)
class _Group:
    """Clips that began together, with their times by the rig's clock; one a camera."""

    members: tuple[tuple[RigClip, float], ...]

    def is_shot(self, cameras: int) -> bool:
        """Whether more than half of so many cameras were recording."""
        return len(self.members) * 2 > cameras

    @property
    def start(self) -> float:
        """Seconds, by the rig's clock."""
        return median(at for _, at in self.members)

    @property
    def length(self) -> float:
        """Seconds."""
        return median(clip.length for clip, _ in self.members)

    def as_shot(self, number: int) -> Shot:
        """The same as a shot of this number."""
        return Shot(number, self.start, self.length, {clip.camera: clip for clip, _ in self.members})


def _shots_among(groups: Sequence[_Group], cameras: int) -> list[_Group]:
    return [group for group in groups if group.is_shot(cameras)]


def _grouped(clips: Mapping[str, Sequence[RigClip]], lines: Mapping[str, ClockLine]) -> list[_Group]:
    """Clips by when they began. A camera's second clip within the same moment is a group of its own."""
    timed = [(clip, lines[camera].rig_time(clip.start)) for camera, found in clips.items() for clip in found]
    timed.sort(key=lambda one: (one[1], one[0].camera))
    bunches: list[list[tuple[RigClip, float]]] = []
    for clip, at in timed:
        if bunches and at - bunches[-1][0][1] <= _TOGETHER:
            bunches[-1].append((clip, at))
        else:
            bunches.append([(clip, at)])
    return [group for bunch in bunches for group in _one_a_camera(bunch)]


def _one_a_camera(bunch: list[tuple[RigClip, float]]) -> list[_Group]:
    """Of a camera's clips in a bunch, the one that fits the others best stays with them."""
    middle = median(at for _, at in bunch)
    usual = median(clip.length for clip, _ in bunch)
    kept: dict[str, tuple[RigClip, float]] = {}
    rest: list[tuple[RigClip, float]] = []
    for one in sorted(bunch, key=lambda member: abs(member[1] - middle) + abs(member[0].length - usual)):
        if one[0].camera in kept:
            rest.append(one)
        else:
            kept[one[0].camera] = one
    return [_Group(tuple(kept.values())), *(_Group((one,)) for one in rest)]


def _refitted(
    clips: Mapping[str, Sequence[RigClip]], lines: Mapping[str, ClockLine], shots: Sequence[_Group]
) -> dict[str, ClockLine]:
    pairs: dict[str, list[tuple[float, float]]] = {camera: [] for camera in clips}
    for shot in shots:
        for clip, _ in shot.members:
            pairs[clip.camera].append((clip.start, shot.start))
    return {camera: fitted(pairs[camera], lines[camera]) for camera in clips}


def _differs(clip: RigClip, length: float) -> bool:
    return abs(clip.length - length) > max(1.5, 0.03 * length)


def _strays(groups: Sequence[_Group], real: Sequence[_Group]) -> list[tuple[RigClip, float]]:
    """The clips of groups that are no shot, with their moments on the rig's clock."""
    return [(clip, at) for group in groups if group not in real for clip, at in group.members]


def _splits(
    shots: Sequence[Shot], stray: Sequence[tuple[RigClip, float]], lines: Mapping[str, ClockLine]
) -> tuple[list[tuple[RigClip, float]], list[Odd]]:
    """Strays that go on where a clip of the same camera ended within a shot; and the strays that remain."""
    found: list[Odd] = []
    rest: list[tuple[RigClip, float]] = []
    for clip, at in sorted(stray, key=lambda one: one[1]):
        shot = next((shot for shot in shots if _goes_on(shot, clip, at)), None)
        if shot is None:
            rest.append((clip, at))
            continue
        first = shot.clips[clip.camera]
        words = f"{clip.camera} stopped and went on within shot {shot.number}: {first.name} and {clip.name}"
        if not any(odd.clip is first for odd in found):
            found.append(Odd(OddKind.SPLIT, clip.camera, first, shot.start, shot.number, words))
        found.append(Odd(OddKind.SPLIT, clip.camera, clip, at, shot.number, words))
    return rest, found


def _goes_on(shot: Shot, clip: RigClip, at: float) -> bool:
    """Both parts together are as long as the shot, give or take the moment between them."""
    first = shot.clips.get(clip.camera)
    if first is None or not _differs(first, shot.length) or first.length >= shot.length:
        return False
    ended, tolerance = shot.start + first.length, max(2.5, 0.03 * shot.length)
    return -1.0 <= at - ended <= 5.0 and abs(at + clip.length - (shot.start + shot.length)) <= tolerance


def _extras(stray: Sequence[tuple[RigClip, float]], cameras: int) -> list[Odd]:
    found = []
    for clip, at in stray:
        others = {one.camera for one, when in stray if abs(when - at) <= _TOGETHER and one.camera != clip.camera}
        who = "no other camera has" if not others else f"only {', '.join(sorted(others))} of {cameras - 1} others have"
        words = f"{clip.camera} has a {_span(clip.length)}clip, {clip.name}, that {who}"
        found.append(Odd(OddKind.EXTRA, clip.camera, clip, at, None, words))
    return found


def _within(shots: Sequence[Shot], clips: Mapping[str, Sequence[RigClip]], splits: Sequence[Odd]) -> list[Odd]:
    told = {id(odd.clip) for odd in splits}
    found = []
    for shot in shots:
        for camera in clips:
            clip = shot.clips.get(camera)
            if clip is None:
                words = f"{camera} has no clip of shot {shot.number}, which is {_long(shot.length)} long"
                found.append(Odd(OddKind.MISSING, camera, None, shot.start, shot.number, words))
            elif id(clip) not in told and _differs(clip, shot.length):
                words = f"{camera}'s clip of shot {shot.number}, {clip.name}, is {_long(clip.length)} long"
                words += f", the others' {_long(shot.length)}"
                found.append(Odd(OddKind.SHORT, camera, clip, shot.start, shot.number, words))
    return found


def _span(seconds: float) -> str:
    """Nothing before its header was read."""
    if not seconds:
        return ""
    return f"{seconds:.0f}-second " if seconds < 90 else f"{seconds / 60:.0f}-minute "


def _long(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 90 else f"{int(seconds // 60)} min {int(seconds % 60):02d} s"
