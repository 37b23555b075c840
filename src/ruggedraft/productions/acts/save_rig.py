from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Production, Rig


@transaction.atomic
def save_rig(person: Person, production: Production, *, name: str, letters: Sequence[str], first_shot: int) -> Rig:
    """Say which cameras record the same action together, or change that."""
    require(person, May.PLAN, production.pk)
    Production.objects.select_for_update(no_key=True).get(pk=production.pk)
    cameras = list(Camera.objects.filter(production=production, letter__in=letters))
    if not name.strip() or len(cameras) < 2 or len(cameras) != len(set(letters)):
        raise ActRefused("A rig has a name and at least two cameras of this production.")
    taken = Rig.objects.filter(production=production, cameras__in=cameras).exclude(name=name.strip()).first()
    if taken:
        raise ActRefused(f"One of these cameras is in the rig '{taken.name}' already.")
    rig, _ = Rig.objects.update_or_create(
        production=production, name=name.strip()[:80], defaults={"first_shot": max(1, first_shot)}
    )
    rig.cameras.set(cameras)
    write(
        "save rig",
        rig.name,
        f"Rig '{rig.name}': {', '.join(sorted(letters))}.",
        person=person,
        production=production.pk,
    )
    changed(Topic.SETUP, Topic.READERS)
    return rig
