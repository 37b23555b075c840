from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import Waiver
from ..remaining import left_on


@transaction.atomic
def waive_left_behind(person: Person, card: Card, reason: str, *, count: int) -> int:
    """Say of every file that was left on a card on purpose, by name, that it need not be covered.

    count: how many the person was shown; if that is not so any more, nothing is waived
    """
    require(person, May.WAIVE)
    Production.objects.select_for_update().get(pk=card.camera.production_id)
    if not reason.strip():
        raise ActRefused("A waiver needs a reason.")
    files = left_on(card)
    if len(files) != count or not files:
        raise ActRefused("What was left behind on this card is not what you were shown any more: look again.")
    Waiver.objects.bulk_create(
        Waiver(
            card=card, path=file.path, size=file.size, modified_ns=file.modified_ns, reason=reason.strip()[:300],
            at=now(), person=person,
        )
        for file in files
    )  # fmt: skip
    names = ", ".join(file.path for file in files[:20]) + (" …" if len(files) > 20 else "")
    write("waive", card.label, f"{len(files):,} files left on card {card.label} need not be covered: {reason}. {names}",
          person=person, detail={"paths": [file.path for file in files]})  # fmt: skip
    changed("cards")
    return len(files)
