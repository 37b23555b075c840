from django.db import transaction

from ruggedraft.core.cards.media import is_timecode
from ruggedraft.core.choosing import IN_WORDS, MarkKind, excludes
from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import clip_in

from ..models import Mark

_LONGEST = 500


@transaction.atomic
def mark_clip(
    person: Person, roll: Roll, path: str, kind: MarkKind, *, words: str = "", timecode: str = ""
) -> Mark | None:
    """Say something of a clip. None where the same person said just that before, and it holds.

    path: of its main file, in the ledger's form. timecode: where, as HH:MM:SS:FF. Whoever keeps a clip drops it no
    more, and the other way round: one choice each.
    Raises NotThere for a path that is no clip's, ActRefused for what is no timecode and for trouble that nothing names.
    """
    require(person, May.NOTE, roll.production_id)
    file = clip_in(Roll.objects.select_for_update(no_key=True).get(pk=roll.pk), path)  # one mark at a time
    words, timecode = words.strip(), timecode.strip()
    _refuse_what_says_nothing(kind, words, timecode)
    if (other := excludes(kind)) is not None:
        for one in Mark.objects.filter(file=file, by=person, kind=other.value, withdrawn_at=None):
            _take_back(one, person)
    said = {"file": file, "by": person, "kind": kind.value, "withdrawn_at": None}
    at_all = {} if kind in _ONCE else {"words": words, "timecode": timecode}
    if Mark.objects.filter(**said, **at_all).exists():
        return None
    mark = Mark.objects.create(roll=roll, **said, words=words, timecode=timecode, at=now())
    where = f" at {timecode}" if timecode else ""
    more = f": {words}" if words else ""
    write("mark", roll.tag, f"{roll.tag}, {path}{where}: {IN_WORDS[kind]}{more}", person=person,
          production=roll.production_id)  # fmt: skip
    changed(Topic.MARKS, rolls=[roll.tag], production=roll.production_id)
    return mark


_ONCE = (MarkKind.KEEP, MarkKind.DROP, MarkKind.SEEN)


@transaction.atomic
def take_mark_back(person: Person, production: Production, mark_id: int) -> None:
    """A mark holds no more; whoever put it there may, and whoever may change the set-up. Nothing where it does not."""
    rows = Mark.objects.select_for_update(no_key=True, of=("self",)).select_related("roll", "file")
    mark = rows.filter(pk=mark_id, roll__production=production).first()
    if mark is None:
        raise NotThere("There is no such mark.")
    require(person, May.NOTE if mark.by_id == person.pk else May.SET_UP, production.pk)
    if mark.withdrawn_at is None:
        _take_back(mark, person)
        changed(Topic.MARKS, rolls=[mark.roll.tag], production=production.pk)


def _take_back(mark: Mark, person: Person) -> None:
    mark.withdrawn_at, mark.withdrawn_by = now(), person
    mark.save(update_fields=["withdrawn_at", "withdrawn_by"])
    words = f"{mark.roll.tag}, {mark.file.path}: not '{IN_WORDS[MarkKind(mark.kind)]}' any more"
    write("take mark back", mark.roll.tag, words, person=person, production=mark.roll.production_id)


def _refuse_what_says_nothing(kind: MarkKind, words: str, timecode: str) -> None:
    if timecode and not is_timecode(timecode):
        raise ActRefused(f"'{timecode}' is no timecode: say it as 10:04:07:12. Nothing was kept.")
    if kind is MarkKind.OTHER and not words:
        raise ActRefused("What is wrong with it needs a few words. Nothing was kept.")
    if len(words) > _LONGEST:
        raise ActRefused(f"A mark has at most {_LONGEST} signs: this one has {len(words):,}. Nothing was kept.")
