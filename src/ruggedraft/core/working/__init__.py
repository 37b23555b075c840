"""Working files: what a project names, where each belongs, and what is made to work with. None of it is a copy."""

from .lists import MOST, MOST_BYTES, read_project_list
from .matching import Candidate, Meant, Named, file_meant, place_under
from .placing import NewFile, clear_leftovers, move_if_free, new_file
from .recipes import HEIGHTS, Codec, Recipe, Tracks, make_working_copy, tracks, why_not_the_same
from .take_away import ClipShown, page

__all__ = [
    "HEIGHTS", "MOST", "MOST_BYTES", "Candidate", "ClipShown", "Codec", "Meant", "Named", "NewFile", "Recipe", "Tracks",
    "clear_leftovers", "file_meant", "make_working_copy", "move_if_free", "new_file", "page", "place_under",
    "read_project_list", "tracks", "why_not_the_same",
]  # fmt: skip
