"""From a plan to folders and names, and what file systems can hold of them."""

from .file_systems import BUCKET, BY_KERNEL_NAME, EXT, FILE_SYSTEMS, WEBDAV, FileSystem, NameProblem, name_problems
from .plan import Names, NamingPlan, name_files, roll_folder
from .tags import roll_tag
from .templates import CLIP_FIELDS, ROLL_FIELDS, Template

__all__ = [
    "BUCKET",
    "BY_KERNEL_NAME",
    "CLIP_FIELDS",
    "EXT",
    "FILE_SYSTEMS",
    "ROLL_FIELDS",
    "WEBDAV",
    "FileSystem",
    "NameProblem",
    "Names",
    "NamingPlan",
    "Template",
    "name_files",
    "name_problems",
    "roll_folder",
    "roll_tag",
]
