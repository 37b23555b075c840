"""Which role may do what: one table, asked by every act, of the production that the act concerns.

Some things are shared by productions: stores, readers, stations. Whoever changes what verdicts of several rest on has
to be allowed to in each of them; what concerns the whole ledger takes somebody who may in all that are open.
"""

from collections.abc import Iterable, Mapping
from enum import StrEnum

from ruggedraft.core.errors import NotPermitted
from ruggedraft.core.wording import either

from .models import Membership, Person, Role


class May(StrEnum):
    """Things a person does. The value completes the sentence 'Only … may <value>'."""

    SEE_STATE = "see what is safe"
    SEE_WORK = "see the work at the cart"
    CARRY = "say who has a card or a drive"
    NOTE = "write a note"
    OFFLOAD = "start or cancel an offload"
    READ_CARD = "have a card read"
    INTRODUCE_CARD = "bring a card into the ledger"
    SET_CLOCK = "say how far a camera's clock is off"
    CHECK = "have a copy checked"
    HAND_OVER = "hand a shift over, or take one over"
    SIGN = "sign a clearance"
    REVOKE = "revoke a clearance"
    REMOVE = "have files taken off a card"
    DELIVER = "say what was delivered"
    SET_ASIDE = "take a card out of use"
    HOLD = "place a hold"
    LIFT_HOLD = "lift a hold"
    WAIVE = "waive a file"
    REPORT_LOSS = "report a device lost"
    MAKE_ROOM = "take rolls off a store to make room"
    PLAN = "change plans, cameras and rigs"
    KEEP_STORES = "change stores, readers and what is done by itself"
    SET_UP = "change the set-up"


_SEES = {May.SEE_STATE, May.SEE_WORK}
_CART = _SEES | {May.CARRY, May.NOTE}
_BENCH = _CART | {
    May.OFFLOAD, May.READ_CARD, May.INTRODUCE_CARD, May.SET_CLOCK, May.PLAN, May.CHECK, May.SIGN, May.HOLD,
    May.REPORT_LOSS, May.REVOKE, May.DELIVER, May.SET_ASIDE, May.REMOVE, May.HAND_OVER, May.WAIVE, May.LIFT_HOLD,
}  # fmt: skip
MAY: Mapping[str, set[May]] = {
    Role.CLIENT: {May.SEE_STATE},
    Role.ASSISTANT: _CART,
    Role.WRANGLER: _BENCH,
    Role.LEAD: _BENCH | {May.KEEP_STORES, May.MAKE_ROOM},
    Role.SUPERVISOR: set(May),
}
"""The whole table; docs/roles.md shows it, and a test holds the two together."""


def roles_of(person: Person) -> dict[int, Role]:
    """The role that somebody has in each production that they work for, by its id."""
    if person.pk is None or not person.is_active:
        return {}
    rows = Membership.objects.filter(person=person, off_since=None).values_list("production", "role")
    return {production: Role(role) for production, role in rows}


def may(person: Person, what: May, *productions: int) -> bool:
    """Whether somebody may do something in each of these productions (ids); with none given, in any at all."""
    return _may(roles_of(person), what, productions)


def _may(roles: Mapping[int, Role], what: May, productions: Iterable[int]) -> bool:
    wanted = list(productions)
    if not wanted:
        return any(what in MAY[role] for role in roles.values())
    return all(one in roles and what in MAY[roles[one]] for one in wanted)


def require(person: Person, what: May, *productions: int) -> None:
    """Raises NotPermitted with a sentence that names who may, unless `may`."""
    roles = roles_of(person)
    if _may(roles, what, productions):
        return
    those = either([role.label for role, acts in _in_words() if what in acts])
    raise NotPermitted(f"Only a {those} may {what}; {_who_they_are(roles, what, productions)}.")


def require_in_one(person: Person, what: May, productions: Iterable[int]) -> None:
    """For what can only make verdicts stricter: it is enough to be allowed in one of those that it concerns."""
    wanted = list(productions)
    if wanted and not any(may(person, what, one) for one in wanted):
        require(person, what, *wanted)
    require(person, what)


def require_everywhere(person: Person, what: May) -> None:
    """For what concerns the whole ledger: in every production that is open, or in each where none is."""
    everywhere = Membership.objects.filter(production__closed_at=None).values_list("production", flat=True)
    known = set(everywhere) or set(Membership.objects.values_list("production", flat=True))
    require(person, what, *known)


def _in_words() -> Iterable[tuple[Role, set[May]]]:
    return ((Role(role), acts) for role, acts in MAY.items())


def _who_they_are(roles: Mapping[int, Role], what: May, productions: Iterable[int]) -> str:
    """Why that is not enough, as a clause."""
    lacking = [one for one in productions if not _may(roles, what, [one])] or list(roles)
    if not roles or any(one not in roles for one in lacking):
        return "this concerns a production that you are not on the crew of"
    here = sorted({roles[one].label for one in lacking})
    return f"you are {either(here)} here" if len(list(productions)) < 2 else f"you are {either(here)} in one of those"
