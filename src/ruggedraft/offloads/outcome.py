"""How a run's roll stands now, in one sentence, judged from its copies."""

from datetime import datetime

from ruggedraft.core.redundancy import CopyState, Rule, copy_state
from ruggedraft.core.wording import counted
from ruggedraft.rolls.readings import RollStanding

from .models import Offload


def run_sentence(run: Offload, standing: RollStanding, rule: Rule, moment: datetime) -> str:
    """Empty while the run is under way."""
    if run.finished_at is None:
        return ""
    tag, facts = standing.roll.tag, standing.facts
    whole = [c.facts for c in standing.copies if copy_state(c.facts, rule, moment) is CopyState.VERIFIED]
    if not facts.files or len(whole) < len(standing.copies):
        where = ", ".join(f"'{copy.store.name}'" for copy in whole) or "no store"
        return f"A whole copy of {tag}, with all its {counted(facts.files, 'file')}, is on {where}."
    how = min(copy.level for copy in whole).words
    count, agree = _copies(len(whole))
    return f"{count} of {tag}, {counted(facts.files, 'file')}, {how}: {agree} with the card."


def _copies(count: int) -> tuple[str, str]:
    """How many, and the verb to go with them."""
    if count == 1:
        return "1 copy", "agrees"
    return f"{count} copies", "both agree" if count == 2 else "all agree"
