"""A store that is a folder of a mounted file system."""

from .parts import PARTS
from .store import LocalStore

__all__ = ["PARTS", "LocalStore"]
