import re

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Production
from ..queries import chosen_plan

_LETTER = re.compile(r"[A-Z][A-Z0-9]{0,3}")


@transaction.atomic
def add_camera(person: Person, production: Production, *, letter: str, name: str, kind: str, plan: str) -> Camera:
    """Bring a camera into the production. Its letter is in the tags of its rolls: no other camera gets it."""
    require(person, May.PLAN, production.pk)
    Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    letter = letter.strip().upper()
    if not _LETTER.fullmatch(letter):
        raise ActRefused("A camera's letter is one to four capitals or digits, a capital first: A, R1.")
    there = Camera.objects.filter(production=production, letter=letter).first()
    if there:
        raise ActRefused(f"Camera {letter} is in this production already ({there.name}): take another letter.")
    camera = Camera.objects.create(
        production=production, letter=letter, name=name.strip()[:80], kind=kind.strip()[:40],
        plan=chosen_plan(production, plan),
    )  # fmt: skip
    sentence = f"Camera {letter} ({camera.name}) joined; plan '{plan}'."
    write("add camera", letter, sentence, person=person, production=production.pk)
    changed(Topic.SETUP, Topic.READERS, Topic.CARDS)
    return camera
