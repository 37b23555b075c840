"""Clocks and counters of cameras: when a clip really began, and what cannot be right about that."""

from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, tzinfo
from itertools import pairwise

from ..wording import counted
from .clips import Clip, ClipKind
from .findings import Finding, FindingKind, named
from .media import MediaFacts
from .tree import base_of

_TOLERANCE = timedelta(hours=1)
_APART = timedelta(days=10)
_FEW = 0.2


@dataclass(frozen=True)
class ClockSpan:
    """How far a camera's clock was ahead of the true time, less than zero if it was behind, and for which of its times.

    since, until: by the camera's own clock, both included; None is open
    """

    ahead: timedelta
    since: datetime | None = None
    until: datetime | None = None

    def covers(self, shown: datetime) -> bool:
        """Whether this is said of a time that the camera showed."""
        return (self.since is None or self.since <= shown) and (self.until is None or shown <= self.until)


@dataclass(frozen=True)
class CameraClock:
    """What was found out about a camera's clock, in order. Of two spans that cover a time the later one holds."""

    spans: tuple[ClockSpan, ...] = ()

    def ahead(self, shown: datetime) -> timedelta:
        """How far it was ahead when it showed this."""
        return next((span.ahead for span in reversed(self.spans) if span.covers(shown)), timedelta(0))

    def true(self, shown: datetime) -> datetime:
        """When it really was, in UTC; what the clock showed where no date can be so far away."""
        if not self.spans:
            return shown.astimezone(UTC)
        try:
            return shown.astimezone(UTC) - self.ahead(shown)
        except OverflowError:
            return shown.astimezone(UTC)

    def corrected(self, span: ClockSpan) -> "CameraClock":
        """With one more thing that was found out. What it covers wholly is of no use any more."""
        kept = tuple(one for one in self.spans if not _within(one, span))
        return CameraClock((*kept, span) if span.ahead or kept else ())


def _within(one: ClockSpan, other: ClockSpan) -> bool:
    starts = other.since is None or (one.since is not None and one.since >= other.since)
    ends = other.until is None or (one.until is not None and one.until <= other.until)
    return starts and ends


@dataclass(frozen=True)
class Circumstances:
    """What a card's times are judged by.

    zone: the production's. clock: the camera's. now: aware.
    largest_files: sizes in bytes at which the card's file system, or the camera, splits a recording
    """

    zone: tzinfo
    now: datetime
    first_day: date | None = None
    clock: CameraClock = CameraClock()
    largest_files: tuple[int, ...] = ()


def timed(clip: Clip, facts: MediaFacts | None, around: Circumstances) -> Clip:
    """A clip with its time and length, from its header where that says so, else from the file's own time.

    A file's time is when it was closed, so a recording began its length before.
    """
    length = (facts.duration_s or 0.0) if facts else 0.0
    if clip.kind is ClipKind.SEQUENCE:
        length = (clip.parts[-1].entry.modified_ns - clip.main.modified_ns) / 1e9
    if facts and facts.clock:
        clock = facts.clock if facts.clock.tzinfo else facts.clock.replace(tzinfo=around.zone)
        starts, source = clock, "header"
    else:
        closed = datetime.fromtimestamp(clip.main.modified_ns / 1e9, UTC)
        starts, source = closed - timedelta(seconds=length) if length else closed, "file"
    begun = around.clock.true(starts)
    return Clip(clip.name, clip.kind, clip.folder, clip.parts, begun, length, source, facts)


def clock_findings(clips: Sequence[Clip], around: Circumstances) -> list[Finding]:
    """Times that cannot be right: in the future, before the production, far from the rest of the card."""
    latest, earliest = around.now + _TOLERANCE, _earliest(around)
    future = _begun(clips, lambda starts: starts > latest)
    before = _begun(clips, lambda starts: starts < earliest) if earliest else []
    flagged = {id(clip) for clip in (*future, *before)}
    far = _far([clip for clip in clips if id(clip) not in flagged])
    found = []
    if future:
        words = f"{counted(len(future), 'clip')} dated in the future, up to {_day(max(_starts(future)), around)}: "
        found.append(_finding(FindingKind.FUTURE, words + "the camera's clock is wrong", future))
    if before:
        first = _day(min(_starts(before)), around)
        words = f"{counted(len(before), 'clip')} dated before the production began, from {first}: "
        found.append(_finding(FindingKind.BEFORE, words + "somebody else's, or the camera's clock is wrong", before))
    if far:
        which = named([clip.main.path for clip in far])
        words = f"{counted(len(far), 'clip')} far in time from the rest of the card: {which}"
        found.append(_finding(FindingKind.FAR, words, far))
    return found


def _starts(clips: Iterable[Clip]) -> list[datetime]:
    return [clip.starts for clip in clips if clip.starts]


def _begun(clips: Sequence[Clip], when: Callable[[datetime], bool]) -> list[Clip]:
    """Those that began at a time of which this is true."""
    return [clip for clip in clips if clip.starts and when(clip.starts)]


def _earliest(around: Circumstances) -> datetime | None:
    """A day before the production's first."""
    if around.first_day is None:
        return None
    return datetime.combine(around.first_day, time(), around.zone) - timedelta(days=1)


def _finding(kind: FindingKind, words: str, clips: Sequence[Clip]) -> Finding:
    return Finding(kind, words, tuple(clip.main.path for clip in clips))


def _day(moment: datetime, around: Circumstances) -> str:
    return moment.astimezone(around.zone).strftime("%Y-%m-%d")


def _far(clips: Sequence[Clip]) -> list[Clip]:
    """The few clips that ten days or more lie between them and all others."""
    begun = sorted(_starts(clips))
    breaks = [later for earlier, later in pairwise(begun) if later - earlier >= _APART]
    if not breaks:
        return []
    groups: dict[int, list[Clip]] = {}
    for clip in sorted((clip for clip in clips if clip.starts), key=_moment):
        groups.setdefault(bisect_right(breaks, _moment(clip)), []).append(clip)
    return [clip for group in groups.values() if len(group) <= _FEW * len(begun) for clip in group]


def _moment(clip: Clip) -> datetime:
    """When a clip began that has a time."""
    return clip.starts or datetime.min.replace(tzinfo=UTC)


_HALF = 5000


def counter_of(clip: Clip) -> int | None:
    """The camera's own four-digit number, at the end of the name; None where there is none."""
    last = base_of(clip.parts[0].entry.path)[-4:]
    return int(last) if len(last) == 4 and last.isascii() and last.isdigit() else None


def in_shooting_order(clips: Sequence[Clip]) -> tuple[list[Clip], list[Finding]]:
    """By time; within one second by counter, where 0001 comes after 9999. And a finding where a counter wrapped."""
    numbered = [(clip, counter_of(clip)) for clip in clips]
    wrapped = _wraps(numbered)
    keys = [_order(clip, number or 0, wrapped) for clip, number in numbered]
    placed = sorted(range(len(keys)), key=keys.__getitem__)
    ordered = [clips[place] for place in placed]
    if not wrapped:
        return ordered, []
    first = next(numbered[place][0] for place in placed if (numbered[place][1] or _HALF) < _HALF)
    words = f"The camera's counter ran past 9999 here; {base_of(first.main.path)} is the first after it. Shown by time"
    return ordered, [Finding(FindingKind.WRAPPED, words, (first.main.path,))]


def _order(clip: Clip, number: int, wrapped: bool) -> tuple[bool, int, int, str]:
    if wrapped and number < _HALF:
        number += 10_000
    starts = clip.starts
    return starts is None, int(starts.timestamp()) if starts else 0, number, clip.parts[0].entry.path


def _wraps(numbered: Sequence[tuple[Clip, int | None]]) -> bool:
    """Whether pictures numbered just under 9999 were taken before others numbered just over 0."""
    high, low = _taken_at(numbered, range(9001, 10_000)), _taken_at(numbered, range(1, 1000))
    return bool(high and low and max(high) <= min(low))


def _taken_at(numbered: Sequence[tuple[Clip, int | None]], numbers: range) -> list[datetime]:
    return [clip.starts for clip, n in numbered if n in numbers and clip.starts]
