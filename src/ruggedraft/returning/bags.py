"""A roll that was brought to a folder is made a bag (RFC 8493) there, so that others can check it without us."""

from collections.abc import Mapping, Sequence

from ruggedraft.core.errors import StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests.bagit import tag_files
from ruggedraft.core.stores import LocalStore, write_one
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.runs.watching import Watch

_LARGEST = 256 << 20
_SUM = "sha256"


class Stopped(Exception):
    """Somebody wants the run to stop."""


def make_bag(roll: Roll, folder: LocalStore, files: Mapping[str, RollFile], watch: Watch) -> None:
    """Write the files that make a bag of the roll's folder. files: by path in the folder, as they were read back there

    Each is read again for its SHA-256, and must still be what was read off the card: a bag does not know our checksums.
    What stands under a name already is not written over. Raises RaftError, Stopped.
    """
    home = f"{roll.tag}/"
    sums = {path.removeprefix(home): _sha256(folder, path, file, watch) for path, file in files.items()}
    size = sum(file.size for file in files.values())
    newest = max((file.modified_ns for file in files.values()), default=0)
    made = tag_files({_SUM: sums}, size, _info(roll))
    leave_all(folder, {home + name: content for name, content in made.items()}, newest)


def leave_all(folder: LocalStore, files: Mapping[str, bytes], modified_ns: int) -> None:
    """Small files, by path in the folder, read back; none is written over another. Raises StoreError."""
    folder.open()
    try:
        for path, content in files.items():
            there = folder.read_whole(path, _LARGEST)
            if there not in (None, content):
                raise StoreError(f"{path} stands there already, and says something else: it was left as it is")
            if there is None:
                _write(folder, path, content, modified_ns)
        folder.settle([(above, None) for above in sorted({path.rpartition("/")[0] for path in files} - {""})])
    finally:
        folder.close()


def _sha256(folder: LocalStore, path: str, file: RollFile, watch: Watch) -> str:
    if watch.cancelled():
        raise Stopped
    ours, theirs = algorithm_named(file.roll.algorithm).start(), algorithm_named(_SUM).start()
    level = folder.read_back(path, lambda data: (ours.update(data), theirs.update(data)))
    if ours.hexdigest() != file.checksum or level < Evidence.READ_BACK:
        raise StoreError(f"{path} was not read as it was taken when its bag was made")
    return theirs.hexdigest()


def _write(folder: LocalStore, path: str, content: bytes, modified_ns: int) -> None:
    """Raises StoreError where it is not read back as it was written."""
    write_one(folder, path, content, modified_ns)
    held = bytearray()
    folder.read_back(path, held.extend)
    if held != content:
        raise StoreError(f"{path} was read back otherwise than it was written")


def _info(roll: Roll) -> Sequence[tuple[str, str]]:
    """Fields of RFC 8493, 2.2.2."""
    return (
        ("Source-Organization", roll.production.name),
        ("External-Identifier", roll.tag),
        ("External-Description", f"Roll {roll.tag} of {roll.shoot_day.isoformat()}"),
    )
