"""SMPTE timecode from frame numbers."""


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
