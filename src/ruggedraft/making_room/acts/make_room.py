from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.making_room import against
from ruggedraft.core.preflight import gigabytes
from ruggedraft.core.wording import counted
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import is_running
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.queries import last_evidence, rolls_named
from ruggedraft.runs.queue import add_to_queue
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sightings_of, stores

from ..models import MakingRoom
from ..queries import files_that_go, held_there, refuse_packages, what_stays


@dataclass(frozen=True)
class Shown:
    """What somebody was shown that would go of a roll: so many files, and bytes."""

    tag: str
    files: int
    bytes: int


@transaction.atomic
def make_room(
    person: Person, production: Production, store: Store, shown: Sequence[Shown], before: datetime, *, with_kept: bool
) -> list[MakingRoom]:
    """Have files of rolls taken off a store (from `stores()`), as they were shown; see `core.making_room.against`.

    Each roll is judged now, from everything that was ever noted, and again before anything of it is removed.
    Raises ActRefused with what speaks against it, or where things are not as they were shown any more.
    """
    require(person, May.MAKE_ROOM, production.pk)
    refuse_packages(store)
    hold_still(production.pk)
    rolls = rolls_named(production, [one.tag for one in shown])
    return [_ordered(person, roll, store, shown, before, with_kept=with_kept) for roll in rolls]


def _ordered(
    person: Person, roll: Roll, store: Store, shown: Sequence[Shown], before: datetime, *, with_kept: bool
) -> MakingRoom:
    (held,) = held_there([roll.pk], store, with_kept=with_kept, in_full=True)
    seen = {(one.files, one.bytes) for one in shown if one.tag == roll.tag}
    reason = against(held, store.name, roll.production.rule.as_rule(), now(), before)
    if reason:
        raise ActRefused(f"Nothing of {roll.tag} is taken off '{store.name}': {reason}. Nothing was changed.")
    if seen != {(held.files, held.bytes)}:
        raise ActRefused(f"What lies on '{store.name}' of {roll.tag} is not what you were shown: look again.")
    files = files_that_go([roll], store, what_stays([roll], with_kept=with_kept))[roll.pk]
    copy, station = Copy.every.get(roll=roll, store=store), _station(store, held.beside)
    run = MakingRoom(
        subject=MakingRoom.subject_of(copy.pk), roll=roll, station=station, person=person, copy=copy,
        files=[file.pk for file in files], with_kept=with_kept, delivered_before=before, after=last_evidence(),
    )  # fmt: skip
    add_to_queue(run)
    what = f"{counted(len(files), 'file')} of {roll.tag} ({gigabytes(sum(file.size for file in files))})"
    stays = f"; {counted(held.kept, 'clip')} that somebody keeps stay there" if held.kept else ""
    write("ask making room", roll.tag, f"{what} are to be taken off '{store.name}' to make room{stays}.",
          person=person, origin=station.name, production=roll.production_id)  # fmt: skip
    changed(Topic.ROLLS, rolls=[roll.tag], production=roll.production_id)
    return run


def _station(store: Store, beside: frozenset[str]) -> Station:
    """One that sees the store and one of these others; better one whose worker is there."""
    seeing = {one.station for one in sightings_of(store) if one.online}
    others = {one.station for other in stores().filter(name__in=beside) for one in sightings_of(other) if one.online}
    return max(Station.objects.filter(pk__in=seeing & others).order_by("name"), key=is_running)
