"""A file on its way into a package."""

import contextlib

from ...errors import store_error
from ...packages.writing import PackageWriter, Region
from ..port import Data, PendingFile


class PackedFile(PendingFile):
    """store: its name. It is no part of the package before the store says that it was `added`."""

    def __init__(self, store: str, writer: PackageWriter, region: Region) -> None:
        self.writer, self.region, self._store, self._done = writer, region, store, False

    def write(self, data: Data) -> None:
        """Behind what came of it before."""
        try:
            self.writer.write(self.region, data)
        except OSError as error:
            raise store_error(error, self._store) from error

    def skip(self, count: int) -> None:
        """As a hole of the package's file."""
        try:
            self.writer.skip(self.region, count)
        except OSError as error:
            raise store_error(error, self._store) from error

    def end(self, modified_ns: int) -> None:
        """Its last page is filled up."""
        try:
            self.writer.end(self.region, modified_ns)
        except OSError as error:
            raise store_error(error, self._store) from error

    def added(self) -> None:
        """It is part of the package now."""
        self._done = True

    def discard(self) -> None:
        """Never raises: where the store is gone, so is the package."""
        if not self._done:
            self._done = True
            with contextlib.suppress(OSError):
                self.writer.drop(self.region)
