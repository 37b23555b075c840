"""What rolls and copies come to, remembered: a list costs what it shows, and not what the ledger holds.

A summary says of which version of its roll's facts it is. The database counts those itself, so a summary that is behind
is not believed, whoever forgot to renew it: it is worked out again and kept. What somebody signs never rests on one.
"""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any

from django.db import connection
from django.db.models.expressions import RawSQL

from ruggedraft.core.redundancy import CopyFacts, RollFacts, Rule, StoreFacts, moments_that_matter
from ruggedraft.live.snapshot import when_over
from ruggedraft.productions.models import Camera, Production, Ruled
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, is_lost, is_used_in, store_facts, stores

from .models import CopySummary, Roll, RollSummary
from .readings import CopyStanding, RollStanding, looked_at, worked_out

_TOLD = """(
SELECT json_build_object(
  'version', rolls_roll.version,
  'rule', (SELECT row_to_json(u) FROM productions_redundancyrule u
    WHERE u.production_id = rolls_roll.production_id AND u.exceptions <> '[]'),
  'double_of', (SELECT d.tag FROM rolls_roll d WHERE d.id = rolls_roll.double_of_id),
  'delivered', (SELECT json_build_array(bool_or(d.roll_id = rolls_roll.id), bool_or(d.roll_id <> rolls_roll.id))
    FROM rolls_delivery d WHERE d.roll_id IN (rolls_roll.id, rolls_roll.double_of_id) AND d.withdrawn_at IS NULL),
  'roll', (SELECT json_build_array(s.files, s.bytes, s.unread, s.read_files, s.read_bytes, s.waived, s.left,
      s.clips, s.opened)
    FROM rolls_rollsummary s WHERE s.roll_id = rolls_roll.id AND s.version = rolls_roll.version),
  'copies', (SELECT json_agg(json_build_array(c.id, c.store_id, c.folder, t.found_after, t.readings, t.files, t.bytes,
      t.missing_files, t.missing_bytes, t.broken_files, t.proven_us, (extract(epoch FROM l.began_at) * 1000000)::bigint)
      ORDER BY p.position, c.id)
    FROM rolls_copy c JOIN stores_store p ON p.id = c.store_id
    LEFT JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = rolls_roll.version
    LEFT JOIN rolls_copylook l ON l.copy_id = c.id
    WHERE c.roll_id = rolls_roll.id AND c.left_at IS NULL)
))"""
"""Of a row of `rolls_roll`: what it comes to, where that is remembered of its newest facts, and its copies."""


def places_of_all() -> dict[int, Store]:
    """Every store with its facts, by id."""
    return {store.pk: store for store in stores()}


def places_in(production: Production, places: Mapping[int, Store] | None = None) -> dict[int, Store]:
    """Those that a production uses, by id. places: from `places_of_all`, where the caller has them already"""
    among = places_of_all() if places is None else places
    return {pk: store for pk, store in among.items() if is_used_in(store, production.pk)}


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
    otherwise = _otherwise(told.values())
    return {pk: _with_what_was_said(known[pk], *told[pk], otherwise) for pk in ids if pk in known}


def _otherwise(told: Iterable[tuple[Roll, Mapping[str, Any]]]) -> dict[int, Ruled]:
    """By production, the rules of those that ask something else of some."""
    ruled = {row.production_id: said["rule"] for row, said in told if said["rule"]}
    return {pk: Ruled(rule, rule["exceptions"]) for pk, rule in ruled.items()}


def _with_what_was_said(
    standing: RollStanding, roll: Roll, told: Mapping[str, Any], ruled: Mapping[int, Ruled]
) -> RollStanding:
    """Whether it was delivered, of which roll it is a double, and what is asked of it alone."""
    delivered, double_delivered = told["delivered"]
    asked = ruled.get(roll.production_id)
    own = asked.own(roll.camera, roll.pk) if asked else None
    if not delivered and not told["double_of"] and own is None:
        return standing
    facts = replace(
        standing.facts,
        delivered=bool(delivered),
        double_of=told["double_of"] or "",
        double_delivered=bool(double_delivered),
        own_rule=own,
    )
    return replace(standing, facts=facts)


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
    files, size, unread, read_files, read_bytes, waived, left, clips, opened = said["roll"]
    copies = []
    for copy_id, store_id, folder, floor, readings, held, held_bytes, *lacking, proven, look in said["copies"] or ():
        if floor is None or floor != found_after(places[store_id]):
            return None
        missing, missing_bytes, broken = lacking
        at = tuple(map(moment_of, proven))
        of = CopyFacts(facts[store_id], at, held, held_bytes, missing, missing_bytes, broken, moment_of(look))
        copies.append(CopyStanding(copy_id, roll, places[store_id], folder, of, readings, floor))
    bare = _bare(copies, files)
    if bare is None:
        return None
    told = RollFacts(
        roll.tag, frozenset(), tuple(one.facts for one in copies), files=files, bytes=size, unread=unread, bare=bare,
        waived=waived, left=left, looked_at=looked_at(opened, clips, files),
    )  # fmt: skip
    return RollStanding(roll, told, tuple(copies), read_files, read_bytes, clips, opened)


def _bare(copies: Sequence[CopyStanding], files: int) -> int | None:
    """How many files are in no copy; None where that takes looking at each."""
    if any(copy.facts.whole and not copy.facts.store.lost for copy in copies):
        return 0
    return None if any(copy.readings for copy in copies) else files


_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
_MICROSECOND = timedelta(microseconds=1)


def moment_of(microseconds: int | None) -> datetime | None:
    """As summaries keep it; None for none."""
    return None if microseconds is None else _EPOCH + timedelta(microseconds=microseconds)


def microseconds(moment: datetime | None) -> int | None:
    """Since 1970-01-01 UTC, as summaries keep moments."""
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
                waived=one.facts.waived, left=one.facts.left, clips=one.clips, opened=one.opened,
            )
            for one in ordered
        ),
        update_conflicts=True,
        unique_fields=["roll"],
        update_fields=[
            "version", "files", "bytes", "unread", "read_files", "read_bytes", "waived", "left", "clips", "opened",
        ],
        batch_size=1000,
    )  # fmt: skip
    CopySummary.objects.bulk_create(
        (
            CopySummary(
                copy_id=copy.id, version=versions[one.roll.pk], found_after=copy.found_after,
                readings=copy.readings, files=copy.facts.files, bytes=copy.facts.bytes,
                missing_files=copy.facts.missing_files, missing_bytes=copy.facts.missing_bytes,
                broken_files=copy.facts.broken_files, proven_us=[microseconds(at) for at in copy.facts.proven],
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
), rule AS (
  SELECT (j->>0)::int AS rule, (j->>1)::int AS level, ARRAY(SELECT jsonb_array_elements_text(j->2)::bigint) AS moments
  FROM jsonb_array_elements(%(rules)s::jsonb) j
), asked AS (
  SELECT r.id, COALESCE(mine.rule, its.rule, 0) AS rule FROM rolls_roll r
  LEFT JOIN unnest(%(rolls)s::bigint[], %(of_rolls)s::int[]) AS mine (id, rule) ON mine.id = r.id
  LEFT JOIN unnest(%(cameras)s::bigint[], %(of_cameras)s::int[]) AS its (id, rule) ON its.id = r.camera_id
  WHERE r.production_id = %(production)s
), of_copy AS (
  SELECT c.roll_id, t.copy_id IS NULL AS unknown, c.store_id * 64
    + CASE WHEN t.files > 0 AND t.missing_files = 0 THEN 32 ELSE 0 END
    + COALESCE(width_bucket(t.proven_us[rule.level], rule.moments), 31) AS stands
  FROM rolls_copy c
  JOIN rolls_roll r ON r.id = c.roll_id AND r.production_id = %(production)s AND c.left_at IS NULL
  JOIN asked ON asked.id = r.id
  JOIN rule ON rule.rule = asked.rule
  JOIN place ON place.store_id = c.store_id
  LEFT JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = r.version AND t.found_after = place.found_after
), of_roll AS (
  SELECT roll_id, bool_or(unknown) AS unknown, array_agg(stands ORDER BY stands) AS copies FROM of_copy GROUP BY roll_id
)
SELECT array_agg(r.id ORDER BY r.id)
FROM rolls_roll r
JOIN asked ON asked.id = r.id
LEFT JOIN rolls_rollsummary s ON s.roll_id = r.id AND s.version = r.version
LEFT JOIN of_roll o ON o.roll_id = r.id
WHERE r.production_id = %(production)s
GROUP BY o.copies, asked.rule, CASE WHEN %(looks)s THEN s.opened::float / greatest(1, COALESCE(nullif(s.clips, 0),
  s.files)) END, s.files > 0, s.unread > 0,
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


def alike(
    production: Production, moment: datetime, places: Mapping[int, Store], ruled: Ruled | None = None
) -> list[Alike]:
    """All rolls of a production, in groups of which a verdict on one roll is the verdict on each.

    ruled: by other rules than the production's; what the rolls' facts say of a rule is the production's all the same

    A ledger of thousands of rolls has a few dozen such groups: it costs little to judge one of each. Whatever a rule
    asks of a roll beside its copies has to tell groups apart in `_ALIKE`.
    """
    words: dict[str, Any] = {
        "production": production.pk, "stores": list(places),
        "floors": [found_after(place) for place in places.values()],
        **_asked(production, moment, ruled or production.rule.ruled()),
    }  # fmt: skip
    with connection.cursor() as cursor:
        cursor.execute(_ALIKE, words)
        groups = [ids for (ids,) in cursor.fetchall()]
    standings = roll_standings((ids[-1] for ids in groups), places)
    return [Alike(tuple(ids), standings[ids[-1]]) for ids in groups]


def _asked(production: Production, moment: datetime, ruled: Ruled) -> dict[str, Any]:
    """Which rule each camera and roll has, and between which moments it makes a difference when a copy was read."""
    by_camera, by_roll = _rules_of_their_own(production, ruled)
    rules = list(dict.fromkeys((ruled.base, *by_camera.values(), *by_roll.values())))
    told = [
        [n, rule.level + 1, [microseconds(at) for at in moments_that_matter(rule, moment)]]
        for n, rule in enumerate(rules)
    ]
    return {
        "rules": json.dumps(told), "looks": any(rule.looked_at for rule in rules),
        "cameras": list(by_camera), "of_cameras": [rules.index(rule) for rule in by_camera.values()],
        "rolls": list(by_roll), "of_rolls": [rules.index(rule) for rule in by_roll.values()],
    }  # fmt: skip


def _rules_of_their_own(production: Production, ruled: Ruled) -> tuple[dict[int, Rule], dict[int, Rule]]:
    """What is asked of each camera, and of rolls of which something else is asked; none where there is one rule."""
    if not ruled.has_exceptions:
        return {}, {}
    cameras = {one.pk: one for one in Camera.objects.filter(production=production)}
    own = Roll.objects.filter(pk__in=ruled.rolls, production=production) if ruled.rolls else ()
    by_roll = {roll.pk: ruled.of(cameras[roll.camera_id], roll.pk) for roll in own}
    return {pk: ruled.of(camera) for pk, camera in cameras.items()}, by_roll


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
JOIN rolls_copy c ON c.roll_id = r.id AND c.left_at IS NULL
JOIN unnest(%(stores)s::bigint[], %(floors)s::bigint[]) AS p (store_id, found_after) ON p.store_id = c.store_id
JOIN rolls_copysummary t ON t.copy_id = c.id AND t.version = r.version AND t.found_after = p.found_after
WHERE r.id = ANY(%(rolls)s) AND t.files > 0 AND t.missing_files = 0
"""
