from datetime import timedelta

from django.conf import settings
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.accounts import new_secret
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require_everywhere
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write

from ..models import StationTicket

TICKET_LIFE = timedelta(hours=1)


@transaction.atomic
def make_ticket(person: Person) -> str:
    """What one more station joins with, once, within the hour: a secret, and whose server it is good for.

    The second part is the SHA-256 of the server's certificate, so that the station tells its secret to no other.
    Raises ActRefused where this server lets no station in.
    """
    require_everywhere(person, May.SET_UP)
    if not (settings.DOOR and settings.CERTIFICATE_SHA256):
        raise ActRefused(
            "No other station can join: the database listens to this machine alone. Start it with "
            "`./raft start --own --listen ADDRESS --stations`."
        )
    secret, kept = new_secret()
    StationTicket.objects.create(secret=kept, by=person, at=now(), until=now() + TICKET_LIFE)
    write("let station in", "station", f"{person.shown_name} made a ticket by which one more station joins.",
          person=person)  # fmt: skip
    return f"{secret}.{settings.CERTIFICATE_SHA256}"
