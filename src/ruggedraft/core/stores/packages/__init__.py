"""A store that is a folder of a mounted file system, in which each copy is one sealed file."""

from .store import PackageStore

__all__ = ["PackageStore"]
