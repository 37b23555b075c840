"""What is kept of a recording for looking at it."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum


class PictureKind(StrEnum):
    """What a picture shows, and how large it is."""

    SMALL = "small"
    """a still or the first frame, at most 480 pixels long: JPEG"""
    LARGE = "large"
    """the same, at most 1,920 pixels long: JPEG"""
    STRIP = "strip"
    """twelve frames from the whole length of a recording, side by side: JPEG"""
    WAVE = "wave"
    """the sound of a recording, channel by channel: JSON, see `sound.Wave`"""
    LIGHT = "light"
    """all of a recording in few bytes, to be played: MP4, see `light.light_copy`"""


LONGEST: Mapping[PictureKind, int] = {PictureKind.SMALL: 480, PictureKind.LARGE: 1920}
"""Pixels of the longer side."""
WINDOW = (960, 540)
"""Pixels, wide and high, that are seen at once pixel for pixel."""
STRIP_OF = 12
"""So many frames, in equal steps through the recording."""


@dataclass(frozen=True)
class Made:
    """What was made of one file.

    pictures: by kind, as bytes of a file
    note: why there is less than was wanted, as a part of a sentence about the file; empty where nothing is wrong
    """

    pictures: Mapping[PictureKind, bytes] = field(default_factory=dict)
    note: str = ""


class CannotBeShown(Exception):
    """Nothing can be seen or heard of a file. The words are a part of a sentence about it."""
