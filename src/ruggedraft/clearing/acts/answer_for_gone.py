from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card, GoneAnswer, GoneFile
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.gone import unanswered

from ..refusals import noted_when_refused


@noted_when_refused("answer for what is gone")
@transaction.atomic
def answer_for_gone(person: Person, card: Card, reason: str, *, count: int) -> GoneAnswer:
    """Answer for files that were on a card, are in no copy, and are not on it any more.

    count: how many the person was shown by name; if that is not so any more, nothing is answered
    """
    require(person, May.WAIVE, card.owner.production_id)
    hold_still(card.owner.production_id)
    if not reason.strip():
        raise ActRefused("Say what became of these files; your name stands beside it.")
    gone = unanswered([card]).get(card.pk, [])
    if len(gone) != count or not gone:
        raise ActRefused("What is gone from this card is not what you were shown any more: look again.")
    answer = GoneAnswer.objects.create(card=card, person=person, at=now(), reason=reason.strip()[:300])
    paths = [file.path for file in gone]
    GoneFile.objects.filter(card=card, answer=None, path__in=paths).update(answer=answer)
    sentence = f"{counted(len(paths), 'file')} gone from card {card.label}: {answer.reason}. {first_of(paths)}"
    write("answer for gone", card.label, sentence,
          person=person, detail={"paths": paths}, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, Topic.READERS, cards=[card.label], production=card.owner.production_id)
    return answer
