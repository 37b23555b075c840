"""Lines of a report against the clips of rolls: what belongs together, and what one has and the other has not."""

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..wording import either, first_of
from .clips import fitting
from .columns import ReportLine


class MismatchKind(StrEnum):
    """What does not agree."""

    NO_ROLL = "no roll"
    """the report names a roll that is not here"""
    NO_CLIP = "no clip"
    """the report has a clip that the roll has not"""
    NOT_REPORTED = "not reported"
    """the roll has recordings that the report has not"""
    UNCERTAIN = "uncertain"
    """a line fits several clips, or several lines fit one"""


@dataclass(frozen=True)
class Mismatch:
    """line: of the report; 0 where it is about none. roll: the roll's tag, or what the report calls it"""

    kind: MismatchKind
    line: int
    roll: str
    sentence: str


@dataclass(frozen=True)
class RollClips:
    """A roll as reports are held against it. clips: name of each clip by the path of its main file

    recordings: those of them that a report is expected to name: moving pictures and sound, no stills
    left: base names of files that were left on the card on purpose
    """

    tag: str
    clips: Mapping[str, str]
    recordings: frozenset[str]
    left: tuple[str, ...] = ()


@dataclass(frozen=True)
class Matched:
    """clips: of the line's number the main path of its clip. rolls: and the tag of its roll"""

    rolls: Mapping[int, str]
    clips: Mapping[int, str]
    mismatches: tuple[Mismatch, ...]


def rolls_named(lines: Iterable[ReportLine], tags: Iterable[str]) -> dict[int, tuple[str, ...]]:
    """By the line's number the tags that it may mean: one where it is certain, none where no roll is called so.

    A number alone means every roll that has it. tags: of the production's rolls
    """
    called, numbered = defaultdict[tuple[str, int], list[str]](list), defaultdict[int, list[str]](list)
    for tag in tags:
        key = roll_key(tag)
        called[key].append(tag)
        numbered[key[1]].append(tag)
    return {line.line: tuple(_meant(roll_key(line.roll), called, numbered)) for line in lines}


def _meant(
    key: tuple[str, int], called: Mapping[tuple[str, int], Sequence[str]], numbered: Mapping[int, Sequence[str]]
) -> Sequence[str]:
    letters, number = key
    return called.get(key, ()) if letters or not number else numbered.get(number, ())


def roll_key(said: str) -> tuple[str, int]:
    """What is equal of two ways to write a roll's tag.

    >>> roll_key("A012"), roll_key(" a 12"), roll_key("R1_003"), roll_key("Mag B")
    (('A', 12), ('A', 12), ('R1', 3), ('MAGB', 0))
    """
    parts = re.fullmatch(r"(.*?)[\W_]*?0*(\d+)", said.strip().upper())
    head, number = (parts[1], int(parts[2])) if parts else (said.upper(), 0)
    return re.sub(r"[\W_]", "", head), number


@dataclass(frozen=True)
class _Placed:
    """A line. tags: of rolls that it may mean. roll: where that is certain. fits: paths of clips that it fits"""

    line: ReportLine
    tags: tuple[str, ...]
    roll: RollClips | None
    fits: tuple[str, ...]

    @property
    def clip(self) -> str:
        """The path of its clip; empty where none is certain."""
        return self.fits[0] if len(self.fits) == 1 else ""


def matched(lines: Sequence[ReportLine], rolls: Iterable[RollClips]) -> Matched:
    """lines: of one report. rolls: of the production, those at least that it may name"""
    known = {roll.tag: roll for roll in rolls}
    named = rolls_named(lines, known)
    placed = [_placed(line, named[line.line], known) for line in lines]
    parts = (_astray, _twice, _not_reported)
    return Matched(
        {one.line.line: one.roll.tag for one in placed if one.roll},
        {one.line.line: one.clip for one in placed if one.clip},
        tuple(found for part in parts for found in part(placed)),
    )


def _placed(line: ReportLine, tags: tuple[str, ...], known: Mapping[str, RollClips]) -> _Placed:
    roll = known[tags[0]] if len(tags) == 1 else None
    fits = fitting(line.clip, roll.clips, roll.recordings) if roll and line.clip else ()
    return _Placed(line, tags, roll, tuple(fits))


def _astray(placed: Iterable[_Placed]) -> Iterator[Mismatch]:
    """Lines of which the roll or the clip is not here, or not certain."""
    for one in placed:
        if one.roll is None:
            yield _no_roll(one)
        elif one.line.clip and not one.clip:
            yield _no_clip(one.line, one.roll, [one.roll.clips[path] for path in one.fits])


def _no_roll(one: _Placed) -> Mismatch:
    line = one.line
    if one.tags:
        words = f"Line {line.line} of the report names roll {line.roll}, which may be {either(one.tags)}."
        return Mismatch(MismatchKind.UNCERTAIN, line.line, line.roll, words)
    what = f"names roll {line.roll}, which is not here" if line.roll else "names no roll"
    return Mismatch(MismatchKind.NO_ROLL, line.line, line.roll, f"Line {line.line} of the report {what}.")


def _no_clip(line: ReportLine, roll: RollClips, fits: Sequence[str]) -> Mismatch:
    if fits:
        words = f"The report's clip {line.clip} fits several of {roll.tag}: {first_of(fits, 4)}."
        return Mismatch(MismatchKind.UNCERTAIN, line.line, roll.tag, words)
    left = fitting(line.clip, {name: name for name in roll.left})
    rest = f"{first_of(left, 2)} was left on the card on purpose" if left else f"{roll.tag} has not"
    return Mismatch(MismatchKind.NO_CLIP, line.line, roll.tag, f"The report has clip {line.clip}, {rest}.")


def _twice(placed: Sequence[_Placed]) -> Iterator[Mismatch]:
    """Lines that fit one clip together with another line."""
    certain = [(one.line, one.roll, one.clip) for one in placed if one.roll and one.clip]
    named = Counter((roll.tag, clip) for _, roll, clip in certain)
    for line, roll, clip in certain:
        if named[roll.tag, clip] > 1:
            words = f"Several lines of the report fit {roll.clips[clip]} of {roll.tag}; this is line {line.line}."
            yield Mismatch(MismatchKind.UNCERTAIN, line.line, roll.tag, words)


def _not_reported(placed: Sequence[_Placed]) -> Iterator[Mismatch]:
    """Recordings of the rolls that the report names, which it does not have."""
    taken = {(one.roll.tag, one.clip) for one in placed if one.roll}
    for roll in {one.roll.tag: one.roll for one in placed if one.roll}.values():
        rest = sorted(roll.clips[path] for path in roll.recordings if (roll.tag, path) not in taken)
        if rest:
            words = f"{roll.tag} has {first_of(rest, 6)}, the report has not."
            yield Mismatch(MismatchKind.NOT_REPORTED, 0, roll.tag, words)
