from collections.abc import Mapping, Sequence

from django.db import transaction
from django.db.models import Max

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sets import MEDIA, Medium, Unit, divide
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.rolls.queries import rolls_named

from ..models import MediaSet, MediaVolume, VolumeRoll
from ..queries import set_numbered
from ..units import units_of

MOST_ROLLS = 500


@transaction.atomic
def divide_rolls(
    person: Person, production: Production, tags: Sequence[str], medium: Medium, *, tape: bool = False, into: int = 0
) -> MediaSet:
    """Divide rolls among media. into: the number of a set that they join; what has its place there keeps it.

    Raises ActRefused for a clip that is larger than the medium, with what would hold it.
    """
    require(person, May.OFFLOAD, production.pk)
    hold_still(production.pk)
    rolls = list(Roll.objects.filter(pk__in=[roll.pk for roll in rolls_named(production, list(dict.fromkeys(tags)))])
                 .select_related("camera", "production").order_by("tag"))  # fmt: skip
    if not rolls or len(rolls) > MOST_ROLLS:
        raise ActRefused(f"Choose 1 to {MOST_ROLLS} rolls.")
    one = set_numbered(production, into) if into else _new(person, production, medium, tape=tape)
    volumes = list(one.volumes.prefetch_related("rolls").order_by("number"))
    placed = {pk for volume in volumes for of in volume.rolls.all() for pk in of.files}
    units = units_of(rolls, placed)
    if not units:
        raise ActRefused("All of this has its place in the set already.")
    _place(one, volumes, units)
    what = f"{first_of([roll.tag for roll in rolls])} ({one.of.name})"
    words = f"{one.name}: {what} divided among {counted(one.volumes.count(), 'medium', 'media')}."
    write("divide rolls", one.name, words, person=person, production=production.pk)
    changed(Topic.SETS, production=production.pk)
    return one


def _new(person: Person, production: Production, medium: Medium, *, tape: bool) -> MediaSet:
    last = production.media_sets.aggregate(last=Max("number"))["last"] or 0
    return MediaSet.objects.create(
        production=production,
        number=last + 1,
        medium=medium.name,
        capacity=medium.capacity,
        tape=tape,
        by=person,
        at=now(),
    )


def _place(one: MediaSet, volumes: list[MediaVolume], units: Mapping[str, Sequence[RollFile]]) -> None:
    medium = one.of
    takes = {key: sum(medium.takes(file.size) for file in files) for key, files in units.items()}
    _refuse_too_large(takes, units, medium)
    found = _divided(volumes, takes, medium.room)
    for n in range(len(volumes), len(found)):
        volumes.append(MediaVolume.objects.create(of=one, number=n + 1))
    for volume, keys in zip(volumes, found, strict=True):
        _put(volume, [file for key in keys for file in units.get(key, ())], medium)


def _divided(volumes: Sequence[MediaVolume], takes: Mapping[str, int], room: int) -> list[list[str]]:
    """Names of units by medium. What a medium holds already stays there, as one unit of a name that no clip has."""
    held = [Unit(f"\0{n}", sum(of.takes for of in volume.rolls.all())) for n, volume in enumerate(volumes)]
    closed = [n for n, volume in enumerate(volumes) if volume.closed_at]
    fresh = [Unit(key, size) for key, size in takes.items()]
    return divide([*held, *fresh], room, [[unit.key] for unit in held], closed)


def _put(volume: MediaVolume, files: Sequence[RollFile], medium: Medium) -> None:
    for roll in sorted({file.roll_id for file in files}):
        mine = [file for file in files if file.roll_id == roll]
        row = VolumeRoll.objects.filter(volume=volume, roll=roll).first()
        row = row or VolumeRoll(volume=volume, roll_id=roll, files=[], bytes=0, takes=0)
        row.files = [*row.files, *(file.pk for file in mine)]
        row.bytes += sum(file.size for file in mine)
        row.takes += sum(medium.takes(file.size) for file in mine)
        row.save()


def _refuse_too_large(takes: Mapping[str, int], units: Mapping[str, Sequence[RollFile]], medium: Medium) -> None:
    large = sorted((key for key, size in takes.items() if size > medium.room), key=lambda key: (-takes[key], key))
    if not large:
        return
    need = sum(file.size for file in units[large[0]])
    holds = next((one.name for one in MEDIA if sum(one.takes(file.size) for file in units[large[0]]) <= one.room), "")
    other = f"it fits: {holds}" if holds else "no medium that is known here holds it: name a larger one"
    more = f", and {len(large) - 1} more" if len(large) > 1 else ""
    raise ActRefused(
        f"{large[0]} ({need / 1e9:.1f} GB) is larger than a medium ({medium.name}){more}, and a clip is never divided;"
        f" {other}. Nothing was changed."
    )
