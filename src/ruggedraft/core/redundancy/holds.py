"""Holds: reasons to keep a card, whatever its copies say; what each is on, and when it ends."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum


class HoldEnd(StrEnum):
    """What ends a hold, beside somebody lifting it."""

    LIFTED = "lifted"
    DATE = "date"
    """a moment comes"""
    DELIVERED = "delivered"
    """every roll that it is about was delivered"""
    SECOND_SIGNATURE = "second signature"
    """it does not block: it asks for one more person to sign, and ends with the clearance"""


@dataclass(frozen=True)
class HoldFact:
    """Somebody wants a card kept. by: who. reason: in their words.

    on: what it was placed on, such as "camera B"; empty for what is judged itself
    until: the moment at which one that ends by date is over
    refusal: it came of somebody's refusing to sign
    """

    reason: str
    by: str
    on: str = ""
    ends: HoldEnd = HoldEnd.LIFTED
    until: datetime | None = None
    refusal: bool = False

    @property
    def sentence(self) -> str:
        """As a reason not to clear."""
        if self.refusal:
            return f"{self.by} would not sign: {self.reason}"
        on = f"{self.on} is " if self.on else ""
        return f"{on}on hold by {self.by}{_ENDS.get(self.ends, '')}: {self.reason}"


_ENDS = {HoldEnd.DELIVERED: " until it is delivered", HoldEnd.DATE: " until a date"}


def blocks_clearing(hold: HoldFact, delivered: Sequence[bool], now: datetime) -> bool:
    """Whether a hold that nobody lifted still keeps a card.

    delivered: whether each roll on the card that it is about was delivered. One until delivery that is about no roll
    goes on: what is on the card is not known as anything that could have been delivered.
    """
    if hold.ends is HoldEnd.DATE:
        return hold.until is None or now < hold.until
    if hold.ends is HoldEnd.DELIVERED:
        return not delivered or not all(delivered)
    return hold.ends is HoldEnd.LIFTED
