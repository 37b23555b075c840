"""What is kept of a file for looking at it, by the kind of medium that it is."""

from ..cards.media import MediaFacts
from ..cards.media.kinds import MediaKind
from . import moving, sound
from .kinds import CannotBeShown, Made, PictureKind
from .stills import StillMaker, carried


def make_pictures(descriptor: int, path: str, facts: MediaFacts, stills: StillMaker) -> Made:
    """Pictures of an open file, and its sound as one can look at it. path: its name; facts: what its header says

    Nothing that a file holds ends in an error: why there is no picture is a note.
    """
    if facts.kind is MediaKind.STILL:
        return _still(descriptor, path, facts, stills)
    if facts.kind is MediaKind.VIDEO:
        made = moving.show_moving(descriptor, facts.duration_s)
        return _with_sound(made, descriptor) if facts.channels else made
    if facts.kind is MediaKind.SOUND:
        return _with_sound(Made(), descriptor)
    return Made(note="there is no picture to be made of it")


def _still(descriptor: int, path: str, facts: MediaFacts, stills: StillMaker) -> Made:
    """What a RAW file carries for looking at, where it does; the picture itself of any other."""
    return stills.show(descriptor, *(carried(path, facts) or ()))


def _with_sound(made: Made, descriptor: int) -> Made:
    try:
        heard = sound.wave(descriptor).as_json()
    except CannotBeShown as problem:
        return Made(made.pictures, made.note or f"its sound: {problem}")
    return Made({**made.pictures, PictureKind.WAVE: heard}, made.note)
