"""Where a card stands, in one sentence for whoever holds it. How old things are is said beside it."""

from collections.abc import Callable, Mapping

from .card import CardFacts
from .states import BlockKind, CardStanding
from .verdict import CardVerdict


def card_sentence(card: CardFacts, verdict: CardVerdict) -> str:
    """What is so, and what to do. Every figure in it comes from the verdict."""
    said = _PLAIN.get(verdict.standing)
    if said:
        return said
    say = _SAY.get(verdict.standing)
    return say(card, verdict) if say else _not_clear(verdict)


def _not_clear(verdict: CardVerdict) -> str:
    return f"Not clear: {'; '.join(block.sentence for block in verdict.blocks)}."


_PLAIN = {
    CardStanding.NEVER_READ: "What is on it is not known here yet.",
    CardStanding.RUNNING: "It is being offloaded.",
    CardStanding.EMPTY: "Nothing is on it, and nothing that was on it is missing.",
    CardStanding.OLD: (
        "Nothing spoke against it when it was last read. Put it into a reader: nobody knows what came since."
    ),
    CardStanding.OUT: "It was cleared and handed back. What is on it now is not known.",
}


def _signed_before(card: CardFacts) -> str:
    cleared = card.clearance
    if cleared is None or cleared.revoked_at is None:
        return "Nobody has signed yet."
    return f"{cleared.revoked_by} revoked its clearance: {cleared.revoked_why}. Nobody has signed since."


def _covered(card: CardFacts, verdict: CardVerdict) -> str:
    """Says of waived files that no copy of them is asked for."""
    if not verdict.waived.count:
        return "Every file on it is in enough copies."
    covered, waived = card.files - verdict.waived.count, verdict.waived.count
    return (
        f"{covered:,} of its {card.files:,} files are in enough copies. "
        f"{waived:,} {'was' if waived == 1 else 'were'} waived by name and may be lost."
    )


def _unread(card: CardFacts, verdict: CardVerdict) -> str:
    count = verdict.uncovered.count
    if count == card.files:
        return f"Nothing of its {count:,} {'file' if count == 1 else 'files'} is in any copy."
    return _not_clear(verdict)


def _aside(card: CardFacts, _: CardVerdict) -> str:
    return f"Nothing on it is owed. {card.out_of_use[:1].upper()}{card.out_of_use[1:]}."


def _clearable(card: CardFacts, verdict: CardVerdict) -> str:
    return f"{_covered(card, verdict)} {_signed_before(card)}"


def _signed(card: CardFacts, verdict: CardVerdict) -> str:
    missing = verdict.missing_signatures
    return f"{_covered(card, verdict)} {missing} more {'person' if missing == 1 else 'people'} must sign."


def _cleared(card: CardFacts, _: CardVerdict) -> str:
    if card.clearance is not None and card.clearance.handed_back_at is not None:
        return "It was cleared and handed back, and is here again as it was: format it in the camera."
    return "Cleared: hand it back, and format it in the camera."


def _finals(card: CardFacts, verdict: CardVerdict) -> str:
    covered = _covered(card, verdict) if card.files else "Nothing is in it."
    return f"{covered} A set of finals is no card: nothing of it is cleared or removed."


def _package(card: CardFacts, verdict: CardVerdict) -> str:
    return f"{_covered(card, verdict)} A sealed package is no card: nothing of it is cleared or removed."


_SAY: Mapping[CardStanding, Callable[[CardFacts, CardVerdict], str]] = {
    CardStanding.UNREAD: _unread,
    CardStanding.ASIDE: _aside,
    CardStanding.CLEARABLE: _clearable,
    CardStanding.SIGNED: _signed,
    CardStanding.CLEARED: _cleared,
    CardStanding.FINALS: _finals,
    CardStanding.PACKAGE: _package,
}


_BESIDE_COPIES = frozenset(
    (BlockKind.HOLD, BlockKind.LISTING, BlockKind.HEALTH, BlockKind.OUT_OF_USE, BlockKind.RECALLED)
)


def is_lashed(card: CardFacts, verdict: CardVerdict) -> bool:
    """Whether every file on the card is covered or waived and the rule is met; holds and signatures stand beside it."""
    return card.files > 0 and all(block.kind in _BESIDE_COPIES for block in verdict.blocks)
