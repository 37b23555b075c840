"""Tally: where does every roll exist, and what is missing?"""

from typing import TYPE_CHECKING, Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from ruggedraft.checks.queries import open_checks
from ruggedraft.clearing.acts.drop_files import drop_files
from ruggedraft.clearing.queries import holds_on
from ruggedraft.clearing.roll_cases import RollCase, left_of, roll_case
from ruggedraft.clearing.tally import page_of_rolls
from ruggedraft.core.errors import NotThere
from ruggedraft.core.evidence import Evidence, Level, Result
from ruggedraft.core.redundancy import Rule, rule_for, rule_sentence, survival
from ruggedraft.journal.clock import now
from ruggedraft.live.snapshot import one_moment
from ruggedraft.live.together import asked_together
from ruggedraft.offloads.queries import open_feeds, where_from
from ruggedraft.productions.queries import production_named
from ruggedraft.rolls.acts.note_opening import note_opening
from ruggedraft.rolls.acts.say_delivered import say_delivered, take_delivery_back
from ruggedraft.rolls.footage import footage_of
from ruggedraft.rolls.queries import delivery_of, faults_of, files_after, readings_of, roll_named
from ruggedraft.rolls.readings import waivers_of
from ruggedraft.rolls.summaries import places_in, places_of_all
from ruggedraft.views.queries import changed_for

from ..answers import written
from ..shapes import REFUSED, Done
from ..stores.shapes import StoreColumn
from ..who import who
from .shapes import (
    DayOut,
    DeliveryIn,
    DropIn,
    FaultOut,
    FileOut,
    FilesOut,
    HoldOut,
    OpeningIn,
    ReadingOut,
    RollDetail,
    RollOut,
    SoughtIn,
    TallyOut,
    WaiverOut,
    WorkOut,
)

_MOST, _MOST_FILES = 100, 500

if TYPE_CHECKING:
    from ruggedraft.checks.models import CheckRun
    from ruggedraft.offloads.models import Feed
    from ruggedraft.productions.models import Production
    from ruggedraft.rolls.models import Roll

router = Router(tags=["tally"])


@router.get("", response=TallyOut)
@one_moment()
def tally(
    request: HttpRequest,
    production: Path[str],
    sought: Query[SoughtIn],
    after: str = "",
) -> HttpResponse:
    here = production_named(production)
    places = places_in(here)
    rule = here.rule.as_rule()
    rolls = changed_for(who(request), here) if sought.changed else None
    page = page_of_rolls(here, places, sought.as_sought(here.shoot_day(now()), rolls), after=after)
    return written(
        TallyOut(
            rule=rule_sentence(rule),
            stores=[StoreColumn.of(store) for store in places.values()],
            rolls=[RollOut.of(one, rule, now(), places) for one in page.rolls],
            after=page.after,
            in_all=page.in_all,
            days=[DayOut.of(day, here) for day in page.days],
            survives_devices=page.survives.devices if page.survives else None,
            survives_locations=page.survives.locations if page.survives else None,
        )
    )


@router.get("/rolls/{tag}", response=RollDetail)
@asked_together
@one_moment()
def roll(request: HttpRequest, production: Path[str], tag: str) -> HttpResponse:
    here, places = production_named(production), places_of_all()
    rule, case = here.rule.as_rule(), _case(here, tag)
    row = case.standing.roll
    alive = survival(case.verdict.counting)
    readings = readings_of(row, _MOST)
    brought = where_from(readings)
    return written(
        RollDetail(
            roll=RollOut.of(case, rule, now(), places),
            survives_devices=alive.devices,
            survives_locations=alive.locations,
            faults=_faults(case),
            readings=[
                ReadingOut(
                    store=one.copy.store.name,
                    at=one.began_at,
                    origin=one.came_of,
                    source=brought.get(one.pk, ""),
                    level=Level.of(Evidence(one.level)),
                    agreed_files=one.agreed_files,
                    wrong_files=sum(Result(found.result).is_fault for found in one.results.all()),
                    off_files=sum(found.result == Result.TAKEN_OFF for found in one.results.all()),
                )
                for one in readings
            ],
            waivers=[WaiverOut.of(waiver) for waiver in waivers_of([row]).get(row.pk, ())][:_MOST],
            left_behind=left_of(row, _MOST),
            **_said(case, rule),
            under_way=_under_way(row),
        )
    )


@router.post("/deliveries", response={200: Done, **REFUSED})
def delivered(request: HttpRequest, production: Path[str], given: DeliveryIn) -> Done:
    say_delivered(who(request), production_named(production), given.tags, given.to)
    return Done()


@router.delete("/rolls/{tag}/delivery", response={200: Done, **REFUSED})
def not_delivered(request: HttpRequest, production: Path[str], tag: str) -> Done:
    take_delivery_back(who(request), production_named(production), tag)
    return Done()


@router.post("/rolls/{tag}/openings", response={200: Done, **REFUSED})
def opened(request: HttpRequest, production: Path[str], tag: str, given: OpeningIn) -> Done:
    """Somebody opened a clip and looked at it."""
    note_opening(who(request), roll_named(production_named(production), tag), given.path)
    return Done()


@router.post("/rolls/{tag}/drops", response={200: Done, **REFUSED})
def dropped(request: HttpRequest, production: Path[str], tag: str, given: DropIn) -> Done:
    """Say of files of a roll that nobody needs them."""
    drop_files(who(request), roll_named(production_named(production), tag), given.paths, given.reason)
    return Done()


@router.get("/rolls/{tag}/files", response=FilesOut)
@asked_together
@one_moment()
def files(request: HttpRequest, production: Path[str], tag: str, after: str = "") -> HttpResponse:
    row = _case(production_named(production), tag).standing.roll
    rows, rest = files_after(row, after, _MOST_FILES)
    footage = footage_of(rows)
    found = [FileOut.of(one, row.algorithm, footage.get(one.pk)) for one in rows]
    return written(FilesOut(files=found, after=rest))


def _case(production: "Production", tag: str) -> RollCase:
    found = roll_case(production, tag)
    if found is None:
        raise NotThere(f"There is no roll {tag} in {production.name}.")
    return found


def _said(case: RollCase, rule: Rule) -> dict[str, Any]:
    """What people asked of a roll and said of it."""
    facts, row = case.standing.facts, case.standing.roll
    delivery = delivery_of(row)
    return {
        "asked": rule_sentence(rule_for(facts, rule)),
        "clips": case.standing.clips,
        "opened": case.standing.opened,
        "delivered_to": delivery.to if delivery else "",
        "delivered_at": delivery.at if delivery else None,
        "double_of": facts.double_of,
        "holds": [HoldOut.of(hold) for hold in holds_on(row)],
    }


def _under_way(roll: "Roll") -> list[WorkOut]:
    runs: list[CheckRun | Feed] = [*open_checks(roll), *open_feeds(roll)]
    return [WorkOut.of(run) for run in runs]


def _faults(case: RollCase) -> list[FaultOut]:
    found = [
        FaultOut(store=copy.facts.store.name, path=one.path, result=one.result, reason=one.reason)
        for copy in case.standing.copies
        if copy.facts.missing_files
        for one in faults_of(copy.copy, _MOST)
    ]
    return found[:_MOST]
