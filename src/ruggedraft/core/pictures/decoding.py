"""Whether a recording decodes, every frame of it: a copy may be exact, and what it is a copy of broken.

ffprobe reads and decodes packet by packet and prints one before it decodes it; what the decoder complains of is next.
"""

import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

from ..cards.media.strangers import only_itself
from . import bounds
from .kinds import CannotBeShown

LONGEST_S = 3600
"""So much of a processor's time one recording may take."""
MOST_BREAKS = 50
_SHORT_S = 0.5
"""A track may end so much before its recording's header says; sound and pictures seldom end together. One of a single
frame is a picture for looking at, and has no end."""
_LINE = 4096
_WORDS = (
    "stdbuf", "-oL", "ffprobe", "-v", "repeat+error", "-threads", "1", "-err_detect", "explode",
    "-show_packets", "-show_frames", "-show_streams", "-of", "compact=nokey=0", "-show_entries",
    "packet=stream_index,pts_time,dts_time,duration_time:frame=stream_index:frame_side_data=:packet_side_data=:"
    "stream=index,codec_type,codec_name:stream_side_data=:stream_tags=:stream_disposition=",
)  # fmt: skip
_WHERE = re.compile(r"^(\[[^\]@]+ @ 0x[0-9a-f]+\] |/dev/fd/\d+: )")
_NOT_READ = "Format not on whitelist"
_UNKNOWN = "Invalid data found when processing input"
_PLAYED = ("video", "audio")


@dataclass(frozen=True)
class Break:
    """Where a recording breaks. at_s: seconds from its beginning, None where that is not known. track: from 0

    said: what the decoder complains of, in its own words, or what is wrong in ours
    """

    at_s: float | None
    track: int
    said: str


@dataclass(frozen=True)
class Decoded:
    """What came of it. frames: of pictures and sound together. reached_s: so far it was decoded

    breaks: the first of them; in_all: how many there are. note: why it was not decoded, wholly or at all; then nothing
    is known of the rest
    """

    frames: int = 0
    breaks: tuple[Break, ...] = ()
    in_all: int = 0
    reached_s: float = 0.0
    note: str = ""

    @property
    def sound(self) -> bool:
        """Every frame of it decodes, and it is as long as it says."""
        return not self.in_all and not self.note


def decode(
    descriptor: int,
    duration_s: float | None,
    seconds: float = LONGEST_S,
    *,
    has_to_wait: Callable[[], bool] = lambda: False,
) -> Decoded:
    """Decode all of an open file.

    duration_s: as its header says, if it does. seconds: it may take. has_to_wait: asked every second or so, whether
    something else comes first; then this raises bounds.GaveWay
    """
    said, ask = _Said(), bounds.asking(has_to_wait)

    def consume(piece: bytes) -> None:
        """Between two pieces it is asked whether something else comes first."""
        said.take(piece)
        ask()

    try:
        bounds.stream([*_WORDS, *only_itself(descriptor)], descriptor, seconds, consume, all_said=True)
        said.end()
        note = ""
    except CannotBeShown as problem:
        note = str(problem)
    return said.judged(duration_s, note)


@dataclass
class _Said:
    """Takes what the program prints, as it comes."""

    _rest: bytes = b""
    _now: tuple[float | None, int] = (None, 0)
    _reached: dict[int, float] = field(default_factory=dict)
    _packets: Counter[int] = field(default_factory=Counter)
    _frames: Counter[int] = field(default_factory=Counter)
    _streams: dict[int, tuple[str, str]] = field(default_factory=dict)
    _breaks: list[Break] = field(default_factory=list)
    _in_all: int = 0
    _unread: bool = False

    def take(self, piece: bytes) -> None:
        """The next bytes that it printed."""
        *lines, self._rest = (self._rest + piece).split(b"\n")
        self._rest = self._rest[-_LINE:]
        for line in lines:
            self._hear(line[:_LINE].decode(errors="replace").strip())

    def end(self) -> None:
        """It prints no more."""
        self._hear(self._rest.decode(errors="replace").strip())

    def _hear(self, line: str) -> None:
        kind, _, rest = line.partition("|")
        if kind == "packet":
            self._packet(_fields(rest))
        elif kind == "frame":
            self._frames[_number(_fields(rest).get("stream_index"))] += 1
        elif kind == "stream":
            told = _fields(rest)
            self._streams[_number(told.get("index"))] = (told.get("codec_type", ""), told.get("codec_name", ""))
        elif line and not kind.isidentifier():
            self._complaint(_WHERE.sub("", line))

    def _complaint(self, words: str) -> None:
        if words.startswith(_NOT_READ):
            self._unread = True
        else:
            self._note(Break(*self._now, words[:200]))

    def _packet(self, told: dict[str, str]) -> None:
        track = _number(told.get("stream_index"))
        at = _seconds(told.get("pts_time"), told.get("dts_time"))
        self._packets[track] += 1
        self._now = (at, track)
        if at is not None:
            end = at + (_seconds(told.get("duration_time")) or 0.0)
            self._reached[track] = max(self._reached.get(track, 0.0), end)

    def _note(self, found: Break) -> None:
        """One for each moment of a track: a decoder says much of one frame."""
        if self._breaks and (self._breaks[-1].at_s, self._breaks[-1].track) == (found.at_s, found.track):
            return
        self._in_all += 1
        if len(self._breaks) < MOST_BREAKS:
            self._breaks.append(found)

    def judged(self, duration_s: float | None, note: str) -> Decoded:
        """What comes of all that was printed. note: why it was not all, or empty"""
        if self._unread:
            return Decoded(note="nothing here reads recordings of its format")
        if not self._packets and [one.said for one in self._breaks] == [_UNKNOWN]:
            return Decoded(note="it is not recognised here: of a kind of its own, or broken from its beginning")
        note = note or self._undecoded()
        reached = {track: end for track, end in self._reached.items() if self._frames[track]}
        if duration_s and not note:
            self._note_short(reached, duration_s)
        return Decoded(
            self._frames.total(), tuple(self._breaks), self._in_all, max(reached.values(), default=0.0), note
        )

    def _note_short(self, reached: dict[int, float], duration_s: float) -> None:
        """Tracks that end before their recording's header says."""
        for track, end in sorted(reached.items()):
            if end < duration_s - _SHORT_S and self._frames[track] > 1:
                self._note(Break(end, track, f"this track ends here, and its header says {duration_s:.2f} seconds"))

    def _undecoded(self) -> str:
        """Why part of it was not decoded, though nothing went wrong; tracks that should have been are noted."""
        for track, (kind, codec) in sorted(self._streams.items()):
            if kind in _PLAYED and not self._frames[track]:
                if codec in ("", "unknown", "none"):
                    return f"nothing here decodes {'pictures' if kind == 'video' else 'sound'} of its kind"
                if not self._packets[track]:
                    return f"track {track + 1} holds nothing"
                self._note(Break(None, track, "nothing of it decodes"))
        return "" if self._frames.total() or self._in_all else "it holds nothing that is decoded here"


def _fields(rest: str) -> dict[str, str]:
    return dict(one.split("=", 1) for one in rest.split("|") if "=" in one)


def _number(words: str | None) -> int:
    return int(words) if words and words.isascii() and words.isdigit() else 0


def _seconds(*tried: str | None) -> float | None:
    for words in tried:
        try:
            return float(words or "")
        except ValueError:
            continue
    return None
