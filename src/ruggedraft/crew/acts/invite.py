from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write

from ..accounts import LINK_LIFE, new_secret
from ..models import Invitation, Person, Role
from ..permissions import May, require


@transaction.atomic
def invite(person: Person, role: str) -> str:
    """What a link carries by which somebody joins in this role, once, within three days. It is not kept anywhere."""
    require(person, May.SET_UP)
    if role not in Role.values:
        raise ActRefused(f"There is no role '{role}'.")
    secret, kept = new_secret()
    Invitation.objects.create(secret=kept, role=role, by=person, at=now(), until=now() + LINK_LIFE)
    label = Role(role).label
    write("invite", label, f"{person.shown_name} invited somebody as {label}, by a link.", person=person)
    return secret


@transaction.atomic
def link_for_password(person: Person, whose: Person) -> str:
    """What a link carries by which somebody chooses a new password. Earlier ones for them end."""
    require(person, May.SET_UP)
    if not whose.is_active:
        raise ActRefused(f"{whose.shown_name} was taken off: take them on again first.")
    Invitation.objects.filter(person=whose, ended_at=None).update(ended_at=now())
    secret, kept = new_secret()
    Invitation.objects.create(secret=kept, role=whose.role, person=whose, by=person, at=now(), until=now() + LINK_LIFE)
    sentence = f"{person.shown_name} made a link by which {whose.shown_name} chooses a new password."
    write("password link", whose.username, sentence, person=person)
    return secret
