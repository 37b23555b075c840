from django.contrib.auth.hashers import make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write, write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..accounts import checked_password, require_password
from ..models import Invitation, Membership, Person, Role
from ..permissions import May, require, roles_of


@transaction.atomic
def give_role(person: Person, whose: Person, role: str, production: int) -> None:
    """What somebody is in a production (id); whoever was of another until now is on its crew by that."""
    require(person, May.SET_UP, production)
    role = checked_role(role)
    whose, member = _held(whose), _membership(whose, production)
    if member is None and not roles_of(whose).keys() & roles_of(person).keys():
        raise ActRefused("You work with nobody of this name: make a link, by which they join.")
    if member and member.off_since:
        raise ActRefused(f"{whose.shown_name} was taken off: take them on again first.")
    if member and member.role == role:
        return
    if member and role != Role.SUPERVISOR:
        _keep_a_supervisor(whose, production)
    Membership.objects.update_or_create(person=whose, production_id=production, defaults={"role": role})
    words = f"{whose.shown_name} is {role.label} now."
    write("give role", whose.username, words, person=person, production=production)
    changed(Topic.SETUP, Topic.SESSION)


@transaction.atomic
def take_off(person: Person, whose: Person, production: int) -> None:
    """They may do and see nothing of a production (id) any more, from this moment. What they did stays theirs.

    Whoever is on no crew any more signs in no more.
    """
    require(person, May.SET_UP, production)
    whose, member = _held(whose), _membership(whose, production)
    if member is None or member.off_since:
        return
    _keep_a_supervisor(whose, production)
    member.off_since = now()
    member.save(update_fields=["off_since"])
    if not Membership.objects.filter(person=whose, off_since=None).exists():
        whose.is_active = False
        whose.save(update_fields=["is_active"])
        Invitation.objects.filter(person=whose, ended_at=None).update(ended_at=now())
    words = f"{whose.shown_name} was taken off the crew."
    write("take off", whose.username, words, person=person, production=production)
    changed(Topic.SETUP, Topic.SESSION)


@transaction.atomic
def take_on_again(person: Person, whose: Person, production: int) -> None:
    require(person, May.SET_UP, production)
    whose, member = _held(whose), _membership(whose, production)
    if member is None or member.off_since is None:
        return
    member.off_since = None
    member.save(update_fields=["off_since"])
    whose.is_active = True
    whose.save(update_fields=["is_active"])
    words = f"{whose.shown_name} is on the crew again."
    write("take on again", whose.username, words, person=person, production=production)
    changed(Topic.SETUP, Topic.SESSION)


@transaction.atomic
def change_own_password(person: Person, old: str, new: str) -> Person:
    """Raises ActRefused where the old one is another."""
    person = _held(person)
    require_password(person, old)
    person.password = make_password(checked_password(new))
    person.save(update_fields=["password"])
    words = f"{person.shown_name} changed their password."
    write_in_each(roles_of(person), "new password", person.username, words, person=person)
    return person


def checked_role(role: str) -> Role:
    """Raises ActRefused."""
    if role not in Role.values:
        raise ActRefused(f"There is no role '{role}'.")
    return Role(role)


def _held(person: Person) -> Person:
    return Person.objects.select_for_update(no_key=True).get(pk=person.pk)


def _membership(person: Person, production: int) -> Membership | None:
    return Membership.objects.select_for_update(no_key=True).filter(person=person, production=production).first()


def _keep_a_supervisor(whose: Person, production: int) -> None:
    """Locks all supervisors, so that no two of them take each other off. Raises ActRefused for the last one."""
    crew = Membership.objects.select_for_update(no_key=True).filter(production=production, off_since=None)
    left = {one.person_id for one in crew.filter(role=Role.SUPERVISOR).order_by("pk")}
    if left == {whose.pk}:
        raise ActRefused(f"{whose.shown_name} is the only supervisor: make somebody else one first.")
