"""What is not done: rolls that do not meet their rule, runs that have not ended, cards that are not cleared."""

from collections.abc import Collection, Iterator

from django.db.models import QuerySet

from ruggedraft.camera_reports.queries import mismatches_of
from ruggedraft.clearing.card_list import CardLine
from ruggedraft.clearing.roll_cases import Overview, RollCase
from ruggedraft.core.redundancy import RollState, card_sentence
from ruggedraft.productions.models import Production
from ruggedraft.runs.models import Run

UNSAFE = {RollState.BELOW: "below the line", RollState.SHORT: "short of its rule"}


def unsafe_rolls(found: Overview, among: Collection[int] | None = None) -> list[int]:
    """Ids of those that do not meet their rule, below the line before others. among: ids; None: all"""
    return [
        pk for state in UNSAFE for pk, one in found.states.items() if one is state and (among is None or pk in among)
    ]


def why_unsafe(case: RollCase) -> str:
    """What a roll lacks, as a clause; empty of one that is safe."""
    return "" if case.state is RollState.SAFE else "; ".join(block.sentence for block in case.verdict.blocks)


def unsafe_sentence(case: RollCase) -> str:
    return f"{case.standing.roll.tag} is {UNSAFE[case.state]}: {why_unsafe(case)}."


def runs_not_ended(runs: QuerySet[Run]) -> Iterator[tuple[Run, bool, str]]:
    """Each with whether it is under way now, and that in a sentence."""
    for run in runs.filter(finished_at=None).select_related("roll", "station", "person").order_by("rank", "pk"):
        where = f"at '{run.station.name}', asked for by {run.person.shown_name}"
        goes = bool(run.started_at) and not run.held_back
        how = "runs" if goes else "is paused" if run.held_back else "waits"
        yield run, goes, f"The {run.kind} of {run.roll.tag} {how} {where}."


def card_not_cleared(line: CardLine) -> str:
    case = line.case
    said = card_sentence(case.facts, case.verdict)
    stands = "" if said.casefold().startswith(case.standing) else f"{case.standing.capitalize()}. "
    return f"{case.card.label}, {line.whereabouts}. {stands}{said}"


def reported_otherwise(production: Production, tags: Collection[str] | None = None) -> Iterator[tuple[str, str]]:
    """What camera reports and rolls do not agree on: the roll's tag, and that in a sentence. tags: None: all"""
    for one in mismatches_of(production, tags):
        yield one.roll, one.sentence
