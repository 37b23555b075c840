"""What an offload of a card would be, and whether it may start. From plain facts; nothing is looked up."""

from .choice import Choice, choose, everything
from .naming import Naming
from .offer import Offer, Startable, make_offer, printable
from .situation import LastRoll, RollNumbers, Situation, StoreNow, goes_on, question

__all__ = [
    "Choice",
    "LastRoll",
    "Naming",
    "Offer",
    "RollNumbers",
    "Situation",
    "Startable",
    "StoreNow",
    "choose",
    "everything",
    "goes_on",
    "make_offer",
    "printable",
    "question",
]
