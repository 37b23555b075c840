"""What screens read about people."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from ruggedraft.core.errors import NotPermitted, NotThere
from ruggedraft.live.models import Presence
from ruggedraft.live.presence import here_now

from .models import Membership, Person, Role, SharedScreen
from .permissions import MAY, May, roles_of


def crew_of(production: int) -> list[Membership]:
    """Everybody who is or was on the crew of a production (id), with the person, by name."""
    rows = Membership.objects.filter(production=production).select_related("person")
    return list(rows.order_by("person__first_name", "person__last_name", "person__username"))


def people_of(production: int) -> list[Person]:
    return [one.person for one in crew_of(production)]


@dataclass(frozen=True)
class Here:
    """Somebody who shows a production now, in one browser or several; or a shared screen. since: the first of them

    role: empty of a screen
    """

    name: str
    role: str
    since: datetime
    browsers: int


def here_in(production: int) -> list[Here]:
    """Who shows a production (id) now, whoever has been there longest first."""
    roles = dict(Membership.objects.filter(production=production, off_since=None).values_list("person", "role"))
    found: dict[tuple[int | None, str], list[Presence]] = {}
    for one in here_now(production):
        if one.person_id is None or one.person_id in roles:  # who was taken off the crew a moment ago hears no more
            found.setdefault((one.person_id, one.screen), []).append(one)
    return [
        Here(
            name=rows[0].person.shown_name if rows[0].person else screen, role=roles[person] if person else "",
            since=rows[0].came_at, browsers=len(rows),
        )
        for (person, screen), rows in found.items()
    ]  # fmt: skip


def known_to(person: Person, production: int) -> list[Person]:
    """Whom somebody works with in other productions, and who never was on the crew of this one (id), by name."""
    elsewhere = Membership.objects.filter(production__in=roles_of(person), off_since=None).exclude(
        person__memberships__production=production
    )
    people = Person.objects.filter(is_active=True, pk__in=elsewhere.values("person"))
    return list(people.order_by("first_name", "last_name", "username"))


def screens_of(production: int) -> list[SharedScreen]:
    """Screens that show a production (id) with nobody signed in, the newest first."""
    return list(SharedScreen.objects.filter(production=production, ended_at=None).select_related("by").order_by("-pk"))


@dataclass(frozen=True)
class Standing:
    """What somebody is in a production, and what they may do there."""

    role: Role
    may: frozenset[May]


def standings_of(person: Person) -> Mapping[int, Standing]:
    """By the id of the production, for each that they work for."""
    return {one: Standing(role, frozenset(MAY[role])) for one, role in roles_of(person).items()}


def require_on_the_crew(person: Person, slug: str, to_see: May) -> None:
    """Raises NotThere as `role_on_the_crew` does, and NotPermitted."""
    require_to_see(role_on_the_crew(person, slug), to_see)


def role_on_the_crew(person: Person, slug: str) -> Role:
    """Of a production by its name in addresses. Raises NotThere for those who are not on it, as if there was none."""
    mine = Membership.objects.filter(person=person, off_since=None, production__slug=slug)
    role = mine.values_list("role", flat=True).first()
    if role is None:
        raise NotThere(f"There is no production '{slug}' in this ledger, or you are not on its crew.")
    return Role(role)


def require_to_see(role: Role, what: May) -> None:
    """Raises NotPermitted with a sentence."""
    if what not in MAY[role]:
        raise NotPermitted(f"You are {role.label} here, who does not {what}.")


def person_with(person_id: int) -> Person:
    """Raises NotThere."""
    found = Person.objects.filter(pk=person_id).first()
    if found is None:
        raise NotThere("There is nobody with this number.")
    return found


def member_with(person_id: int, production: int) -> Person:
    """Somebody who is or was on the crew of a production (id). Raises NotThere."""
    return _member("There is nobody with this number on this crew.", production, pk=person_id)


def member_called(username: str, production: int) -> Person:
    """Raises NotThere."""
    return _member(f"There is nobody called {username} here.", production, username=username)


def _member(otherwise: str, production: int, **which: object) -> Person:
    found = Person.objects.filter(memberships__production=production, **which).first()
    if found is None:
        raise NotThere(otherwise)
    return found


def somebody_is_there() -> bool:
    """Whether anybody ever had an account: then the ledger was begun."""
    return Person.objects.exists()
