from datetime import datetime

from django.db import transaction

from ruggedraft.core.pictures import Made, PictureKind
from ruggedraft.kit.models import Station
from ruggedraft.rolls.models import Roll, RollFile

from ..keeping import digest_of, pictures_kept
from ..models import FileSeen, Parcel, Picture, RollSeen

_LONGEST = 200


def keep_pictures(station: Station, file: RollFile, made: Made, at: datetime) -> None:
    """Keep what was made of a file, and that it was gone through.

    Pictures are on the disk, or on their way there, before the ledger says that they are. Raises OSError.
    """
    keep = _send if station.role else pictures_kept().keep
    with transaction.atomic():
        for kind, data in made.pictures.items():
            words = {"digest": keep(data), "size": len(data), "at": at}
            Picture.objects.update_or_create(file=file, kind=kind.value, defaults=words)
        FileSeen.objects.update_or_create(file=file, defaults={"at": at, "note": made.note[:_LONGEST]})


def keep_light(station: Station, file: RollFile, data: bytes | None, note: str, at: datetime) -> None:
    """Keep a light copy of a recording, or why there is none. Raises OSError."""
    with transaction.atomic():
        if data is not None:
            keep = _send if station.role else pictures_kept().keep
            words = {"digest": keep(data), "size": len(data), "at": at}
            Picture.objects.update_or_create(file=file, kind=PictureKind.LIGHT.value, defaults=words)
        FileSeen.objects.filter(file=file).update(light_at=at, light_note=note[:_LONGEST])


def note_all_seen(roll: Roll) -> None:
    """Keep that all clips of a roll were gone through, as far as it is read here."""
    RollSeen.objects.update_or_create(roll=roll, defaults={"content": roll.content})


def see_again(file: RollFile) -> None:
    """Have pictures of a file made again, as soon as a verified copy is at hand."""
    FileSeen.objects.filter(file=file).delete()
    RollSeen.objects.filter(roll=file.roll_id).delete()


def _send(data: bytes) -> str:
    digest = digest_of(data)
    Parcel.objects.get_or_create(digest=digest, defaults={"data": data})
    return digest
