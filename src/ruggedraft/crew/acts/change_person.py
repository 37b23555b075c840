from django.contrib.auth.hashers import check_password, make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..accounts import checked_password
from ..models import Invitation, Person, Role
from ..permissions import May, require


@transaction.atomic
def give_role(person: Person, whose: Person, role: str) -> None:
    require(person, May.SET_UP)
    if role not in Role.values:
        raise ActRefused(f"There is no role '{role}'.")
    whose = _held(whose)
    if whose.role == role:
        return
    if role != Role.SUPERVISOR:
        _keep_a_supervisor(whose)
    whose.role = role
    whose.save(update_fields=["role"])
    write("give role", whose.username, f"{whose.shown_name} is {Role(role).label} now.", person=person)
    changed(Topic.SETUP, Topic.SESSION)


@transaction.atomic
def take_off(person: Person, whose: Person) -> None:
    """They sign in no more, from this moment. What they did stays theirs."""
    require(person, May.SET_UP)
    whose = _held(whose)
    if not whose.is_active:
        return
    _keep_a_supervisor(whose)
    whose.is_active = False
    whose.save(update_fields=["is_active"])
    Invitation.objects.filter(person=whose, ended_at=None).update(ended_at=now())
    write("take off", whose.username, f"{whose.shown_name} was taken off the crew.", person=person)
    changed(Topic.SETUP, Topic.SESSION)


@transaction.atomic
def take_on_again(person: Person, whose: Person) -> None:
    require(person, May.SET_UP)
    whose = _held(whose)
    if whose.is_active:
        return
    whose.is_active = True
    whose.save(update_fields=["is_active"])
    write("take on again", whose.username, f"{whose.shown_name} is on the crew again.", person=person)
    changed(Topic.SETUP)


@transaction.atomic
def change_own_password(person: Person, old: str, new: str) -> Person:
    """Raises ActRefused where the old one is another."""
    person = _held(person)
    if not check_password(old, person.password):
        raise ActRefused("The old password is another one. Nothing was changed.")
    person.password = make_password(checked_password(new))
    person.save(update_fields=["password"])
    write("new password", person.username, f"{person.shown_name} changed their password.", person=person)
    return person


def _held(person: Person) -> Person:
    return Person.objects.select_for_update().get(pk=person.pk)


def _keep_a_supervisor(whose: Person) -> None:
    """Locks all supervisors, so that no two of them take each other off. Raises ActRefused for the last one."""
    others = Person.objects.select_for_update().filter(role=Role.SUPERVISOR, is_active=True).order_by("pk")
    if whose.role == Role.SUPERVISOR and not [one for one in others if one.pk != whose.pk]:
        raise ActRefused(f"{whose.shown_name} is the only supervisor: make somebody else one first.")
