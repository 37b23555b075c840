"""A job divided into folders that each fit a medium: discs, tapes."""

from .media import MEDIA, Medium, custom_medium, medium_named
from .packing import Unit, divide

__all__ = ["MEDIA", "Medium", "Unit", "custom_medium", "divide", "medium_named"]
