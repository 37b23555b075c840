"""Where a card is in its life. Every state follows from what happened to it."""

from enum import StrEnum

from .card import CardFacts
from .states import BlockKind, CardStanding
from .verdict import CardVerdict


class CardLife(StrEnum):
    """The first that applies is said."""

    RETIRED = "retired"
    QUARANTINED = "quarantined"
    LOST = "lost"
    BROKEN = "broken"
    HANDED_BACK = "handed back"
    """it left as cleared, with what it was cleared with still on it"""
    HELD = "held"
    CLEARED = "cleared"
    FORMATTED = "formatted"
    """in a reader, with nothing on it and nothing owed, after rolls were taken of it"""
    IN_READER = "in a reader"
    NEW = "new"
    """labelled, and never read here"""
    IN_CAMERA = "with the camera"
    """it left with nothing on it"""
    FINALS = "set of finals"
    """no card, but a folder of finals; how it stands is said by its verdict"""
    PACKAGE = "package"
    """no card, but a sealed package of a roll"""
    WAITING = "waiting"
    """in no reader, with something on it that is not cleared"""


def life_of(card: CardFacts, verdict: CardVerdict, *, rolls: int) -> CardLife:
    """rolls: how many were ever taken of it"""
    held = any(block.kind is BlockKind.HOLD for block in verdict.blocks)
    formatted = verdict.standing is CardStanding.EMPTY and rolls > 0
    if card.aside:
        return CardLife(card.aside)
    steps = (
        (verdict.standing is CardStanding.OUT, CardLife.HANDED_BACK),
        (held, CardLife.HELD),
        (card.finals, CardLife.FINALS),
        (card.package, CardLife.PACKAGE),
        (verdict.standing is CardStanding.CLEARED, CardLife.CLEARED),
        (formatted, CardLife.FORMATTED),
        (card.in_reader, CardLife.IN_READER),
        (card.listed_at is None, CardLife.NEW),
        (not card.files, CardLife.IN_CAMERA),
    )
    return next((life for applies, life in steps if applies), CardLife.WAITING)
