"""Which role may do what: one table, asked by every act."""

from enum import StrEnum

from ruggedraft.core.errors import NotPermitted

from .models import Person, Role


class May(StrEnum):
    """Things a person does. The value completes the sentence 'Only … may <value>'."""

    OFFLOAD = "start or cancel an offload"
    READ_CARD = "have a card read"
    INTRODUCE_CARD = "bring a card into the ledger"
    SET_CLOCK = "say how far a camera's clock is off"
    CHECK = "have a copy checked"
    SIGN = "sign a clearance"
    REVOKE = "revoke a clearance"
    REMOVE = "have files taken off a card"
    DELIVER = "say what was delivered"
    SET_ASIDE = "take a card out of use"
    HOLD = "place a hold"
    LIFT_HOLD = "lift a hold"
    WAIVE = "waive a file"
    REPORT_LOSS = "report a device lost"
    PLAN = "change plans, cameras and rigs"
    SET_UP = "change the set-up"


_BENCH = {
    May.OFFLOAD, May.READ_CARD, May.INTRODUCE_CARD, May.SET_CLOCK, May.PLAN, May.CHECK, May.SIGN, May.HOLD,
    May.REPORT_LOSS, May.REVOKE, May.DELIVER, May.SET_ASIDE, May.REMOVE,
}  # fmt: skip
_MAY: dict[str, set[May]] = {
    Role.WRANGLER: _BENCH | {May.WAIVE, May.LIFT_HOLD},
    Role.SUPERVISOR: set(May),
    Role.ASSISTANT: set(),
}


def may(person: Person, what: May) -> bool:
    return person.is_active and what in _MAY[person.role]


def require(person: Person, what: May) -> None:
    """Raises NotPermitted with a sentence that names who may."""
    if not may(person, what):
        roles = [Role(role).label for role, acts in _MAY.items() if what in acts]
        raise NotPermitted(f"Only a {' or a '.join(roles)} may {what}; you are signed in as {Role(person.role).label}.")
