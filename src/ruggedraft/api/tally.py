"""Tally: where does every roll exist, and what is missing?"""

from datetime import datetime

from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Schema

from ruggedraft.checks.acts.ask_check import ask_check
from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.waterline import roll_cases
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import survival, what_would_it_take
from ruggedraft.intake.models import Station
from ruggedraft.journal.clock import now
from ruggedraft.rolls.models import Copy, CopyFault
from ruggedraft.stores.queries import store_facts, stores

from .current import production
from .shapes import Done, Problem, RollOut

router = Router(tags=["tally"])


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
    """Rolls that are below the line come first, then those short of the rule, then the rest, newest first."""

    rule: str
    stores: list[StoreColumn]
    rolls: list[RollOut]


class FaultOut(Schema):
    store: str
    path: str
    reason: str


class FileOut(Schema):
    path: str
    size: int
    algorithm: str
    checksum: str


class CheckOut(Schema):
    store: str
    at: datetime
    origin: str
    level: str
    agreed_files: int


class RollDetail(Schema):
    """survives: how many devices, and how many locations, may be lost before the last counting copy is (-1: none)."""

    roll: RollOut
    survives_devices: int
    survives_locations: int
    remedy: list[str]
    faults: list[FaultOut]
    checks: list[CheckOut]
    files: list[FileOut]
    checking: list[str]


@router.get("", response=TallyOut)
def tally(request: HttpRequest) -> TallyOut:
    current = production()
    rule = current.rule.as_rule()
    columns = []
    for store in stores():
        facts = store_facts(store)
        sighting = getattr(store, "sighting", None)
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
    return TallyOut(rule=words, stores=columns, rolls=[RollOut.of(c, rule) for c in roll_cases(current)])


@router.get("/rolls/{tag}", response={200: RollDetail, 409: Problem})
def roll(request: HttpRequest, tag: str) -> RollDetail:
    current = production()
    rule = current.rule.as_rule()
    case = next((c for c in roll_cases(current, tag=tag)), None)
    if case is None:
        raise ActRefused(f"There is no roll {tag} in {current.name}.")
    row = case.standing.roll
    remedy = what_would_it_take(case.standing.facts, [store_facts(s) for s in stores()], rule, now())
    alive = survival(case.verdict.counting)
    faults = CopyFault.objects.filter(copy__roll=row, mended_by=None).select_related("file", "copy__store")
    checks = [check for standing in case.standing.copies for check in standing.copy.checks.all()]
    names = {standing.copy.pk: standing.facts.store.name for standing in case.standing.copies}
    running = CheckRun.objects.filter(copy__roll=row, finished_at=None).values_list("copy__store__name", flat=True)
    return RollDetail(
        roll=RollOut.of(case, rule),
        survives_devices=alive.devices,
        survives_locations=alive.locations,
        remedy=[step.sentence for step in remedy.steps] if remedy else [],
        faults=[FaultOut(store=f.copy.store.name, path=f.file.path, reason=f.reason) for f in faults[:100]],
        checks=[
            CheckOut(
                store=names[c.copy_id],
                at=c.at,
                origin=c.origin,
                level=c.get_level_display(),
                agreed_files=c.agreed_files,
            )
            for c in sorted(checks, key=lambda c: c.pk, reverse=True)
        ],
        files=[
            FileOut(path=f.path, size=f.size, algorithm=f.algorithm, checksum=f.checksum) for f in row.files.all()[:500]
        ],
        checking=list(running),
    )


@router.post("/copies/{copy_id}/check", response={200: Done, 403: Problem, 409: Problem})
def check(request: HttpRequest, copy_id: int) -> Done:
    copy = get_object_or_404(Copy.objects.select_related("roll", "store"), pk=copy_id)
    station = Station.objects.order_by("-seen_at").first()
    if station is None:
        raise ActRefused("No station is running that could read the copy.")
    ask_check(request.user, copy, station)
    return Done()
