from django.db import transaction

from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..models import Camera, Production
from ..queries import chosen_plan


@transaction.atomic
def change_camera(person: Person, camera: Camera, *, name: str, kind: str, plan: str) -> Camera:
    """Change a camera's name, kind or plan. The letter stays: tags carry it."""
    require(person, May.PLAN, camera.production_id)
    Production.objects.select_for_update(no_key=True).get(pk=camera.production_id)
    camera.name, camera.kind = name.strip()[:80], kind.strip()[:40]
    camera.plan = chosen_plan(camera.production, plan)
    camera.save(update_fields=["name", "kind", "plan"])
    sentence = f"Camera {camera.letter} ({camera.name}) was changed; plan '{plan}'."
    write("change camera", camera.letter, sentence, person=person, production=camera.production_id)
    changed(Topic.SETUP, Topic.READERS, Topic.CARDS)
    return camera
