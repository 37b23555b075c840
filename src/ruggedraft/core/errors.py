"""Everything that can go wrong in the core, as a tree. The message is a sentence for the person at the cart.

RaftError
├── SourceError            the card
│   ├── SourceVanished     gone from its reader, or another card is in its place
│   ├── SourceUnreadable   one file of it could not be read
│   └── SourceChanged      one file of it changed while it was read, or since it was read before
├── StoreError             a place copies are kept in
│   ├── StoreStopped       nothing more can be written there in this run
│   │   ├── StoreVanished
│   │   ├── StoreFull
│   │   └── StoreReadOnly
│   ├── FileRefused        one file could not be written or read there
│   │   └── FileMissing    it is not there
│   └── Conflict           something else stands under the file's name; it was left alone
├── UnsafePath             a name that would lead out of where it belongs
├── PlanError              a plan that cannot be rendered
├── ListError              a checksum list that cannot be used
│   ├── MalformedList
│   └── UnknownAlgorithm
├── NotThere               what was asked for is not in the ledger
└── ActRefused             an act that is not possible as things stand; nothing was changed
    ├── TableRefused       …because the file that was handed in is no table that can be read
    └── NotPermitted       …because of the role of the person who asked
"""

import errno
import os


class RaftError(Exception):
    """Base of the tree."""

    @property
    def sentence(self) -> str:
        """The message, for the person at the cart."""
        return str(self)


class SourceError(RaftError):
    """Something is wrong with a card."""


class SourceVanished(SourceError):
    """The card is gone from its reader, or another one is in its place."""


class SourceUnreadable(SourceError):
    """A file of the card could not be read."""


class SourceChanged(SourceError):
    """A file of the card changed while it was read, or since it was read before."""


class StoreError(RaftError):
    """Something is wrong with a store."""


class StoreStopped(StoreError):
    """Nothing more can be written to this store in this run."""


class StoreVanished(StoreStopped):
    """The store is not there, or another one is in its place."""


class StoreFull(StoreStopped):
    """The store has no room."""


class StoreReadOnly(StoreStopped):
    """The store cannot be written."""


class FileRefused(StoreError):
    """A file could not be written to the store, or read from it."""


class FileMissing(FileRefused):
    """A file is not on the store."""


class Conflict(StoreError):
    """Something else stands under the name that a file was to have; it was left alone."""


class UnsafePath(RaftError):
    """A name that would lead out of where it belongs."""


class PlanError(RaftError):
    """A plan whose folders or names cannot be made."""


class MalformedRecord(RaftError):
    """A record beside a copy that cannot be used."""


class ListError(RaftError):
    """A checksum list that cannot be used."""


class MalformedList(ListError):
    """A checksum list with a line that cannot be understood."""


class UnknownAlgorithm(ListError):
    """A checksum of a kind that is not known, or cannot be told."""


class NotThere(RaftError):
    """What was asked for is not in the ledger."""


class ActRefused(RaftError):
    """An act that is not possible as things stand; nothing was changed."""


class TableRefused(ActRefused):
    """A file that was handed in as a table, and is none that can be read; nothing was changed."""


class NotPermitted(ActRefused):
    """An act that is not open to this person's role; nothing was changed."""


_FULL = {errno.ENOSPC, errno.EDQUOT}
_GONE = {errno.ENODEV, errno.ENXIO, errno.ESTALE, errno.ENOTCONN, errno.EHOSTDOWN, errno.ESHUTDOWN}


def why(error: OSError) -> str:
    """The system's own words for an error, without its number and path."""
    return os.strerror(error.errno) if error.errno else str(error)


def store_error(error: OSError, store: str) -> StoreError:
    """Translate what the system said about a store into our tree."""
    if error.errno in _FULL:
        return StoreFull(f"'{store}' is full ({why(error)}): make room on it, and offload again")
    if error.errno in _GONE:
        return StoreVanished(f"'{store}' is not there any more ({why(error)}): connect it, and offload again")
    if error.errno == errno.ENOENT:
        return FileMissing(f"it is missing on '{store}'")
    if error.errno == errno.EROFS:
        return StoreReadOnly(f"'{store}' cannot be written ({why(error)}): see whether it is locked or failing")
    return FileRefused(
        f"'{store}' refused it ({why(error)}): offload again, and if it stays so do not trust this store"
    )


def source_error(error: OSError) -> SourceError:
    """Translate what the system said about a card into our tree."""
    if error.errno in _GONE:
        return SourceVanished(f"the card is gone from its reader ({why(error)}): put it in again, and offload again")
    return SourceUnreadable(
        f"it could not be read off the card ({why(error)}): try another reader before the card goes anywhere"
    )
