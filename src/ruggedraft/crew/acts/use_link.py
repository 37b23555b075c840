from django.contrib.auth.hashers import make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..accounts import checked_name, checked_password, kept_of
from ..models import Invitation, Person, Role

_NO_LONGER = "This link was used, has expired or was taken back: ask a supervisor for another one."


def link_with(secret: str) -> Invitation:
    """A link that may still be used. Raises ActRefused."""
    found = Invitation.objects.select_related("person").filter(secret=kept_of(secret), ended_at=None).first()
    if found is None or found.until < now() or (found.person and not found.person.is_active):
        raise ActRefused(_NO_LONGER)
    return found


@transaction.atomic
def use_link(secret: str, *, name: str, password: str, origin: str) -> Person:
    """Join, or choose a new password, by a link; it ends with that.

    name: of somebody new; of no concern where the link is somebody's own
    """
    link = link_with(secret)
    # of two who use one link at once the second finds it ended
    if not Invitation.objects.filter(pk=link.pk, ended_at=None).update(ended_at=now()):
        raise ActRefused(_NO_LONGER)
    hashed = make_password(checked_password(password))
    if link.person:
        person = Person.objects.select_for_update().get(pk=link.person.pk)
        person.password = hashed
        person.save(update_fields=["password"])
        write(
            "new password", person.username, f"{person.shown_name} chose a new password.", person=person, origin=origin
        )
    else:
        person = Person.objects.create(username=checked_name(name), password=hashed, role=link.role)
        sentence = f"{person.shown_name} joined as {Role(link.role).label}."
        write("join crew", person.username, sentence, person=person, origin=origin)
    changed(Topic.SETUP)
    return person
