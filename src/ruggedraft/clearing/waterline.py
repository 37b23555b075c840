"""What is not safe yet, in one line."""

import threading
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import connection

from ruggedraft.core.redundancy import CardStanding, RollState, StoreFacts, bytes_short, is_recalled
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import found_after, store_facts

from .cases import Case, active_cards, cases
from .roll_cases import overview


@dataclass(frozen=True)
class Waterline:
    """cards_waiting: cards with something on them that no copy holds.

    cards_recalled: cards that went out as cleared, and whose clearance was revoked since
    bytes_short: bytes that still need copying to satisfy the rule, those of cards not yet offloaded included
    """

    cards_waiting: tuple[str, ...]
    bytes_short: int
    rolls_short: tuple[str, ...]
    rolls_below: tuple[str, ...]
    runs: int
    cards_recalled: tuple[str, ...] = ()


_STATE = """
SELECT (SELECT concat_ws(',', count(*), sum(version)) FROM rolls_roll WHERE production_id = %(production)s),
  (SELECT concat_ws(',', count(*), max(l.id), sum(l.version), sum(l.compared)) FROM intake_cardlisting l),
  (SELECT concat_ws(',', max(id), count(*) FILTER (WHERE removed_at IS NULL), count(card_id)) FROM intake_insertion),
  (SELECT concat_ws(',', count(*), count(camera_id), max(id)) FROM intake_card),
  (SELECT concat_ws(',', max(id), count(withdrawn_at)) FROM intake_notours),
  (SELECT max(id) FROM intake_gonefile), (SELECT max(id) FROM intake_goneanswer), (SELECT max(id) FROM rolls_waiver),
  (SELECT max(id) FROM clearing_clearance), (SELECT max(id) FROM clearing_handedback),
  (SELECT max(id) FROM clearing_revocation), (SELECT max(id) FROM clearing_clearedelsewhere),
  (SELECT concat_ws(',', max(id), count(removed_at)) FROM clearing_removedfile),
  (SELECT concat_ws(',', max(id), count(*) FILTER (WHERE finished_at IS NULL)) FROM runs_run
    WHERE kind = 'offload'),
  (SELECT count(*) FROM runs_run o JOIN rolls_roll r ON r.id = o.roll_id
    WHERE o.finished_at IS NULL AND o.kind = 'offload' AND r.production_id = %(production)s),
  (SELECT array_agg('unknown in ' || r.name ORDER BY i.id) FROM intake_insertion i
    JOIN intake_reader r ON r.id = i.reader_id WHERE i.card_id IS NULL AND i.removed_at IS NULL
      AND i.kind <> 'package'
      AND NOT EXISTS (SELECT FROM intake_notours n WHERE n.insertion_id = i.id AND n.withdrawn_at IS NULL))
"""
"""Names the state of everything that the line rests on, but for stores and rule: each part grows, or is told apart by
another that does. The last two are part of the line itself."""
_AGES = timedelta(seconds=30)
"""For so long an answer is given again while nothing changed: copies age by days."""


def waterline(production: Production) -> Waterline:
    """Asked for by every screen whenever anything changes, and worked out once for all of them."""
    moment, places = now(), places_of_all()
    key, runs, unknown = _state(production, places)
    with _keeping:
        known = _lately.get(production.pk)
        if known is None or known[0] != key or not timedelta() <= moment - known[1] < _AGES:
            known = key, moment, _waterline(production, places, moment, runs, unknown)
            _lately[production.pk] = known
        return known[2]


_Key = tuple[object, ...]
_lately: dict[int, tuple[_Key, datetime, Waterline]] = {}
_keeping = threading.Lock()


def _state(production: Production, places: Mapping[int, Store]) -> tuple[_Key, int, tuple[str, ...]]:
    """The state's name; runs under way; readers with a card that nobody introduced, which may hold anything."""
    with connection.cursor() as cursor:
        cursor.execute(_STATE, {"production": production.pk})
        *state, runs, unknown = cursor.fetchone()
    unknown = tuple(unknown or ())
    stores = tuple((pk, _lasting(store_facts(place)), found_after(place)) for pk, place in places.items())
    return (*state, runs, unknown, stores, production.rule.ruled().key), runs, unknown


def _lasting(facts: StoreFacts) -> _Key:
    """Of a store, what does not change by the minute as its room does."""
    return facts.devices, facts.location, facts.medium, facts.offsite, facts.counts, facts.lost, facts.online


def _waterline(
    production: Production, places: Mapping[int, Store], moment: datetime, runs: int, unknown: tuple[str, ...]
) -> Waterline:
    rule = production.rule.as_rule()
    on_cards = cases(active_cards().filter(camera__production=production), places)
    unsafe = _unsafe(production, places, moment)
    short = sum(bytes_short(one.facts, rule, moment) for rolls in unsafe.values() for one in rolls)
    untaken = sum(case.verdict.strangers.bytes * (case.facts.own_rule or rule).copies for case in on_cards)
    return Waterline(
        cards_waiting=(*_labels(on_cards, _waits), *unknown),
        bytes_short=short + untaken,
        rolls_short=_tags(unsafe[RollState.SHORT]),
        rolls_below=_tags(unsafe[RollState.BELOW]),
        runs=runs,
        cards_recalled=_labels(on_cards, lambda one: is_recalled(one.facts)),
    )


def _unsafe(
    production: Production, places: Mapping[int, Store], moment: datetime
) -> dict[RollState, list[RollStanding]]:
    """Rolls that do not meet their rule, by how they stand."""
    states = overview(production, places, moment).states
    found: dict[RollState, list[RollStanding]] = {RollState.SHORT: [], RollState.BELOW: []}
    unsafe = (pk for pk, state in states.items() if state in found)
    for pk, standing in roll_standings(unsafe, places).items():
        found[states[pk]].append(standing)
    return found


def _tags(standings: Iterable[RollStanding]) -> tuple[str, ...]:
    return tuple(one.roll.tag for one in standings)


def _labels(found: Iterable[Case], wanted: Callable[[Case], bool]) -> tuple[str, ...]:
    return tuple(one.card.label for one in found if wanted(one))


def _waits(case: Case) -> bool:
    return case.standing in (CardStanding.UNREAD, CardStanding.GONE) or case.verdict.unsaved
