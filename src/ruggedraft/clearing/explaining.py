"""A card's case as text: the same reasoning as the screens show, for whoever sits at a terminal."""

from collections.abc import Iterator
from datetime import UTC, datetime

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import CopyFacts, Rule, card_sentence, copy_state, judge_roll, rule_for
from ruggedraft.core.redundancy.proposed_rule import rule_sentence
from ruggedraft.core.wording import counted
from ruggedraft.intake.models import Card
from ruggedraft.rolls.readings import RollStanding

from .cases import Case, case


def explain(card: Card) -> str:
    """Judged in full, as for a signature. Raises ActRefused for a card that belongs to no camera."""
    return "\n".join(_lines(case(card)))


def _lines(one: Case) -> Iterator[str]:
    yield f"{one.card.label}: {one.standing}. {card_sentence(one.facts, one.verdict)}"
    yield f"rule: {rule_sentence(one.rule)}"
    yield _listed(one)
    yield from (f"against it: {block.sentence}" for block in one.verdict.blocks)
    yield from (f"held by {hold.by}: {hold.reason}" for hold in one.holds)
    yield from (f"gone, and in no copy: {file.path}" for file in one.gone)
    for standing in one.rolls:
        yield from _roll(standing, one.rule, one.moment)
    yield from (f"waived by {waiver.by}: {waiver.file.path} ({waiver.reason})" for waiver in one.row.waivers)
    yield from (f"signed by {signature.username}" for signature in one.signatures)
    yield from _cleared(one)


def _listed(one: Case) -> str:
    if one.listing is None:
        return "it was never listed: nothing is known of what is on it"
    where = f"in {one.stay.slot}" if one.stay else "in no reader"
    return f"listed {_when(one.listing.began_at)}, {counted(one.listing.files, 'file')}; {where}"


def _cleared(one: Case) -> Iterator[str]:
    if one.clearance:
        back = f", handed back {_when(one.clearance.handed_back_at)}" if one.clearance.handed_back_at else ""
        yield f"last cleared {_when(one.clearance.at)}{back}"


def _roll(standing: RollStanding, rule: Rule, moment: datetime) -> Iterator[str]:
    rule = rule_for(standing.facts, rule)
    verdict = judge_roll(standing.facts, rule, moment)
    yield f"roll {standing.roll.tag}: {counted(standing.facts.files, 'file')}, {standing.facts.bytes:,} bytes"
    for copy in standing.facts.copies:
        counts = "counts" if copy in verdict.counting else "does not count"
        yield f"  {copy.store.name} at {copy.store.location}: {copy_state(copy, rule, moment)}, {_held(copy)}; {counts}"
    for block in verdict.blocks:
        yield f"  lacking: {block.sentence}"


def _held(copy: CopyFacts) -> str:
    missing = f", {counted(copy.missing_files, 'file')} missing" if copy.missing_files else ""
    return f"{counted(copy.files, 'file')} {Evidence(copy.level).words}{missing}"


def _when(moment: datetime) -> str:
    return f"{moment.astimezone(UTC):%Y-%m-%d %H:%M} UTC"
