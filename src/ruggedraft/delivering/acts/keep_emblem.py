"""The picture by which a production shows itself on its clients' pages."""

import os

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.pictures import PictureKind, StillMaker
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import Emblem

MOST_BYTES = 20_000_000


def keep_emblem(person: Person, production: Production, given: bytes) -> None:
    """Show a picture on every client's page from now on. given: a file that holds it. Raises ActRefused."""
    require(person, May.DELIVER, production.pk)
    picture = _made_of(given)
    with transaction.atomic():
        said = {"picture": picture, "by": person, "at": now()}
        Emblem.objects.update_or_create(production=production, defaults=said)
        words = f"Clients' pages of {production.name} show its picture."
        write("keep emblem", production.name, words, person=person, production=production.pk)
        changed(Topic.DELIVERIES, production=production.pk)


@transaction.atomic
def forget_emblem(person: Person, production: Production) -> None:
    """Show none any more."""
    require(person, May.DELIVER, production.pk)
    gone, _ = Emblem.objects.filter(production=production).delete()
    if gone:
        words = f"Clients' pages of {production.name} show no picture of it any more."
        write("forget emblem", production.name, words, person=person, production=production.pk)
        changed(Topic.DELIVERIES, production=production.pk)


def _made_of(given: bytes) -> bytes:
    """Made anew, in a process of its own: nothing of the file itself is kept or handed out. Raises ActRefused."""
    if len(given) > MOST_BYTES:
        raise ActRefused(f"A picture has {MOST_BYTES // 1_000_000} MB at most. Nothing was changed.")
    with os.fdopen(os.memfd_create("emblem"), "w+b") as file, StillMaker() as stills:
        file.write(given)
        file.flush()
        made = stills.show(file.fileno(), on_white=True)
    if made.note:
        raise ActRefused(f"This is no picture that can be shown: {made.note}. JPEG, PNG, TIFF and HEIF can.")
    return made.pictures[PictureKind.SMALL]
