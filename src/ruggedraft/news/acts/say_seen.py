from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import News


@transaction.atomic
def say_seen(person: Person, production: Production, ids: Sequence[int]) -> int:
    """Say that one knows of these news, so that nobody else is told. Returns of how many it was said first."""
    require(person, May.NOTE, production.pk)
    rows = list(News.objects.select_for_update(no_key=True).filter(production=production, pk__in=ids))
    if len(rows) != len(set(ids)) or not rows:
        raise ActRefused("There is no such news here.")
    fresh = [one for one in rows if one.seen_at is None]
    for one in fresh:
        one.seen_by, one.seen_at = person, now()
    News.objects.bulk_update(fresh, ["seen_by", "seen_at"])
    if fresh:
        named = first_of(list(dict.fromkeys(one.subject for one in fresh)), 8)
        words = f"{person.shown_name} has seen {counted(len(fresh), 'piece')} of news: {named}."
        write("see news", named[:200], words, person=person, production=production.pk)
        changed(Topic.NEWS, production=production.pk)
    return len(fresh)
