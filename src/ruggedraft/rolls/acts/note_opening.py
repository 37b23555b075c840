from django.db import transaction

from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still

from ..models import ClipOpening, Roll
from ..queries import clip_in


@transaction.atomic
def note_opening(person: Person, roll: Roll, path: str) -> bool:
    """Note that somebody opened a clip and looked at it; False if that person has before.

    path: of its main file, in the ledger's form; where nothing of the roll was understood as a clip, of any file.
    Raises NotThere for a path that is neither.
    """
    require(person, May.SEE_WORK, roll.production_id)
    hold_still(roll.production_id)
    file = clip_in(roll, path)
    opened = {"roll": roll, "at": now()}
    _, new = ClipOpening.objects.get_or_create(file=file, person=person, defaults=opened)
    if new:
        changed(Topic.ROLLS, Topic.CARDS, rolls=[roll.tag], production=roll.production_id)
    return new
