"""What lies on stores, copy by copy, by the newest facts: for screens that speak of stores and not of rolls."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any, NamedTuple

from django.db import connection

from ruggedraft.core.evidence import Evidence
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after

from .summaries import moment_of, roll_standings


class HeldCopy(NamedTuple):
    """files, bytes: of its roll, that the copy is known to hold. broken: files that are damaged there, or gone

    store, production: ids. day, camera: of the roll
    read_back_at: when the oldest reading began by which all that it holds was read back; None where some never was
    """

    store: int
    production: int
    day: date
    camera: str
    files: int
    bytes: int
    broken: int
    read_back_at: datetime | None


def held_copies(places: Mapping[int, Store]) -> list[HeldCopy]:
    """Every copy of which something is known. What is not remembered of its newest facts is worked out anew.

    places: from `summaries.places_of_all`
    """
    words: dict[str, Any] = {
        "stores": list(places),
        "floors": [found_after(place) for place in places.values()],
        "level": _LEVEL,
    }
    with connection.cursor() as cursor:
        cursor.execute(_HELD, words)
        rows = cursor.fetchall()
    behind = {copy: (roll, day, camera) for copy, roll, day, camera, files, *_ in rows if files is None}
    found = [
        HeldCopy(store, production, day, camera, files, size, broken, moment_of(read_back_us))
        for _, _, day, camera, files, store, production, size, broken, read_back_us in rows
        if files is not None
    ]
    return sorted(found + _worked_out(behind, places), key=lambda one: (one.day, one.camera))


def _worked_out(behind: Mapping[int, tuple[int, date, str]], places: Mapping[int, Store]) -> list[HeldCopy]:
    """behind: by the copy's id its roll's id, day and camera"""
    standings = roll_standings({roll for roll, _, _ in behind.values()}, places).values() if behind else ()
    copies = ((behind[one.id], one) for standing in standings for one in standing.copies if one.id in behind)
    return [
        HeldCopy(one.store.pk, one.roll.production_id, day, camera, one.facts.files, one.facts.bytes,
                 one.facts.broken_files, one.facts.proven[Evidence.READ_BACK])
        for (_, day, camera), one in copies
    ]  # fmt: skip


_LEVEL = Evidence.READ_BACK + 1
"""PostgreSQL counts from 1."""
_HELD = """
SELECT c.id, c.roll_id, r.shoot_day, m.letter, t.files, c.store_id, r.production_id, t.bytes,
  t.broken_files, t.proven_us[%(level)s]
FROM rolls_copy c
JOIN rolls_roll r ON r.id = c.roll_id
JOIN productions_camera m ON m.id = r.camera_id
JOIN unnest(%(stores)s::bigint[], %(floors)s::bigint[]) AS p (store_id, found_after) ON p.store_id = c.store_id
LEFT JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = r.version AND t.found_after = p.found_after
WHERE c.left_at IS NULL AND EXISTS (SELECT FROM rolls_reading g WHERE g.copy_id = c.id)
"""
