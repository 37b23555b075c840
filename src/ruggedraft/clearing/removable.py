"""Which files of a card may be taken off it here: those of rolls whose rule is met and that nothing holds."""

from ruggedraft.core.redundancy import FileFact, Files, rolls_that_may_go

from .cases import Case


def removable(judged: Case) -> list[tuple[FileFact, str]]:
    """Of a case that was judged in full: each file that may go, with the tag of a roll that holds it."""
    free = rolls_that_may_go(judged.facts, judged.rule, judged.moment)
    return [(file, sorted(known.sure & free)[-1]) for file, known in judged.each if known.sure & free]


def removable_in_all(judged: Case) -> Files:
    """How many that are, and the first of their names; of any case."""
    free = rolls_that_may_go(judged.facts, judged.rule, judged.moment)
    return judged.facts.known.where(lambda known: bool(known.sure & free))
