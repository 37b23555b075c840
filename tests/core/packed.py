"""Cards that are offloaded into packages, for tests."""

import tempfile
from pathlib import Path
from unittest import TestCase

from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.sources import MemorySource, list_card
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.packages import PackageStore
from ruggedraft.core.transfer import Target, transfer

from .store_contract import T

XXH128 = algorithm_named("xxh128")


def store_at(folder: Path) -> PackageStore:
    return PackageStore(LocalStore("vault", folder), folder)


class Folder(TestCase):
    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def packed(self, files: dict[str, bytes], **words):
        """A card of these files, offloaded into a package; what came of it."""
        return self.offloaded(MemorySource(files, modified_ns=T), **words)

    def offloaded(self, card, folder: str = "A012", **words):
        store = store_at(self.folder)
        report = transfer(card, list_card(card), [Target(store, folder)], XXH128, **words)
        return report.stores[0]

    @property
    def package(self) -> Path:
        return self.folder / "A012.tar"
