from django.db import transaction
from django.db.models import F, QuerySet

from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Roll, RollFile, Take

from ..due import recordings
from ..models import DecodingAsked


def ask_as_plans_do() -> int:
    """Have recordings of rolls decoded of which their cameras' plans want it, each asked for once; how many rolls.

    In the name of whoever had the roll taken last. Rolls that were begun before the plan said so are left alone.
    """
    wanted = Roll.objects.filter(
        camera__plan__decodes_since__lte=F("opened_at"), decoding_asked=None, pk__in=_read().values("roll")
    )
    return sum(_ask(roll) for roll in wanted.select_related("camera__plan").order_by("pk"))


def _read() -> QuerySet[RollFile]:
    return recordings().exclude(checksum="")


@transaction.atomic
def _ask(roll: Roll) -> bool:
    """Another station may have done it meanwhile."""
    person = Take.objects.filter(roll=roll).select_related("person").latest("pk").person
    _, new = DecodingAsked.objects.get_or_create(roll=roll, defaults={"by": person, "at": now()})
    if new:
        words = f"The recordings of {roll.tag} are to be decoded, every frame, as plan '{roll.camera.plan.name}' says."
        write("ask decoding", roll.tag, words, person=None, production=roll.production_id)
        changed(Topic.PICTURES, rolls=[roll.tag], production=roll.production_id)
    return new
