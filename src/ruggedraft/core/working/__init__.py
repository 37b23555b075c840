"""Working files: what a project names, and where each of them belongs. They are no copies, and count as none."""

from .lists import MOST, MOST_BYTES, read_project_list
from .matching import Candidate, Meant, Named, file_meant, place_under

__all__ = ["MOST", "MOST_BYTES", "Candidate", "Meant", "Named", "file_meant", "place_under", "read_project_list"]
