import re

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Plan, Production

_LETTER = re.compile(r"[A-Z][A-Z0-9]{0,3}")


@transaction.atomic
def save_camera(person: Person, production: Production, *, letter: str, name: str, kind: str, plan: str) -> Camera:
    """Bring a camera into the production, or change its name, kind or plan. The letter stays: tags carry it."""
    require(person, May.PLAN)
    Production.objects.select_for_update().get(pk=production.pk)
    letter = letter.strip().upper()
    if not _LETTER.fullmatch(letter):
        raise ActRefused("A camera's letter is one to four capitals or digits, a capital first: A, R1.")
    found = Plan.objects.filter(production=production, name=plan).first()
    if found is None:
        raise ActRefused(f"There is no plan '{plan}' in this production.")
    words = {"name": name.strip()[:80], "kind": kind.strip()[:40], "plan": found}
    camera, new = Camera.objects.update_or_create(production=production, letter=letter, defaults=words)
    sentence = f"Camera {letter} ({camera.name}) {'joined' if new else 'was changed'}; plan '{plan}'."
    write("save camera", letter, sentence, person=person, production=production.pk)
    changed(Topic.SETUP, Topic.READERS, Topic.CARDS)
    return camera
