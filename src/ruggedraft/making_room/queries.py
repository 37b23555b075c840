"""What could be taken off a store to make room there, and what was."""

import calendar
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from zoneinfo import ZoneInfo

from django.db.models import Q

from ruggedraft.choosing.queries import Kept, kept_in
from ruggedraft.clearing.models import Hold
from ruggedraft.clearing.roll_cases import open_runs_of
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.making_room import Held, Room, room
from ruggedraft.core.redundancy import HoldEnd, HoldFact
from ruggedraft.core.stores import StoreKind
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Delivery, Roll, RollFile
from ruggedraft.rolls.queries import where_held
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import is_lost, sightings_of

from .models import MakingRoom, TakenOff

_MOST, _RUNS = 100, 20
_IDLE = "something is being done with it: wait for that"


@dataclass(frozen=True)
class RoomOn:
    """found: of the rolls that were delivered longest ago. more: there are others that were delivered before that day

    undelivered: so many rolls lie there that nobody said were delivered
    """

    found: Room
    more: bool
    undelivered: int


def months_ago(production: Production, months: int) -> datetime:
    """The same time of the same day so many months ago, where that is a day; else of the month's last.

    >>> from datetime import UTC
    >>> _back(datetime(2026, 3, 31, 12, tzinfo=UTC), 1)
    datetime.datetime(2026, 2, 28, 12, 0, tzinfo=datetime.timezone.utc)
    """
    return _back(now().astimezone(ZoneInfo(production.time_zone)), months)


def _back(moment: datetime, months: int) -> datetime:
    years, month = divmod(moment.year * 12 + moment.month - 1 - months, 12)
    day = min(moment.day, calendar.monthrange(years, month + 1)[1])
    return moment.replace(year=years, month=month + 1, day=day)


def room_on(production: Production, store: Store, before: datetime, *, with_kept: bool) -> RoomOn:
    """What could go from a store (from `stores()`) of rolls that were delivered before a moment. Raises ActRefused."""
    refuse_packages(store)
    there = Copy.objects.filter(store=store, roll__production=production, readings__isnull=False)
    delivered = Delivery.objects.filter(withdrawn_at=None, roll__copies__in=there, at__lte=before).distinct()
    rolls = list(delivered.order_by("at", "roll").values_list("roll", flat=True)[: _MOST + 1])
    no_one = there.exclude(roll__deliveries__in=Delivery.objects.filter(withdrawn_at=None))
    held = held_there(rolls[:_MOST], store, with_kept=with_kept)
    found = room(held, store.name, production.rule.as_rule(), now(), before)
    return RoomOn(found, len(rolls) > _MOST, no_one.values("roll").distinct().count())


def refuse_packages(store: Store) -> None:
    """Raises ActRefused."""
    if store.kind == StoreKind.PACKAGES:
        raise ActRefused(f"'{store.name}' keeps sealed packages, which nothing is ever taken out of.")


def held_there(
    rolls: Sequence[int], store: Store, *, with_kept: bool, in_full: bool = False, besides: int | None = None
) -> list[Held]:
    """These rolls (ids) as they are judged, in a fixed number of queries. in_full: from no summary

    besides: the run that asks; others of these rolls are in its way
    """
    places = places_of_all()
    standings = roll_standings(rolls, places, in_full=in_full)
    goes = _what_goes(standings, store, with_kept=with_kept, every=in_full)
    delivered = _delivered(standings)
    runs, holds = _busy(standings, besides), _holds(standings.values())
    return [
        Held(
            facts=replace(standing.facts, holds=holds[pk]),
            delivered_at=delivered.get(pk),
            files=goes[pk].files,
            bytes=goes[pk].bytes,
            kept=goes[pk].kept,
            beside=_beside(standing, store, places),
            open_run=_IDLE if pk in runs else "",
        )
        for pk, standing in standings.items()
    ]


@dataclass(frozen=True)
class _Goes:
    files: int
    bytes: int
    kept: int


def _what_goes(
    standings: Mapping[int, RollStanding], store: Store, *, with_kept: bool, every: bool
) -> dict[int, _Goes]:
    """By roll. A whole copy of which nothing is kept goes as a whole: only the others are looked at file by file.

    every: look at all of them file by file
    """
    kept = what_stays([one.roll for one in standings.values()], with_kept=with_kept)
    special = standings.keys() if every else {*kept, *_left_over(standings, store)}
    plain = {pk: _whole(one, store) for pk, one in standings.items() if pk not in special}
    found = {pk: whole for pk, whole in plain.items() if whole}
    for pk, files in files_that_go([standings[pk].roll for pk in standings.keys() - found], store, kept).items():
        found[pk] = _Goes(len(files), sum(file.size for file in files), kept.get(pk, _NOTHING).clips)
    return found


_NOTHING = Kept(0, frozenset())


def what_stays(rolls: Iterable[Roll], *, with_kept: bool) -> dict[int, Kept]:
    """By roll, of what somebody keeps something; of nothing where that goes too."""
    return {} if with_kept else kept_in(rolls)


def _whole(standing: RollStanding, store: Store) -> _Goes | None:
    """All of a copy there that is whole; None where what it holds takes looking at each file."""
    there = next((one.facts for one in standing.copies if one.store.pk == store.pk), None)
    if there is None or not there.whole or standing.facts.waived:
        return None
    return _Goes(there.files, there.bytes, 0)


def files_that_go(rolls: Sequence[Roll], store: Store, kept: Mapping[int, Kept]) -> dict[int, list[RollFile]]:
    """By roll: what the store is known to hold of it, or was left there half-way, but for what stays.

    kept: by roll, from `choosing.queries.kept_in`; of others everything goes
    """
    files = list(RollFile.objects.filter(roll__in=rolls).exclude(checksum="").order_by("path"))
    held, left = where_held(files), _left_over([roll.pk for roll in rolls], store)
    found: dict[int, list[RollFile]] = {roll.pk: [] for roll in rolls}
    for file in files:
        there = any(one.store.pk == store.pk for one in held[file.pk]) or file.pk in left.get(file.roll_id, ())
        if there and (file.roll_id not in kept or file.path in kept[file.roll_id].goes):
            found[file.roll_id].append(file)
    return found


def _left_over(rolls: Iterable[int], store: Store) -> dict[int, set[int]]:
    """By roll, ids of files of which nothing is claimed there any more, and that were not removed, as a run stopped."""
    rows = TakenOff.objects.filter(run__copy__store=store, run__copy__roll__in=list(rolls), removed_at=None, trouble="")
    here = rows.exclude(run__copy__thinned_at=None)
    found: dict[int, set[int]] = {}
    for roll, file in here.values_list("run__copy__roll", "file"):
        found.setdefault(roll, set()).add(file)
    return found


def _delivered(rolls: Iterable[int]) -> dict[int, datetime]:
    rows = Delivery.objects.filter(roll__in=list(rolls), withdrawn_at=None)
    return dict(rows.values_list("roll", "at"))


def _busy(rolls: Iterable[int], besides: int | None) -> set[int]:
    own = MakingRoom.objects.filter(pk=besides).values_list("subject", flat=True).first() if besides else None
    return {roll for roll, subjects in open_runs_of(rolls).items() if subjects - {own}}


def _holds(standings: Iterable[RollStanding]) -> dict[int, tuple[HoldFact, ...]]:
    """By roll: those on it, and those on what its camera shot."""
    each = [(standing.roll.pk, standing.roll.camera_id) for standing in standings]
    rows = Hold.objects.filter(
        Q(roll__in=[roll for roll, _ in each]) | Q(camera__in=[camera for _, camera in each]), lifted_at=None
    )
    said = [(one.roll_id, one.camera_id, _fact(one)) for one in rows.select_related("placed_by", "camera")]
    return {
        roll: tuple(fact for on, of, fact in said if on == roll or (of == camera and of is not None))
        for roll, camera in each
    }


def _fact(hold: Hold) -> HoldFact:
    on = f"camera {hold.camera.letter}" if hold.camera else ""
    return HoldFact(hold.reason, hold.placed_by.shown_name, on, HoldEnd(hold.ends), hold.until, hold.refusal)


def _beside(standing: RollStanding, store: Store, places: Mapping[int, Store]) -> frozenset[str]:
    """Names of other stores with a copy that a station sees which sees this store too."""
    seeing = _stations(store)
    others = (one.store for one in standing.copies if one.store.pk != store.pk and not is_lost(one.store))
    return frozenset(other.name for other in others if seeing & _stations(places[other.pk]))


def _stations(store: Store) -> set[int]:
    return {one.station for one in sightings_of(store) if one.online}


def runs_on(production: Production, store: Store) -> list[MakingRoom]:
    """The last twenty that made room on a store, newest first."""
    rows = MakingRoom.objects.filter(copy__store=store, roll__production=production)
    return list(rows.select_related("roll", "person", "copy").order_by("-pk")[:_RUNS])
