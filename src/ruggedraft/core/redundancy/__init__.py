"""What counts, what blocks, what to do next: pure computation over facts, no verdict is ever stored as a flag."""

from .facts import CardFacts, CopyFacts, FileFact, HoldFact, RollFacts, Rule, StoreFacts, WaiverFact
from .remedies import Remedy, Step, what_would_it_take
from .verdict import (
    Block,
    CardVerdict,
    RollVerdict,
    Survival,
    judge_card,
    judge_roll,
    signatures_missing,
    survival,
)
from .what_if import LossReport, what_if_lost

__all__ = [
    "Block",
    "CardFacts",
    "CardVerdict",
    "CopyFacts",
    "FileFact",
    "HoldFact",
    "LossReport",
    "Remedy",
    "RollFacts",
    "RollVerdict",
    "Rule",
    "Step",
    "StoreFacts",
    "Survival",
    "WaiverFact",
    "judge_card",
    "judge_roll",
    "signatures_missing",
    "survival",
    "what_if_lost",
    "what_would_it_take",
]
