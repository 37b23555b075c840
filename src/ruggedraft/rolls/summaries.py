"""What rolls and copies come to, remembered: a list costs what it shows, and not what the ledger holds.

A summary says of which version of its roll's facts it is. The database counts those itself, so a summary that is behind
is not believed, whoever forgot to renew it: it is worked out again and kept. What somebody signs never rests on one.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any

from django.db import connection
from django.db.models.expressions import RawSQL

from ruggedraft.core.redundancy import CopyFacts, RollFacts, Rule, StoreFacts, moments_that_matter
from ruggedraft.live.snapshot import when_over
from ruggedraft.productions.models import Production
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, is_lost, store_facts, stores

from .models import CopySummary, Roll, RollSummary
from .readings import CopyStanding, RollStanding, worked_out

_TOLD = """(
SELECT json_build_object(
  'version', rolls_roll.version,
  'roll', (SELECT json_build_array(s.files, s.bytes, s.unread, s.read_files, s.read_bytes, s.waived, s.left)
    FROM rolls_rollsummary s WHERE s.roll_id = rolls_roll.id AND s.version = rolls_roll.version),
  'copies', (SELECT json_agg(json_build_array(c.id, c.store_id, c.folder, t.found_after, t.readings, t.files, t.bytes,
      t.missing_files, t.missing_bytes, t.broken_files, t.proven_us, (extract(epoch FROM l.began_at) * 1000000)::bigint)
      ORDER BY p.position, c.id)
    FROM rolls_copy c JOIN stores_store p ON p.id = c.store_id
    LEFT JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = rolls_roll.version
    LEFT JOIN rolls_copylook l ON l.copy_id = c.id
    WHERE c.roll_id = rolls_roll.id)
))"""
"""Of a row of `rolls_roll`: what it comes to, where that is remembered of its newest facts, and its copies."""


def places_of_all() -> dict[int, Store]:
    """Every store with its facts, by id."""
    return {store.pk: store for store in stores()}


def roll_standings(
    rolls: Iterable[int], places: Mapping[int, Store] | None = None, *, in_full: bool = False
) -> dict[int, RollStanding]:
    """How these rolls and their copies stand, by id, in the order given; each roll with its camera and card.

    places: from `places_of_all`, where the caller has them already
    in_full: from everything that was ever noted and from no summary, as for a signature
    """
    ids = list(dict.fromkeys(rolls))
    places = places_of_all() if places is None else places
    rows = Roll.objects.filter(pk__in=ids).select_related("camera", "card").annotate(told=RawSQL(_TOLD, ()))  # noqa: S611
    told = {row.pk: (row, row.told) for row in rows}
    known = {} if in_full else _remembered(told.values(), places)
    known |= _worked_out_and_kept([one for pk, one in told.items() if pk not in known], places)
    return {pk: known[pk] for pk in ids if pk in known}


def _worked_out_and_kept(
    missing: Sequence[tuple[Roll, Mapping[str, Any]]], places: Mapping[int, Store]
) -> dict[int, RollStanding]:
    found: dict[int, RollStanding] = {}
    for begin in range(0, len(missing), _AT_A_TIME):
        some = missing[begin : begin + _AT_A_TIME]
        fresh = worked_out([roll for roll, _ in some], places)
        # facts that came in between are newer than is said of them here, never older
        when_over(partial(_remember, fresh, {roll.pk: said["version"] for roll, said in some}))
        found |= {one.roll.pk: one for one in fresh}
    return found


def _remembered(told: Iterable[tuple[Roll, Mapping[str, Any]]], places: Mapping[int, Store]) -> dict[int, RollStanding]:
    """Of those rolls that are remembered of their newest facts."""
    facts = {pk: store_facts(store) for pk, store in places.items()}
    found = {roll.pk: _standing(roll, said, places, facts) for roll, said in told}
    return {pk: standing for pk, standing in found.items() if standing is not None}


_AT_A_TIME = 100


def _standing(
    roll: Roll, said: Mapping[str, Any], places: Mapping[int, Store], facts: Mapping[int, StoreFacts]
) -> RollStanding | None:
    """From what is remembered; None where that is not of the newest facts, or does not say enough."""
    if said["roll"] is None:
        return None
    files, size, unread, read_files, read_bytes, waived, left = said["roll"]
    copies = []
    for copy_id, store_id, folder, floor, readings, held, held_bytes, *lacking, proven, look in said["copies"] or ():
        if floor is None or floor != found_after(places[store_id]):
            return None
        missing, missing_bytes, broken = lacking
        at = tuple(map(_moment, proven))
        of = CopyFacts(facts[store_id], at, held, held_bytes, missing, missing_bytes, broken, _moment(look))
        copies.append(CopyStanding(copy_id, roll, places[store_id], folder, of, readings, floor))
    bare = _bare(copies, files)
    if bare is None:
        return None
    told = RollFacts(
        roll.tag, frozenset(), tuple(one.facts for one in copies), files=files, bytes=size, unread=unread, bare=bare,
        waived=waived, left=left,
    )  # fmt: skip
    return RollStanding(roll, told, tuple(copies), read_files, read_bytes)


def _bare(copies: Sequence[CopyStanding], files: int) -> int | None:
    """How many files are in no copy; None where that takes looking at each."""
    if any(copy.facts.whole and not copy.facts.store.lost for copy in copies):
        return 0
    return None if any(copy.readings for copy in copies) else files


_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
_MICROSECOND = timedelta(microseconds=1)


def _moment(microseconds: int | None) -> datetime | None:
    return None if microseconds is None else _EPOCH + timedelta(microseconds=microseconds)


def _microseconds(moment: datetime | None) -> int | None:
    return None if moment is None else (moment - _EPOCH) // _MICROSECOND


def _remember(standings: Iterable[RollStanding], versions: Mapping[int, int]) -> None:
    """Those that are not remembered yet; in one order, so that two who do the same do not wait for each other."""
    known = dict(RollSummary.objects.filter(roll__in=versions).values_list("roll", "version"))
    fresh = [one for one in standings if known.get(one.roll.pk) != versions[one.roll.pk] or _was_found(one)]
    ordered = sorted(fresh, key=lambda one: one.roll.pk)
    if not ordered:
        return
    RollSummary.objects.bulk_create(
        (
            RollSummary(
                roll_id=one.roll.pk, version=versions[one.roll.pk], files=one.facts.files, bytes=one.facts.bytes,
                unread=one.facts.unread, read_files=one.read_files, read_bytes=one.read_bytes,
                waived=one.facts.waived, left=one.facts.left,
            )
            for one in ordered
        ),
        update_conflicts=True,
        unique_fields=["roll"],
        update_fields=["version", "files", "bytes", "unread", "read_files", "read_bytes", "waived", "left"],
        batch_size=1000,
    )  # fmt: skip
    CopySummary.objects.bulk_create(
        (
            CopySummary(
                copy_id=copy.id, version=versions[one.roll.pk], found_after=copy.found_after,
                readings=copy.readings, files=copy.facts.files, bytes=copy.facts.bytes,
                missing_files=copy.facts.missing_files, missing_bytes=copy.facts.missing_bytes,
                broken_files=copy.facts.broken_files, proven_us=[_microseconds(at) for at in copy.facts.proven],
            )
            for one in ordered
            for copy in sorted(one.copies, key=lambda copy: copy.id)
        ),
        update_conflicts=True,
        unique_fields=["copy"],
        update_fields=[
            "version", "found_after", "readings", "files", "bytes", "missing_files", "missing_bytes", "broken_files",
            "proven_us",
        ],
        batch_size=1000,
    )  # fmt: skip


def _was_found(standing: RollStanding) -> bool:
    """A store of it was lost and found, which no version of the roll's facts tells."""
    return any(copy.found_after for copy in standing.copies)


_ALIKE = """
WITH place AS (
  SELECT * FROM unnest(%(stores)s::bigint[], %(floors)s::bigint[]) AS p (store_id, found_after)
), of_copy AS (
  SELECT c.roll_id, t.copy_id IS NULL AS unknown, c.store_id * 64
    + CASE WHEN t.files > 0 AND t.missing_files = 0 THEN 32 ELSE 0 END
    + COALESCE(width_bucket(t.proven_us[%(level)s], %(moments)s::bigint[]), 31) AS stands
  FROM rolls_copy c
  JOIN rolls_roll r ON r.id = c.roll_id AND r.production_id = %(production)s
  JOIN place ON place.store_id = c.store_id
  LEFT JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = r.version AND t.found_after = place.found_after
), of_roll AS (
  SELECT roll_id, bool_or(unknown) AS unknown, array_agg(stands ORDER BY stands) AS copies FROM of_copy GROUP BY roll_id
)
SELECT array_agg(r.id ORDER BY r.id)
FROM rolls_roll r
LEFT JOIN rolls_rollsummary s ON s.roll_id = r.id AND s.version = r.version
LEFT JOIN of_roll o ON o.roll_id = r.id
WHERE r.production_id = %(production)s
GROUP BY o.copies, s.files > 0, s.unread > 0,
  CASE WHEN s.roll_id IS NULL OR COALESCE(o.unknown, false) THEN r.id END
"""
"""Rolls whose copies stand alike. One whose summary is behind is alike with no other.

A copy's number says on which store it is, whether it is whole, and between which moments it was proven.
"""


@dataclass(frozen=True)
class Alike:
    """Rolls about which a rule says the same, because their copies are on the same stores and stand alike.

    rolls: ids, oldest first. one: how the newest of them stands
    """

    rolls: tuple[int, ...]
    one: RollStanding


def alike(production: Production, rule: Rule, moment: datetime, places: Mapping[int, Store]) -> list[Alike]:
    """All rolls of a production, in groups of which a verdict on one roll is the verdict on each.

    A ledger of thousands of rolls has a few dozen such groups: it costs little to judge one of each. Whatever a rule
    asks of a roll beside its copies has to tell groups apart in `_ALIKE`.
    """
    words: dict[str, Any] = {
        "production": production.pk, "stores": list(places),
        "floors": [found_after(place) for place in places.values()],
        "level": rule.level + 1, "moments": [_microseconds(at) for at in moments_that_matter(rule, moment)],
    }  # fmt: skip
    with connection.cursor() as cursor:
        cursor.execute(_ALIKE, words)
        groups = [ids for (ids,) in cursor.fetchall()]
    standings = roll_standings((ids[-1] for ids in groups), places)
    return [Alike(tuple(ids), standings[ids[-1]]) for ids in groups]


def is_whole_somewhere(standing: RollStanding) -> bool:
    return any(copy.facts.whole and not copy.facts.store.lost for copy in standing.copies)


def whole_somewhere(rolls: Iterable[int], places: Mapping[int, Store]) -> set[int]:
    """Of these rolls, by id, those of which a store that is not lost is known to hold all, by their newest facts."""
    words = {
        "rolls": list(rolls), "stores": [pk for pk, place in places.items() if not is_lost(place)],
        "floors": [found_after(place) for place in places.values() if not is_lost(place)],
    }  # fmt: skip
    with connection.cursor() as cursor:
        cursor.execute(_WHOLE, words)
        return {pk for (pk,) in cursor.fetchall()}


_WHOLE = """
SELECT DISTINCT r.id FROM rolls_roll r
JOIN rolls_copy c ON c.roll_id = r.id
JOIN unnest(%(stores)s::bigint[], %(floors)s::bigint[]) AS p (store_id, found_after) ON p.store_id = c.store_id
JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = r.version AND t.found_after = p.found_after
WHERE r.id = ANY(%(rolls)s) AND t.files > 0 AND t.missing_files = 0
"""
