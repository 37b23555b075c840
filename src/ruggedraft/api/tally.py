"""Tally: where does every roll exist, and what is missing?"""

from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.roll_cases import RollCase, left_of, page_of_rolls, roll_case
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.evidence import Evidence, Level, Result
from ruggedraft.core.redundancy import survival, what_would_it_take
from ruggedraft.journal.clock import now
from ruggedraft.rolls.acts.report_loss import report_found, report_loss
from ruggedraft.rolls.models import Copy, Origin, Reading, ReadingResult
from ruggedraft.rolls.queries import files_held
from ruggedraft.rolls.readings import waivers_of
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sighting_of, store_facts, stores

from .current import production
from .shapes import Done, Problem, RollOut, WaiverOut

router = Router(tags=["tally"])
_MOST = 100


class StoreColumn(Schema):
    name: str
    device: str
    location: str
    medium: str
    offsite: bool
    online: bool
    lost: bool
    counts: bool
    free: int
    total: int


class TallyOut(Schema):
    """A page of rolls: those below the line first, then those short of the rule, then the rest; in each newest first.

    after: hand this in to get the next page; null on the last. in_all: how many rolls were asked for
    """

    rule: str
    stores: list[StoreColumn]
    rolls: list[RollOut]
    after: str | None
    in_all: int


class FaultOut(Schema):
    """What is wrong with one file of a copy, by the last evidence against it."""

    store: str
    path: str
    result: Result
    reason: str


class FileOut(Schema):
    path: str
    size: int
    algorithm: str
    checksum: str


class ReadingOut(Schema):
    """A reading of a copy, or a look that found something. at: when it began. wrong_files: that it found fault with."""

    store: str
    at: datetime
    origin: Origin
    level: Level
    agreed_files: int
    wrong_files: int


class RollDetail(Schema):
    """survives: how many devices, and how many locations, may be lost before the last counting copy is (-1: none)."""

    roll: RollOut
    survives_devices: int
    survives_locations: int
    remedy: list[str]
    faults: list[FaultOut]
    readings: list[ReadingOut]
    files: list[FileOut]
    waivers: list[WaiverOut]
    left_behind: list[str]
    checking: list[str]


@router.get("", response=TallyOut)
def tally(request: HttpRequest, after: str = "", search: str = "") -> TallyOut:
    """search: part of a roll's tag or of its card's label."""
    current, places = production(), places_of_all()
    rule = current.rule.as_rule()
    columns = []
    for store in places.values():
        facts = store_facts(store)
        sighting = sighting_of(store)
        columns.append(
            StoreColumn(
                name=store.name,
                device=store.device.name,
                location=facts.location,
                medium=facts.medium,
                offsite=facts.offsite,
                online=facts.online,
                lost=facts.lost,
                counts=facts.counts,
                free=facts.free,
                total=sighting.total if sighting else 0,
            )
        )
    words = f"{rule.copies} copies on {rule.devices} devices, {rule.level.words}"
    page = page_of_rolls(current, places, after=after, search=search)
    rolls = [RollOut.of(one, rule, now()) for one in page.rolls]
    return TallyOut(rule=words, stores=columns, rolls=rolls, after=page.after, in_all=page.in_all)


@router.get("/rolls/{tag}", response={200: RollDetail, 409: Problem})
def roll(request: HttpRequest, tag: str) -> RollDetail:
    current = production()
    rule = current.rule.as_rule()
    case = roll_case(current, tag)
    if case is None:
        raise ActRefused(f"There is no roll {tag} in {current.name}.")
    row = case.standing.roll
    remedy = what_would_it_take(case.standing.facts, [store_facts(s) for s in stores()], rule, now())
    alive = survival(case.verdict.counting)
    names = {standing.id: standing.facts.store.name for standing in case.standing.copies}
    readings = Reading.objects.filter(copy__roll=row).prefetch_related("results").order_by("-pk")
    running = CheckRun.objects.filter(copy__roll=row, finished_at=None).values_list("copy__store__name", flat=True)
    return RollDetail(
        roll=RollOut.of(case, rule, now()),
        survives_devices=alive.devices,
        survives_locations=alive.locations,
        remedy=[step.sentence for step in remedy.steps] if remedy else [],
        faults=_faults(case, names),
        readings=[
            ReadingOut(
                store=names[one.copy_id],
                at=one.began_at,
                origin=Origin(one.origin),
                level=Level.of(Evidence(one.level)),
                agreed_files=one.agreed_files,
                wrong_files=sum(Result(found.result).bad for found in one.results.all()),
            )
            for one in readings
        ],
        files=[
            FileOut(path=f.path, size=f.size, algorithm=row.algorithm, checksum=f.checksum)
            for f in row.files.order_by("path")[:500]
        ],
        waivers=[WaiverOut.of(waiver) for waiver in waivers_of([row]).get(row.pk, ())][:_MOST],
        left_behind=left_of(row, _MOST),
        checking=list(running),
    )


def _faults(case: RollCase, names: dict[int, str]) -> list[FaultOut]:
    """Of each file that a copy is not known to hold, the last evidence against it."""
    found = []
    for standing in case.standing.copies:
        if not standing.facts.missing_files:
            continue
        held = {file.pk for file in files_held(standing.copy)}
        bad = [result.value for result in Result if result.bad]
        rows = ReadingResult.objects.filter(reading__copy=standing.id, result__in=bad).exclude(file__in=held)
        for row in rows.order_by("file_id", "-pk").distinct("file_id").select_related("file")[:_MOST]:
            found.append(
                FaultOut(store=names[standing.id], path=row.file.path, result=Result(row.result), reason=row.reason)
            )
    return found[:_MOST]


class LossIn(Schema):
    reason: str


@router.post("/stores/{name}/lost", response={200: Done, 403: Problem, 409: Problem})
def lost(request: HttpRequest, name: str, given: LossIn) -> Done:
    """Report the device lost that a store is on."""
    report_loss(request.user, get_object_or_404(Store, name=name).device, given.reason)
    return Done()


@router.post("/stores/{name}/found", response={200: Done, 403: Problem, 409: Problem})
def found(request: HttpRequest, name: str) -> Done:
    report_found(request.user, get_object_or_404(Store, name=name).device)
    return Done()


@router.post("/copies/{copy_id}/check", response={200: Done, 403: Problem, 409: Problem})
def check(request: HttpRequest, copy_id: int) -> Done:
    copy = get_object_or_404(Copy.objects.select_related("roll", "store"), pk=copy_id)
    ask_check(request.user, copy)
    return Done()
