from django.contrib.auth.hashers import make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write, write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..accounts import checked_name, checked_password, kept_of
from ..models import Invitation, Membership, Person, Pin, Role
from ..permissions import roles_of
from .one_time_codes import forget_codes

_NO_LONGER = "This link was used, has expired or was taken back: ask a supervisor for another one."


def link_with(secret: str) -> Invitation:
    """A link that may still be used, with its production. Raises ActRefused."""
    links = Invitation.objects.select_related("person", "production")
    found = links.filter(secret=kept_of(secret), ended_at=None).first()
    if found is None or found.until < now() or (found.person and not found.person.is_active):
        raise ActRefused(_NO_LONGER)
    return found


@transaction.atomic
def use_link(secret: str, *, name: str, password: str, origin: str) -> Person:
    """Join, or choose a new password, by a link; it ends with that.

    name: of somebody new; of no concern where the link is somebody's own
    """
    link = _used(secret)
    hashed = make_password(checked_password(password))
    if link.person:
        person = Person.objects.select_for_update(no_key=True).get(pk=link.person.pk)
        person.password = hashed
        person.save(update_fields=["password"])
        Pin.objects.filter(person=person).delete()  # whoever asked for a link may have lost more than a password
        forget_codes(person)
        words = f"{person.shown_name} chose a new password."
        write_in_each(roles_of(person), "new password", person.username, words, person=person, origin=origin)
    else:
        person = Person.objects.create(username=checked_name(name), password=hashed)
        _join(person, link, origin)
    changed(Topic.SETUP)
    return person


@transaction.atomic
def join_as_oneself(person: Person, secret: str, *, origin: str) -> None:
    """Join one more production by a link, with the account that one has. Raises ActRefused."""
    link = _used(secret)
    if link.person:
        raise ActRefused("This link is for choosing a new password: sign out first, and open it again.")
    if Membership.objects.filter(person=person, production=link.production_id).exists():
        raise ActRefused("You are or were on this crew already: a supervisor says what you are there.")
    _join(person, link, origin)
    changed(Topic.SETUP, Topic.SESSION)


def _join(person: Person, link: Invitation, origin: str) -> None:
    if link.production_id is None:  # made by an earlier version, in which roles were of no production
        raise ActRefused(_NO_LONGER)
    Membership.objects.create(person=person, production_id=link.production_id, role=link.role)
    sentence = f"{person.shown_name} joined as {Role(link.role).label}."
    write("join crew", person.username, sentence, person=person, origin=origin, production=link.production_id)


def _used(secret: str) -> Invitation:
    """The link, which is of no use any more. Of two who use one at once the second finds it ended."""
    link = link_with(secret)
    if not Invitation.objects.filter(pk=link.pk, ended_at=None).update(ended_at=now()):
        raise ActRefused(_NO_LONGER)
    return link
