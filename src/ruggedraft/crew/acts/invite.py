from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write, write_in_each

from ..accounts import LINK_LIFE, new_secret
from ..models import Invitation, Membership, Person
from ..permissions import May, require, roles_of
from .change_person import checked_role


@transaction.atomic
def invite(person: Person, role: str, production: int) -> str:
    """What a link carries by which somebody joins a production (id) in this role, once, within three days.

    It is not kept anywhere.
    """
    require(person, May.SET_UP, production)
    given = checked_role(role)
    secret, kept = new_secret()
    words = {"role": given, "production_id": production}
    Invitation.objects.create(secret=kept, by=person, at=now(), until=now() + LINK_LIFE, **words)
    sentence = f"{person.shown_name} invited somebody as {given.label}, by a link."
    write("invite", given.label, sentence, person=person, production=production)
    return secret


@transaction.atomic
def link_for_password(person: Person, whose: Person) -> str:
    """What a link carries by which somebody chooses a new password. Earlier ones for them end.

    Whoever has the link can act as they do, so that it takes somebody who may give roles wherever they have one.
    """
    require(person, May.SET_UP, *Membership.objects.filter(person=whose).values_list("production", flat=True))
    if not whose.is_active:
        raise ActRefused(f"{whose.shown_name} was taken off: take them on again first.")
    Invitation.objects.filter(person=whose, ended_at=None).update(ended_at=now())
    secret, kept = new_secret()
    Invitation.objects.create(secret=kept, person=whose, by=person, at=now(), until=now() + LINK_LIFE)
    sentence = f"{person.shown_name} made a link by which {whose.shown_name} chooses a new password."
    write_in_each(roles_of(whose), "password link", whose.username, sentence, person=person)
    return secret
