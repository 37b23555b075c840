"""SMPTE timecode from frame numbers, and back."""

import re
from fractions import Fraction

_WORDS = re.compile(r"([01]\d|2[0-3]):([0-5]\d):([0-5]\d)([:;])(\d\d)", re.ASCII)


def timecode(frame: int, frames_per_s: int, *, drop: bool = False) -> str:
    """A frame number since midnight as HH:MM:SS:FF, HH:MM:SS;FF with dropped numbers (SMPTE ST 12-1; from memory).

    Dropping leaves out the first numbers of every minute but each tenth: 2 at 30 frames, 4 at 60.

    >>> timecode(90000, 25)
    '01:00:00:00'
    >>> timecode(1800, 30, drop=True)
    '00:01:00;02'
    """
    if frames_per_s <= 0:
        return ""
    if drop:
        dropped = 2 * round(frames_per_s / 30)
        per_minute = 60 * frames_per_s - dropped
        tens, rest = divmod(frame, 10 * per_minute + dropped)
        frame += 9 * dropped * tens
        if rest >= 60 * frames_per_s:
            frame += dropped * (1 + (rest - 60 * frames_per_s) // per_minute)
    seconds, frames = divmod(frame, frames_per_s)
    hours, minutes = seconds // 3600 % 24, seconds // 60 % 60
    return f"{hours:02d}:{minutes:02d}:{seconds % 60:02d}{';' if drop else ':'}{frames:02d}"


def is_timecode(words: str) -> bool:
    """Whether this is one, at a rate of up to a hundred frames.

    >>> is_timecode("10:04:07:12"), is_timecode("10:4:7"), is_timecode("24:00:00:00")
    (True, False, False)
    """
    return _WORDS.fullmatch(words) is not None


def frame_number(words: str, frames_per_s: int) -> int | None:
    """The inverse of `timecode`; None for what is no timecode at that rate, also for a number that is left out.

    >>> frame_number("01:00:00:00", 25), frame_number("00:01:00;02", 30), frame_number("00:01:00;00", 30)
    (90000, 1800, None)
    """
    found = _WORDS.fullmatch(words)
    if not found or frames_per_s <= 0 or int(found[5]) >= frames_per_s:
        return None
    hours, minutes, seconds, frames = (int(found[n]) for n in (1, 2, 3, 5))
    minutes += 60 * hours
    number = (60 * minutes + seconds) * frames_per_s + frames
    if found[4] == ":":
        return number
    dropped = 2 * round(frames_per_s / 30)
    if seconds == 0 and frames < dropped and minutes % 10:
        return None
    return number - dropped * (minutes - minutes // 10)


def timecode_after(start: str, rate: str, seconds: float) -> str:
    """What stands on the frame that is shown so many seconds after a recording's first; empty where that is not known.

    start: timecode of the first frame. rate: frames a second as a fraction

    >>> timecode_after("10:00:00:00", "25/1", 2.04), timecode_after("00:00:59;29", "30000/1001", 0.0334)
    ('10:00:02:01', '00:01:00;02')
    """
    try:
        per_s = Fraction(rate)
    except (ValueError, ZeroDivisionError):
        return ""
    first = frame_number(start, round(per_s))
    if first is None:
        return ""
    passed = int(seconds * per_s + Fraction(1, 50))  # what is said in microseconds may fall short of its frame
    return timecode(first + passed, round(per_s), drop=";" in start)
