"""Sets for discs and tapes, as screens and papers read them."""

from collections.abc import Iterator
from dataclasses import dataclass

from ruggedraft.core.errors import NotThere
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import RollFile

from .models import MediaSet, MediaVolume


@dataclass(frozen=True)
class VolumeTold:
    """takes: bytes of the medium, of as many as there is room for. rolls: tags, with how many files of each"""

    row: MediaVolume
    files: int
    bytes: int
    takes: int
    room: int
    rolls: list[tuple[str, int]]


@dataclass(frozen=True)
class OnMedium:
    """A file of a set, and the medium that it goes onto."""

    medium: str
    shelf: str
    roll: str
    file: RollFile


def sets_of(production: Production) -> list[tuple[MediaSet, list[VolumeTold]]]:
    """Newest first."""
    rows = production.media_sets.select_related("by").prefetch_related("volumes__rolls__roll").order_by("-number")
    return [
        (one, [_told(one, volume) for volume in sorted(one.volumes.all(), key=lambda row: row.number)]) for one in rows
    ]


def _told(one: MediaSet, volume: MediaVolume) -> VolumeTold:
    of = sorted(volume.rolls.all(), key=lambda row: row.roll.tag)
    volume.of = one
    return VolumeTold(
        volume, sum(len(row.files) for row in of), sum(row.bytes for row in of), sum(row.takes for row in of),
        one.of.room, [(row.roll.tag, len(row.files)) for row in of],
    )  # fmt: skip


def set_numbered(production: Production, number: int) -> MediaSet:
    """Raises NotThere."""
    found = production.media_sets.filter(number=number).first()
    if found is None:
        raise NotThere(f"There is no set {number} in {production.name}.")
    return found


def volume_numbered(production: Production, number: int, volume: int) -> MediaVolume:
    """Raises NotThere."""
    one = set_numbered(production, number)
    found = one.volumes.select_related("of__production").filter(number=volume).first()
    if found is None:
        raise NotThere(f"{one.name} has no medium {volume}.")
    return found


def listed(one: MediaSet) -> Iterator[OnMedium]:
    """Every file, medium by medium, in the order of rolls and paths; in a fixed number of queries."""
    volumes = list(one.volumes.select_related("of").prefetch_related("rolls__roll").order_by("number"))
    ids = [pk for volume in volumes for of in volume.rolls.all() for pk in of.files]
    files = RollFile.objects.select_related("roll").in_bulk(ids)
    for volume in volumes:
        for of in sorted(volume.rolls.all(), key=lambda row: row.roll.tag):
            for file in sorted((files[pk] for pk in of.files), key=lambda file: file.path):
                yield OnMedium(volume.name, volume.shelf, of.roll.tag, file)
