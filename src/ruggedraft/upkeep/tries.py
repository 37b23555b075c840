"""How runs of the same thing went before."""

from collections.abc import Mapping
from datetime import datetime

from django.db.models import QuerySet

from ruggedraft.core.runs import RunEnd
from ruggedraft.core.upkeep import LastTry, again_at
from ruggedraft.runs.models import Run


def tries_by(field: str, runs: "QuerySet[Run]") -> dict[int, list[LastTry]]:
    """Those that ended, newest first, by the id in this field of theirs."""
    found: dict[int, list[LastTry]] = {}
    ended = runs.exclude(finished_at=None).order_by("-pk")
    for key, ended_at, end in ended.values_list(field, "finished_at", "end"):
        found.setdefault(key, []).append(LastTry(ended_at, RunEnd(end)))
    return found


def may_try(tries: Mapping[int, list[LastTry]], key: int, moment: datetime) -> bool:
    """Whether it may be tried now."""
    again = again_at(tries.get(key, []))
    return again is None or again <= moment
