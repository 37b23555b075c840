"""A whole roll in one sealed file: an uncompressed TAR archive (POSIX.1-2001, pax) with an index at its end.

Why this form, and what the others gave: docs/packages.md.
"""

from .form import ENDING, Member, package_name
from .reading import Package
from .source import PackageSource
from .verifying import verify_package
from .writing import PackageWriter, Region

__all__ = [
    "ENDING",
    "Member",
    "Package",
    "PackageSource",
    "PackageWriter",
    "Region",
    "package_name",
    "verify_package",
]
