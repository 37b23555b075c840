"""What lies on each medium of a set, for people and programs that have nothing else."""

from ruggedraft.core.manifests import format_list
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.tables import as_csv
from ruggedraft.rolls.models import RollFile
from ruggedraft.stores.folders import MARKER

from .models import MediaSet, MediaVolume, VolumeRoll
from .queries import listed

_HEAD = ("medium", "kept", "roll", "path", "bytes", "algorithm", "checksum")


def set_index(one: MediaSet) -> bytes:
    """CSV, a line a file of every medium. path: on the medium, as its folder was made"""
    rows = (
        [on.medium, on.shelf, on.roll, f"{on.roll}/{on.file.kept_as or on.file.path}", on.file.size,
         on.file.roll.algorithm, on.file.checksum]
        for on in listed(one)
    )  # fmt: skip
    return as_csv(_HEAD, rows)


def beside(volume: MediaVolume) -> dict[int, dict[str, str]]:
    """What lies beside the rolls on a medium, by the roll's id and by path: each one's checksum list; and, with the
    first, the index of the whole set as it is now, and the mark by which the medium is known when it comes back."""
    found: dict[int, dict[str, str]] = {}
    for of in volume.rolls.select_related("roll").order_by("roll__tag"):
        name = f"{volume.name}/{of.roll.tag}.{of.roll.algorithm}"
        found[of.roll_id] = {name: _checksums(of)}
    first = next(iter(found.values()), {})
    first[f"{volume.name}/INDEX.csv"] = set_index(volume.of).decode()
    first[f"{volume.name}/{MARKER}"] = str(volume.uuid)
    return found


def _checksums(of: VolumeRoll) -> str:
    rows = RollFile.objects.filter(pk__in=of.files).values_list("path", "kept_as", "checksum")
    sums = {f"{of.roll.tag}/{from_ledger(kept or path)}": checksum for path, kept, checksum in rows}
    return to_ledger(format_list(sums).decode("utf-8", "surrogateescape"))
