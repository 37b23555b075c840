from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.days.acts.freeze_days import freeze_days
from ruggedraft.days.queries import digest_of
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production

from ..models import Handover, Matter, MatterKind
from ..standing import how_things_stand

_LONGEST = 4000


@transaction.atomic
def hand_over(person: Person, production: Production, words: str = "") -> Handover:
    """End a shift: how things stand is kept as it is at this moment, each thing to be taken over by somebody else.

    So is the day's account, and the last day's, if it ended since: what comes later is marked as later.
    words: what else to know, a line for each
    """
    require(person, May.HAND_OVER, production.pk)
    hold_still(production.pk)
    if len(words) > _LONGEST:
        raise ActRefused(f"At most {_LONGEST:,} signs are kept: put the rest into notes.")
    handover = Handover.objects.create(production=production, by=person, at=now())
    matters = [Matter(handover=handover, kind=one.kind, subject=one.subject[:120], sentence=one.sentence)
               for one in how_things_stand(production)]  # fmt: skip
    lines = [line.strip() for line in words.splitlines() if line.strip()]
    matters += [Matter(handover=handover, kind=MatterKind.WORDS, sentence=line) for line in lines]
    if not matters:
        matters = [Matter(handover=handover, kind=MatterKind.WORDS, sentence="Nothing is open.")]
    Matter.objects.bulk_create(matters)
    sentence = f"{person.shown_name} handed over {counted(len(matters), 'thing')}."
    kept = freeze_days(person, production)
    write("hand over", production.name, sentence, person=person, production=production.pk,
          detail={"accounts": [digest_of(one) for one in kept]})  # fmt: skip
    changed(Topic.SHIFTS, production=production.pk)
    return handover


@transaction.atomic
def take_over(person: Person, production: Production, matters: Sequence[int]) -> int:
    """Read and taken over, by name. Returns how many; those that somebody else took over meanwhile are left alone.

    matters: ids. Raises ActRefused for one that is not there, and for what the person handed over themselves.
    """
    require(person, May.HAND_OVER, production.pk)
    rows = Matter.objects.select_for_update(no_key=True, of=("self",)).select_related("handover")
    wanted = list(rows.filter(pk__in=matters, handover__production=production))
    if len(wanted) != len(set(matters)) or not wanted:
        raise ActRefused("There is no such thing to take over any more: look again.")
    if any(one.handover.by_id == person.pk for one in wanted):
        raise ActRefused("You handed this over yourself: somebody else takes it over.")
    fresh = [one for one in wanted if one.accepted_at is None]
    for one in fresh:
        one.accepted_by, one.accepted_at = person, now()
    Matter.objects.bulk_update(fresh, ["accepted_by", "accepted_at"])
    if fresh:
        words = f"{person.shown_name} took over {counted(len(fresh), 'thing')}: {_named(fresh)}."
        write("take over", production.name, words, person=person, production=production.pk,
              detail={"matters": [one.pk for one in fresh]})  # fmt: skip
    changed(Topic.SHIFTS, production=production.pk)
    return len(fresh)


def _named(matters: Sequence[Matter]) -> str:
    named = list(dict.fromkeys(one.subject or MatterKind(one.kind).label for one in matters))
    return ", ".join(named[:12]) + (" and more" if len(named) > 12 else "")
