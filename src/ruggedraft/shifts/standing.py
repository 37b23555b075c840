"""How things stand, for whoever takes over."""

from collections.abc import Iterator
from dataclasses import dataclass

from ruggedraft.clearing.card_list import card_lines
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.roll_cases import overview, roll_cases
from ruggedraft.core.redundancy import CardLife
from ruggedraft.core.wording import first_of
from ruggedraft.days.open_matters import (
    card_not_cleared,
    reported_otherwise,
    runs_not_ended,
    unsafe_rolls,
    unsafe_sentence,
)
from ruggedraft.journal.clock import now
from ruggedraft.kit.stations import stations_away
from ruggedraft.notes.queries import notes_of_day
from ruggedraft.productions.models import Production
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.runs.models import Run
from ruggedraft.stores.queries import is_lost, stores_in, trouble_with

from .models import MatterKind

_MOST_NAMED = 40
"""Of one kind, so many are told one by one; the rest in one sentence."""


@dataclass(frozen=True)
class Stands:
    """One thing that whoever takes over has to know; see `Matter`."""

    kind: MatterKind
    subject: str
    sentence: str


def how_things_stand(production: Production) -> list[Stands]:
    """Everything that is under way, waits, or is wrong, in the order in which it is told."""
    return [*_wrong(production), *_runs(production), *_cards(production), *_notes(production)]


def _wrong(production: Production) -> Iterator[Stands]:
    yield from _rolls_below(production)
    for store in stores_in(production.pk):
        trouble = "reported lost" if is_lost(store) else trouble_with(store)
        if trouble:
            yield Stands(MatterKind.WRONG, store.name, f"'{store.name}': {trouble.rstrip('.')}.")
    for tag, sentence in reported_otherwise(production):
        yield Stands(MatterKind.WRONG, tag, sentence)
    for station in stations_away():
        yield Stands(MatterKind.WRONG, station.name, f"Station '{station.name}' is away.")


def _rolls_below(production: Production) -> Iterator[Stands]:
    """Those below the line before others."""
    places, moment = places_of_all(), now()
    unsafe = unsafe_rolls(overview(production, places, moment))
    for one in roll_cases(production, unsafe[:_MOST_NAMED], places, moment):
        yield Stands(MatterKind.WRONG, one.standing.roll.tag, unsafe_sentence(one))
    rest = len(unsafe) - _MOST_NAMED
    if rest > 0:
        yield Stands(MatterKind.WRONG, "", f"{rest} more rolls are below the line or short of their rule.")


def _runs(production: Production) -> Iterator[Stands]:
    for run, goes, sentence in runs_not_ended(Run.objects.filter(roll__production=production)):
        yield Stands(MatterKind.RUNS if goes else MatterKind.WAITS, run.roll.tag, sentence)


_GONE = (CardLife.NEW, CardLife.IN_CAMERA, CardLife.HANDED_BACK)


def _cards(production: Production) -> Iterator[Stands]:
    """Cards that are here, or that somebody was said to have."""
    lines = card_lines(cases(active_cards().filter(camera__production=production), places_of_all()))
    here = [line for line in lines if line.life not in _GONE or (line.said and line.said.name)]
    for line in here[: _MOST_NAMED * 2]:
        yield Stands(MatterKind.CARD, line.case.card.label, card_not_cleared(line))
    if rest := [line.case.card.label for line in here[_MOST_NAMED * 2 :]]:
        yield Stands(MatterKind.CARD, "", f"And {len(rest)} more cards: {first_of(rest)}.")


def _notes(production: Production) -> Iterator[Stands]:
    for note in notes_of_day(production, production.shoot_day(now())):
        words = " ".join(note.words.split())
        yield Stands(MatterKind.NOTE, note.name, f"{note.name}: {words} ({note.by.shown_name})")
