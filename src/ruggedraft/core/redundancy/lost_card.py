"""What if a card is lost, or can be read no more, as it was last listed?"""

from dataclasses import dataclass
from datetime import datetime

from .card import CardFacts
from .cover import Files
from .facts import Rule
from .verdict import judge_roll


@dataclass(frozen=True)
class IfCardIsLost:
    """gone: files of which no copy counts, and that nobody waived. below: that fall below the rule by it, as the card
    is no more copy of them that could be made again. safe: whose rule is met without it
    """

    gone: Files
    below: Files
    safe: Files


def if_card_is_lost(card: CardFacts, rule: Rule, now: datetime) -> IfCardIsLost:
    """Every file of the card's last listing is in exactly one of them, or was waived."""
    verdicts = {roll.tag: judge_roll(roll, rule, now) for roll in card.rolls}
    held = frozenset(tag for tag, verdict in verdicts.items() if verdict.counting)
    met = frozenset(tag for tag, verdict in verdicts.items() if verdict.met)
    owed = card.known.where
    return IfCardIsLost(
        gone=owed(lambda known: not known.waived and not known.sure & held),
        below=owed(lambda known: not known.waived and bool(known.sure & held) and not known.sure & met),
        safe=owed(lambda known: not known.waived and bool(known.sure & met)),
    )
