"""Which copies a station should read again by itself, the one first that is to be feared for most."""

from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta
from itertools import chain

from django.db.models import Case, F, Max, Q, Value, When

from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.roll_cases import overview
from ruggedraft.core.evidence import Evidence, Result
from ruggedraft.core.redundancy import RollState
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.upkeep import LastTry, Recheckable, by_risk
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Origin, ReadingResult
from ruggedraft.rolls.readings import CopyStanding, RollStanding
from ruggedraft.rolls.summaries import microseconds, roll_standings
from ruggedraft.runs.models import Run

from .cares import cares_here
from .models import Care
from .orders import Places
from .tries import may_try, tries_by

_LOOKED_AT = 300
"""So many copies at a time: what is due is among them."""


def copies_due(station: Station, cares: Iterable[Care], places: Places) -> list[tuple[Copy, Care]]:
    """Copies that this station can read again now and that are due, the riskiest first."""
    moment = now()
    mine = cares_here(station, (one for one in cares if one.check_days), places)
    if not mine:
        return []
    faults = _faults_by_device(places[pk].device_id for pk in mine)
    copies = _to_be_feared_for(mine, faults, moment)
    busy, tries = _checks_of(copies)
    due = _due(_as_recheckable(copies, places, moment, faults, tries), copies, mine, moment)
    free = [copies[pk] for pk in due if copies[pk].roll_id not in busy and may_try(tries, pk, moment)]
    return [(copy, mine[copy.store_id]) for copy in free]


def _due(
    facts: Mapping[int, Recheckable], copies: Mapping[int, Copy], cares: Mapping[int, Care], moment: datetime
) -> list[int]:
    """Ids of copies, the riskiest first; each is due by what is asked of its own store."""
    by_store: dict[int, list[Recheckable]] = {}
    for pk, one in facts.items():
        by_store.setdefault(copies[pk].store_id, []).append(one)
    due = (by_risk(those, moment, timedelta(days=cares[store].check_days or 0)) for store, those in by_store.items())
    return [one.key for one in by_risk(chain.from_iterable(due), moment, timedelta(0))]


def _to_be_feared_for(cares: Mapping[int, Care], faults: Mapping[int, datetime], moment: datetime) -> dict[int, Copy]:
    """Some copies that may be due at this hour, by id: those on a device that a fault was found on come first.

    What their summaries say is due, read longest ago first, and those of which no summary speaks yet.
    """
    column = f"summary__proven_us__{Evidence.READ_BACK.value}"
    unknown = Q(proven=None) | ~Q(summary__version=F("roll__version"))
    suspect = Q(pk__in=())
    for device, at in faults.items():
        suspect |= Q(store__device=device) & (Q(proven=None) | Q(proven__lt=microseconds(at)))
    due = suspect | unknown
    for store, care in cares.items():
        due |= Q(store=store, proven__lte=microseconds(moment - timedelta(days=care.check_days or 0)))
    turn = Case(When(suspect, then=Value(0)), default=Value(1))
    rows = Copy.objects.filter(store__in=list(cares), readings__isnull=False).annotate(proven=F(column), turn=turn)
    rows = rows.filter(due).order_by("turn", F("proven").asc(nulls_first=True), "pk").distinct()[:_LOOKED_AT]
    some = rows.select_related("roll__production", "store")
    return {copy.pk: copy for copy in some if cares[copy.store_id].may_begin(copy.roll.production, moment)}


def _as_recheckable(
    copies: Mapping[int, Copy],
    places: Places,
    moment: datetime,
    faults: Mapping[int, datetime],
    tries: Mapping[int, list[LastTry]],
) -> dict[int, Recheckable]:
    """By the copy's id. What holds nothing is not read again, unless that is because its store was lost and found."""
    below = _below(copies.values(), places, moment)
    found = {}
    for standing in roll_standings({copy.roll_id for copy in copies.values()}, places).values():
        for one in standing.copies:
            if one.id in copies and (one.facts.files or one.found_after):
                found[one.id] = Recheckable(
                    one.id, standing.roll.pk in below, _others(standing, one), _read_at(one, tries.get(one.id, [])),
                    faults.get(one.store.device_id),
                )  # fmt: skip
    return found


def _read_at(copy: CopyStanding, tries: list[LastTry]) -> datetime | None:
    """When it was last read: also where reading can prove no more, as on a store that gives from a cache."""
    if not copy.facts.files:
        return None  # whatever was read before it was lost proves nothing any more
    well = next((one.ended_at for one in tries if one.end is RunEnd.WELL), None)
    return max(filter(None, [copy.facts.proven[Evidence.READ_BACK], well]), default=None)


def _others(standing: RollStanding, mine: CopyStanding) -> int:
    """Whole copies on other stores, read back, that count."""
    facts = [one.facts for one in standing.copies if one.id != mine.id]
    good = [one for one in facts if one.whole_and_read_back]
    return sum(one.store.counts and not one.store.lost for one in good)


def _below(copies: Iterable[Copy], places: Places, moment: datetime) -> set[int]:
    """Rolls below the line, by id."""
    found = set[int]()
    for production in Production.objects.filter(pk__in={one.roll.production_id for one in copies}).select_related(
        "rule"
    ):
        states = overview(production, places, moment).states
        found |= {pk for pk, state in states.items() if state is RollState.BELOW}
    return found


def _faults_by_device(devices: Iterable[int]) -> dict[int, datetime]:
    """When a reading last found a file damaged on each device."""
    bad = ReadingResult.objects.filter(
        result__in=(Result.DIFFERS, Result.UNREADABLE), reading__copy__store__device__in=list(devices),
    ).exclude(reading__origin=Origin.LOOK)  # fmt: skip
    rows = bad.values("reading__copy__store__device").annotate(last=Max("reading__began_at"))
    return dict(rows.values_list("reading__copy__store__device", "last"))


def _checks_of(copies: Mapping[int, Copy]) -> tuple[set[int], dict[int, list[LastTry]]]:
    """Rolls something is being done with, and how earlier checks of each copy went, newest first."""
    busy = set(Run.objects.filter(roll__in={one.roll_id for one in copies.values()}, finished_at=None)
               .values_list("roll_id", flat=True))  # fmt: skip
    return busy, tries_by("copy_id", CheckRun.objects.filter(copy__in=list(copies)))
