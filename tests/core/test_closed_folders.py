"""Folders that computers keep for themselves: closed they block nothing, open they are read like any other."""

import errno
import os
import tempfile
from contextlib import contextmanager
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from ruggedraft.core.files.confinement import Root
from ruggedraft.core.sources import EntryKind, FolderSource, Listing, list_card

NAMES = ("lost+found", "System Volume Information", ".Trashes", ".fseventsd", "$RECYCLE.BIN")


class ClosedFolders(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.card = Path(folder.name)
        (self.card / "DCIM").mkdir()
        (self.card / "DCIM" / "a.jpg").write_bytes(b"a")

    def listed(self, closed: str, number: int = errno.EACCES) -> Listing:
        """As the card lists where this folder does not open. Root opens every folder, so it is made to fail here."""
        opened = Root.folder

        @contextmanager
        def folder(root, parts):
            if "/".join(parts) == closed:
                raise OSError(number, os.strerror(number))
            with opened(root, parts) as found:
                yield found

        with patch.object(Root, "folder", folder):
            return list_card(FolderSource(self.card))

    def kinds(self, listing: Listing) -> dict[str, EntryKind]:
        return {entry.path: entry.kind for entry in listing.entries if entry.kind is not EntryKind.FOLDER}

    def test_closed_they_are_told_of_as_what_they_are_and_need_no_copy(self):
        for name in NAMES:
            with self.subTest(name):
                (self.card / name).mkdir()
                listing = self.listed(name)
                self.assertEqual(self.kinds(listing), {"DCIM/a.jpg": EntryKind.FILE, name: EntryKind.SYSTEM})
                self.assertEqual(listing.odd, ())
                self.assertEqual([entry.path for entry in listing.closed], [name])
                (self.card / name).rmdir()

    def test_open_they_are_read_like_any_other_folder(self):
        (self.card / "lost+found").mkdir()
        (self.card / "lost+found" / "#12").write_bytes(b"piece")
        listing = self.listed("nothing")
        self.assertEqual([file.path for file in listing.files], ["DCIM/a.jpg", "lost+found/#12"])

    def test_a_cameras_folder_one_deeper_or_one_that_fails_otherwise_still_has_to_be_answered_for(self):
        (self.card / "DCIM" / "lost+found").mkdir()
        (self.card / "lost+found").mkdir()
        for closed, number in (
            ("DCIM", errno.EACCES), ("DCIM/lost+found", errno.EACCES), ("lost+found", errno.EUCLEAN),
        ):  # fmt: skip
            with self.subTest(closed, number=number):
                listing = self.listed(closed, number)
                self.assertEqual([entry.path for entry in listing.odd], [closed])
                self.assertEqual(listing.closed, ())
