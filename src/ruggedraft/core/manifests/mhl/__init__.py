"""ASC MHL: a folder's history of hash lists, generation by generation, beside what they list.

The form is version 2.0 (urn:ASC:MHL:v2.0) as the reference implementation of the standard reads and writes it, against
which the tests hold ours. Its schema was not at hand: the order of elements is from memory, and from there.
"""

from .history import FOLDER, Generation, History, MhlFile, has_history, read_history
from .verifying import verify_history
from .writing import Creator, Reading, ToList, new_generation

__all__ = [
    "FOLDER",
    "Creator",
    "Generation",
    "History",
    "MhlFile",
    "Reading",
    "ToList",
    "has_history",
    "new_generation",
    "read_history",
    "verify_history",
]
