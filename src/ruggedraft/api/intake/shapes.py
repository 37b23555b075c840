"""What is on a card, for the screens that show it."""

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from typing import Any, Self

from pydantic import BaseModel

from ruggedraft.clearing.contents import CardContents
from ruggedraft.core.cards import Clip, ClockSpan, Companion, FileRole, Finding, Holding
from ruggedraft.core.cards.describe import contents as counts_of
from ruggedraft.core.cards.media import MediaFacts
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import to_ledger
from ruggedraft.intake.clock import MovedCard, ahead_s
from ruggedraft.intake.queries import KnownReader
from ruggedraft.productions.models import moment

_MOST_PATHS = 50


class CardFindingOut(BaseModel):
    """grave: it asks whether the card is whole. paths: the first of what it is about, `paths_in_all` of them."""

    kind: str
    sentence: str
    grave: bool
    paths: list[str]
    paths_in_all: int

    @staticmethod
    def of(finding: Finding) -> "CardFindingOut":
        paths = [to_ledger(path) for path in finding.paths[:_MOST_PATHS]]
        return CardFindingOut(
            kind=finding.kind, sentence=finding.sentence + ".", grave=finding.grave, paths=paths,
            paths_in_all=len(finding.paths),
        )  # fmt: skip


class CountsOut(BaseModel):
    """Clips of each kind; sidecars and other: files. The rest are files by what is held of them."""

    stills: int
    video: int
    sound: int
    sidecars: int
    other: int
    held: int
    new: int
    changed: int
    left: int
    alike: int
    unsure: int


class CompanionOut(BaseModel):
    roll: str
    pairs: int
    clips: int

    @staticmethod
    def of(found: Companion) -> "CompanionOut":
        return CompanionOut(roll=found.roll, pairs=found.pairs, clips=found.clips)


class ClipsOut(BaseModel):
    """The clips in shooting order, by columns.

    starts: seconds since 1970-01-01 UTC, the camera's clock offset taken off. lengths: seconds
    files: how many each is; chapters: how many of them are the recording itself
    rolls: the roll it was found in
    odd: the finding it is in, or -1. previews: an id for `/previews/ID`, 0 where there is none
    words: size, rate, codec, timecode as far as known
    """

    paths: list[str]
    names: list[str]
    kinds: list[str]
    bodies: list[str]
    starts: list[float]
    lengths: list[float]
    bytes: list[int]
    files: list[int]
    chapters: list[int]
    holdings: list[Holding]
    rolls: list[str]
    odd: list[int]
    previews: list[int]
    words: list[str]


class ContentsOut(BaseModel):
    """headers_read: nothing more is to come. compared: files that were read for a comparison by content.

    clips: the first `WINDOW` of `clips_in_all`; the rest is asked for by itself. clip_holdings, clips_odd: of all
    shot_from, shot_until: when the first and the last began, in seconds since 1970-01-01 UTC
    shifted_s: all times differ by this from those of `shifted_roll`
    gone_roll: the card's last roll, not cleared, of which nothing is on it any more
    """

    layouts: list[str]
    counts: CountsOut
    findings: list[CardFindingOut]
    companion: CompanionOut | None
    shifted_s: int | None
    shifted_roll: str
    gone_roll: str
    headers_read: bool
    compared: int
    clock_ahead_s: int
    clips_in_all: int
    clip_holdings: dict[Holding, int]
    clips_odd: int
    shot_from: float | None
    shot_until: float | None
    clips: ClipsOut


class ClockIn(BaseModel):
    """ahead_s: seconds by which the camera's clock is ahead of the true time; negative if it is behind.

    since_s, until_s: for which of its times, in seconds since 1970 by the camera's own clock; null is open
    """

    ahead_s: int
    since_s: int | None = None
    until_s: int | None = None

    def as_span(self) -> ClockSpan:
        """Raises ActRefused for times that no calendar has."""
        try:
            return ClockSpan(timedelta(seconds=self.ahead_s), moment(self.since_s), moment(self.until_s))
        except (OverflowError, ValueError, OSError) as error:
            raise ActRefused("No camera's clock is off by that much, or shows such times.") from error


class MovedCardOut(BaseModel):
    """day, day_then: the shoot day of its first file, as it is shown and as it would be."""

    label: str
    day: date
    day_then: date

    @classmethod
    def of(cls, card: MovedCard) -> Self:
        return cls(label=card.label, day=card.day, day_then=card.day_then)


class RecogniseIn(BaseModel):
    label: str


class IntroduceIn(BaseModel):
    """is_another: it passed for a card of the ledger, and is not that one."""

    label: str
    camera: str
    is_another: bool = False


class ReaderOut(BaseModel):
    """folder: its path, where it is a folder that somebody said is a reader; else empty."""

    id: int
    name: str
    station: str
    folder: str

    @classmethod
    def of(cls, known: KnownReader) -> "ReaderOut":
        one = known.reader
        return cls(id=one.pk, name=one.name, station=one.station.name, folder=known.folder)


class NameIn(BaseModel):
    """Empty: as the system calls it."""

    name: str


class FolderIn(BaseModel):
    """path: the whole of it. station: on whose machine; empty: on the server's. finals: it holds finals, and no card"""

    path: str
    is_reader: bool
    station: str = ""
    finals: bool = False


class UnattendedIn(BaseModel):
    """plan: the name of the only plan whose cards go by themselves, null for any."""

    on: bool
    plan: str | None = None


def counts_out(found: CardContents) -> CountsOut:
    clips, held = counts_of(found.described), found.counts()
    return CountsOut(
        stills=clips.stills, video=clips.video, sound=clips.sound, sidecars=clips.sidecars, other=clips.other,
        **{str(holding): held[holding] for holding in Holding},
    )  # fmt: skip


WINDOW = 300
"""Clips that are shown at once; on a card of tens of thousands the rest is long in coming."""


def contents_out(found: CardContents) -> ContentsOut:
    """What a screen shows first of a card."""
    clips = found.described.clips
    dated = [clip.starts for clip in clips if clip.starts]
    return ContentsOut(
        layouts=list(dict.fromkeys(layout.name for layout in found.described.layouts)),
        counts=counts_out(found),
        findings=[CardFindingOut.of(finding) for finding in found.described.findings],
        companion=CompanionOut.of(found.companion) if found.companion else None,
        shifted_s=found.holdings.shifted_s, shifted_roll=found.holdings.shifted_roll, gone_roll=found.gone_roll,
        headers_read=found.listing.headers_read_at is not None, compared=found.listing.compared,
        clock_ahead_s=ahead_s(found.listing),
        clips_in_all=len(clips),
        clip_holdings=Counter(found.of_clip(clip).holding for clip in clips),
        clips_odd=sum(clip.main.path in found.odd for clip in clips),
        shot_from=dated[0].timestamp() if dated else None,
        shot_until=dated[-1].timestamp() if dated else None,
        clips=clips_out(found, clips[:WINDOW]),
    )  # fmt: skip


def clips_out(found: CardContents, clips: Sequence[Clip]) -> ClipsOut:
    """Some of a card's clips, or all."""
    held = [found.of_clip(clip) for clip in clips]
    mains = [clip.parts[0].entry.path for clip in clips]
    return ClipsOut(
        **_columns(clips),
        holdings=[one.holding for one in held],
        rolls=[one.roll for one in held],
        odd=[found.odd.get(path, -1) for path in mains],
        previews=[found.previews.get(path, 0) for path in mains],
    )


_CLIP_COLUMNS = (
    "paths", "names", "kinds", "bodies", "starts", "lengths", "bytes", "files", "chapters", "words",
)  # fmt: skip


def _columns(clips: Iterable[Clip]) -> dict[str, list[Any]]:
    columns = zip(*map(_clip, clips), strict=True)
    return dict(zip(_CLIP_COLUMNS, map(list, columns), strict=False)) or {name: [] for name in _CLIP_COLUMNS}


def _clip(clip: Clip) -> tuple[object, ...]:
    """What a clip brings to each column."""
    facts, parts = clip.facts, clip.parts
    return (
        to_ledger(parts[0].entry.path), to_ledger(clip.name), clip.kind, facts.body if facts else "",
        clip.starts.timestamp() if clip.starts else 0.0, round(clip.duration_s, 3), clip.bytes, len(parts),
        1 + len(clip.of_role(FileRole.PART)) if len(parts) > 1 else 1, _words(facts) if facts else "",
    )  # fmt: skip


def _words(facts: MediaFacts) -> str:
    size = f"{facts.width} x {facts.height}" if facts.width else ""
    rate = f"{_rate(facts.rate)} fps" if facts.rate else ""
    sound = f"{facts.channels} ch {facts.sample_rate / 1000:g} kHz" if facts.sample_rate and not facts.width else ""
    return ", ".join(word for word in (size, rate, sound, facts.codec, facts.timecode, facts.note) if word)


def _rate(rate: str) -> str:
    above, _, below = rate.partition("/")
    return f"{int(above) / int(below or 1):.5g}"
