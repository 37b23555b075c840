"""What a station does by itself after an offload that ended well: a program of its own, told what is verified where.

It is no part of the run: whatever becomes of it, nothing is held up and nothing that was claimed changes. Which
programs there are is up to whoever owns the station's machine: a plan can name only what lies in one folder of it.
"""

import json
import os
import signal
import stat
import subprocess
import tempfile
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.db import transaction
from django.db.models import F

from ruggedraft.core.errors import StoreVanished, why
from ruggedraft.core.packages import package_name
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.folders import folder_of

from .models import AfterRun, Offload

LIMIT = timedelta(minutes=10)
_MOST_OUTPUT = 20_000
_NICER = 10


def go_after(station: Station) -> int:
    """Start what is due at a station, one after the other, and wait for each. How many there were."""
    done = 0
    _break_off_left(station)
    while one := _next(station):
        _go(one)
        done += 1
    return done


def _break_off_left(station: Station) -> None:
    """Those that a worker of this station left behind when it was killed: nobody waits for them any more."""
    for one in AfterRun.objects.filter(offload__station=station, ended_at=None).select_related("offload__roll"):
        _end(one, None, "", "it was broken off: the station's worker ended before it did")


def _next(station: Station) -> AfterRun | None:
    """The next offload that ended well since its plan names a program, and after which nothing was started."""
    due = Offload.objects.filter(
        station=station, end=RunEnd.WELL.value, after=None, finished_at__gte=F("roll__camera__plan__after_since")
    ).exclude(roll__camera__plan__after_program="")
    offload = due.select_related("roll__camera__plan", "station").order_by("finished_at", "pk").first()
    if offload is None:
        return None
    program = offload.roll.camera.plan.after_program
    return AfterRun.objects.create(offload=offload, program=program, started_at=now())


def _go(one: AfterRun) -> None:
    trouble = _unfit(one.program)
    if trouble:
        _end(one, None, "", trouble)
        return
    with tempfile.TemporaryFile() as output:
        try:
            code, trouble = _carried_out(one, output)
        except OSError as error:
            code, trouble = None, f"it could not be started ({why(error)})"
        _end(one, code, _last_of(output), trouble)


def place_of(program: str) -> Path:
    """Where a program of this name lies on this machine."""
    return Path(settings.AFTER_RUN, program)


def _unfit(program: str) -> str:
    """Why it is not started, as a clause; empty where it may be."""
    place = place_of(program)
    try:
        found = place.lstat()
    except OSError:
        return f"there is no {program} in {place.parent} on this station"
    if not stat.S_ISREG(found.st_mode) or not os.access(place, os.X_OK):
        return f"{place} is no program that this station's user may start"
    if found.st_mode & (stat.S_IWOTH | stat.S_IWGRP):
        return f"{place} can be changed by others than its owner"
    return ""


def _carried_out(one: AfterRun, output: IO[bytes]) -> tuple[int | None, str]:
    """Its exit code, and a clause where it was stopped. Raises OSError."""
    told = json.dumps(said_to(one.offload)).encode()
    with tempfile.TemporaryFile() as given:
        given.write(told)
        given.seek(0)
        process = subprocess.Popen(
            [str(place_of(one.program))], stdin=given, stdout=output, stderr=output, cwd="/", env=_environment(),
            start_new_session=True, preexec_fn=lambda: os.nice(_NICER),
        )  # fmt: skip
    try:
        return process.wait(LIMIT.total_seconds()), ""
    except subprocess.TimeoutExpired:
        return None, f"it was stopped after {LIMIT.seconds // 60} minutes"
    finally:
        _stop(process)


def _stop(process: subprocess.Popen[bytes]) -> None:
    """With everything that it started."""
    try:
        os.killpg(process.pid, signal.SIGKILL)
    except ProcessLookupError:
        return
    finally:
        process.wait()


def _environment() -> dict[str, str]:
    """Nothing of ours: neither the ledger's address nor a key."""
    return {name: os.environ[name] for name in ("PATH", "HOME", "LANG", "LC_ALL", "TZ") if name in os.environ}


def said_to(offload: Offload) -> dict[str, Any]:
    """What it reads as JSON: docs/after-a-run.md."""
    roll = offload.roll
    (standing,) = roll_standings([roll.pk], in_full=True).values()
    whole = {one.id for one in standing.copies if one.facts.whole_and_read_back and not one.facts.store.lost}
    return {
        "form": 1, "production": roll.production.name, "roll": roll.tag, "camera": roll.camera.letter,
        "card": roll.card.label, "shoot_day": roll.shoot_day.isoformat(), "files": standing.facts.files,
        "bytes": standing.facts.bytes, "algorithm": roll.algorithm, "outcome": offload.outcome,
        "copies": [_copy(copy, verified=copy.pk in whole) for copy in _copies(roll.pk)],
        "clips": list(roll.files.filter(is_clip=True).order_by("path").values_list("path", flat=True)),
    }  # fmt: skip


def _copies(roll: int) -> Iterator[Copy]:
    rows = Copy.objects.filter(roll=roll).select_related("store__device").prefetch_related("beside")
    yield from rows.order_by("store__position", "pk")


def _copy(copy: Copy, *, verified: bool) -> dict[str, Any]:
    """folder, lists: as this machine reaches them now; null and empty where it does not.

    package: of a copy that is sealed, in place of its folder
    """
    try:
        home: Path | None = folder_of(copy.store)
    except StoreVanished:
        home = None
    lists = [str(home / from_ledger(one.path)) for one in copy.beside.all()] if home else []
    told = {"store": copy.store.name, "read_back": verified, "folder": None, "lists": sorted(lists)}
    if home and copy.store.kind == StoreKind.PACKAGES:
        return told | {"package": str(home / from_ledger(package_name(copy.folder)))}
    return told | {"folder": str(home / from_ledger(copy.folder)) if home else None}


def _last_of(output: IO[bytes]) -> str:
    size = output.seek(0, os.SEEK_END)
    output.seek(max(0, size - _MOST_OUTPUT))
    text = output.read().decode("utf-8", "replace").replace("\0", "�")
    return f"[{size - _MOST_OUTPUT:,} bytes before]\n{text}" if size > _MOST_OUTPUT else text


@transaction.atomic
def _end(one: AfterRun, code: int | None, output: str, trouble: str) -> None:
    one.ended_at, one.code, one.output, one.trouble = now(), code, output, trouble
    one.save(update_fields=["ended_at", "code", "output", "trouble"])
    roll = one.offload.roll
    how = trouble or ("it ended well" if code == 0 else f"it ended with {code}")
    write("go after", roll.tag, f"After the offload of {roll.tag}, '{one.program}': {how}.", person=None,
          origin=one.offload.station.name, production=roll.production_id)  # fmt: skip
    changed(Topic.ROLLS, rolls=[roll.tag], production=roll.production_id)
