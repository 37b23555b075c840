"""Lines of a report against the clips of rolls: what belongs together, and what one has and the other has not."""

import re
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from ..wording import first_of
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


def roll_key(said: str) -> tuple[str, int]:
    """What is equal of two ways to write a roll's tag.

    >>> roll_key("A012"), roll_key(" a 12"), roll_key("R1_003"), roll_key("Mag B")
    (('A', 12), ('A', 12), ('R1', 3), ('MAGB', 0))
    """
    parts = re.fullmatch(r"(.*?)[\W_]*?0*(\d+)", said.strip().upper())
    head, number = (parts[1], int(parts[2])) if parts else (said.upper(), 0)
    return re.sub(r"[\W_]", "", head), number


def matched(lines: Sequence[ReportLine], rolls: Iterable[RollClips]) -> Matched:
    """lines: of one report. rolls: of the production, those at least that it may name"""
    of_line = _rolls_of(lines, rolls)
    clips: dict[int, str] = {}
    found: list[Mismatch] = []
    for line in lines:
        roll = of_line.get(line.line)
        if roll is None:
            found.append(_no_roll(line))
            continue
        if not line.clip:
            continue
        fits = _fitting(line.clip, roll.clips, roll.recordings)
        if len(fits) == 1:
            clips[line.line] = fits[0]
        else:
            found.append(_no_clip(line, roll, [roll.clips[path] for path in fits]))
    found += _twice(lines, of_line, clips)
    named = [roll for tag, roll in {one.tag: one for one in of_line.values() if one}.items() if tag]
    taken = {(roll.tag, clips[n]) for n, roll in of_line.items() if roll and n in clips}
    for roll in named:
        found += _not_reported(roll, {path for tag, path in taken if tag == roll.tag})
    return Matched({n: roll.tag for n, roll in of_line.items() if roll}, clips, tuple(found))


def _rolls_of(lines: Iterable[ReportLine], rolls: Iterable[RollClips]) -> dict[int, RollClips | None]:
    """By the line's number. A number alone means the one roll that has it, where only one does."""
    known, by_number = dict[tuple[str, int], RollClips](), dict[int, list[RollClips]]()
    for roll in rolls:
        key = roll_key(roll.tag)
        known[key] = roll
        by_number.setdefault(key[1], []).append(roll)
    found: dict[int, RollClips | None] = {}
    for line in lines:
        letters, number = roll_key(line.roll)
        alone = by_number.get(number, []) if not letters and number else []
        found[line.line] = alone[0] if len(alone) == 1 else known.get((letters, number))
    return found


def _fitting(said: str, clips: Mapping[str, str], recordings: Collection[str] = ()) -> list[str]:
    """By name; where none is called so, by number, of which a recording goes before a still."""
    wanted = _plain(said.rpartition(".")[0] if re.search(r"\.\w{2,4}$", said) else said)
    exactly = [path for path, name in clips.items() if _plain(name) == wanted]
    if exactly:
        return exactly
    begins = [path for path, name in clips.items() if not wanted.isdigit() and _plain(name).startswith(wanted)]
    if begins:
        return begins
    number = re.fullmatch(r"[^\W\d]*[\W_]*(\d+)", said.strip())
    if not number:
        return []
    numbered = [path for path, name in clips.items() if int(number[1]) in _numbers(name)]
    return [path for path in numbered if path in recordings] or numbered


def _plain(name: str) -> str:
    return re.sub(r"[\W_]", "", name).upper()


def _numbers(name: str) -> set[int]:
    """What a clip is called by its number: behind a C where there is one, else its last digits.

    >>> _numbers("A012_C007"), _numbers("DSC_0412"), sorted(_numbers("GX010023"))
    ({7}, {412}, [23, 10023])
    """
    clip = re.search(r"(?:^|[\W_\d])C(\d{2,})", name.upper())
    digits = clip[1] if clip else next(iter(re.findall(r"\d+", name)[-1:]), "")
    if not digits:
        return set()
    return {int(digits), int(digits[-4:])}


def _no_roll(line: ReportLine) -> Mismatch:
    what = f"names roll {line.roll}" if line.roll else "names no roll"
    rest = ", which is not here" if line.roll else ""
    return Mismatch(MismatchKind.NO_ROLL, line.line, line.roll, f"Line {line.line} of the report {what}{rest}.")


def _no_clip(line: ReportLine, roll: RollClips, fits: Sequence[str]) -> Mismatch:
    if fits:
        words = f"The report's clip {line.clip} fits several of {roll.tag}: {first_of(fits, 4)}."
        return Mismatch(MismatchKind.UNCERTAIN, line.line, roll.tag, words)
    left = _fitting(line.clip, {name: name for name in roll.left})
    rest = f"{first_of(left, 2)} was left on the card on purpose" if left else f"{roll.tag} has not"
    return Mismatch(MismatchKind.NO_CLIP, line.line, roll.tag, f"The report has clip {line.clip}, {rest}.")


def _twice(
    lines: Sequence[ReportLine], of_line: Mapping[int, RollClips | None], clips: Mapping[int, str]
) -> Iterator[Mismatch]:
    named = Counter((roll.tag, clips[n]) for n, roll in of_line.items() if roll and n in clips)
    for line in lines:
        roll = of_line.get(line.line)
        if roll and line.line in clips and named[roll.tag, clips[line.line]] > 1:
            name = roll.clips[clips[line.line]]
            words = f"Several lines of the report fit {name} of {roll.tag}; this is line {line.line}."
            yield Mismatch(MismatchKind.UNCERTAIN, line.line, roll.tag, words)


def _not_reported(roll: RollClips, taken: set[str]) -> Iterator[Mismatch]:
    rest = sorted(roll.clips[path] for path in roll.recordings - taken)
    if rest:
        words = f"{roll.tag} has {first_of(rest, 6)}, the report has not."
        yield Mismatch(MismatchKind.NOT_REPORTED, 0, roll.tag, words)
