from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from django.contrib.auth.hashers import make_password
from django.db import connection, transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.accounts import checked_name, checked_password
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.queries import somebody_is_there
from ruggedraft.journal.writing import write
from ruggedraft.kit.queries import place_named
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.folders import MARKER
from ruggedraft.stores.models import Store

from ..models import Camera, Plan, Production, RedundancyRule
from .change_production import checked_zone
from .open_production import checked_production_name

_LOCK = 0x5242


@dataclass(frozen=True)
class FirstDrive:
    """A drive that copies go to from the beginning. name: what people call it. place: where it is, as people say it"""

    path: str
    name: str
    medium: str
    place: str


@dataclass(frozen=True)
class Beginning:
    """What the first person says. copies, devices: of the rule"""

    name: str
    password: str
    production: str
    time_zone: str
    first_day: date
    drives: Sequence[FirstDrive]
    copies: int
    devices: int
    offsite: int


def begin_ledger(said: Beginning, *, origin: str) -> Person:
    """Make an empty ledger one's own: the first supervisor, a production, its stores, its rule, a plan and a camera.

    All of it or nothing: what was written onto drives is taken away again. Raises ActRefused.
    """
    marked: list[Path] = []
    try:
        with transaction.atomic():
            return _begin(said, origin, marked)
    except BaseException:
        for marker in marked:
            marker.unlink(missing_ok=True)
        raise


def _begin(said: Beginning, origin: str, marked: list[Path]) -> Person:
    with connection.cursor() as cursor:  # of two who begin at once the second finds it begun
        cursor.execute("SELECT pg_advisory_xact_lock(%s)", [_LOCK])
    if somebody_is_there():
        raise ActRefused("This ledger was begun already: sign in, or ask a supervisor for a link.")
    password = make_password(checked_password(said.password))
    person = Person.objects.create(username=checked_name(said.name), password=password)
    production = _production(said)
    Membership.objects.create(person=person, production=production, role=Role.SUPERVISOR)
    write("begin", production.name, f"{person.shown_name} began this ledger with the production {production.name}.",
          person=person, origin=origin, production=production.pk)  # fmt: skip
    stores = [_introduce(person, production.pk, drive, marked) for drive in said.drives]
    RedundancyRule.objects.create(production=production, **_rule(said))
    plan = Plan.objects.create(production=production, name="Everything")
    plan.stores.set(stores)
    Camera.objects.create(production=production, letter="A", name="Camera A", kind="camera", plan=plan)
    changed(*Topic)
    return person


def _production(said: Beginning) -> Production:
    name = checked_production_name(said.production)
    return Production.objects.create(name=name, time_zone=checked_zone(said.time_zone), first_day=said.first_day)


def _introduce(person: Person, production: int, drive: FirstDrive, marked: list[Path]) -> Store:
    marker = Path(drive.path, MARKER)
    there = marker.exists()
    place = place_named(drive.place)
    store = introduce_store(
        person,
        production,
        name=drive.name,
        folder=Path(drive.path),
        device_name=drive.name,
        medium=drive.medium,
        location=place,
    )
    if not there:
        marked.append(marker)
    return store


def _rule(said: Beginning) -> dict[str, Any]:
    if not (1 <= said.devices <= said.copies <= 9 and 0 <= said.offsite <= said.copies):
        raise ActRefused("A rule asks for 1 to 9 copies, on as many devices at most, and no more of them off-site.")
    return {"copies": said.copies, "devices": said.devices, "offsite": said.offsite}
