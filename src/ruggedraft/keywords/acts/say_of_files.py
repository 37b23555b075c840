from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from django.db import transaction
from django.db.models import F

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.wording import counted, first_of, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import RollFile

from ..models import Described, SaidAs, Saying

_MOST_FILES, _MOST_WORDS = 1000, 50
_LONGEST = {SaidAs.KEYWORD: 64, SaidAs.CAPTION: 2000, SaidAs.RIGHTS: 500}
_CALLED = {SaidAs.KEYWORD: "A keyword", SaidAs.CAPTION: "A caption", SaidAs.RIGHTS: "A line of rights"}


@dataclass(frozen=True)
class Says:
    """What is to be said of files. add, remove: keywords. caption, rights: empty: none any more; None: as they are"""

    add: Sequence[str] = ()
    remove: Sequence[str] = ()
    caption: str | None = None
    rights: str | None = None


@transaction.atomic
def say_of_files(person: Person, production: Production, files: Sequence[tuple[str, str]], says: Says) -> int:
    """Say something of many files at once, each by its roll's tag and its path, in the ledger's form.

    What is said already stays as it was said. Returns of how many files something changed. Raises ActRefused, NotThere.
    """
    require(person, May.NOTE, production.pk)
    hold_still(production.pk)
    add, remove = _keywords(says.add), _keywords(says.remove)
    one = {SaidAs.CAPTION: says.caption, SaidAs.RIGHTS: says.rights}
    of_one = {what: _checked(what, text) for what, text in one.items() if text is not None}
    if not any((add, remove, of_one)):
        raise ActRefused("Say a keyword, a caption or whose rights they are. Nothing was changed.")
    rows = _files(production, files)
    touched = _withdraw(person, rows, remove, of_one) | _add(person, rows, add, of_one)
    changed_files = [file for file in rows if file.pk in touched]
    if changed_files:
        _count_changes(changed_files)
        tags = sorted({file.roll.tag for file in changed_files})
        write("say of files", first_of(tags, 3), _in_words(len(touched), tags, add, remove, of_one), person=person,
              production=production.pk)  # fmt: skip
        changed(Topic.MARKS, rolls=tags, production=production.pk)
    return len(touched)


def _count_changes(files: Sequence[RollFile]) -> None:
    Described.objects.bulk_create((Described(file=one, roll_id=one.roll_id) for one in files), ignore_conflicts=True)
    Described.objects.filter(file__in=files).update(changes=F("changes") + 1)


def _keywords(words: Iterable[str]) -> list[str]:
    found = list(dict.fromkeys(_checked(SaidAs.KEYWORD, word) for word in words if word.strip()))
    if len(found) > _MOST_WORDS:
        raise ActRefused(f"At most {_MOST_WORDS} keywords at once: these are {len(found)}. Nothing was changed.")
    return found


def _checked(what: SaidAs, text: str) -> str:
    """Keywords in small letters, so that one word is one. A comma ends a keyword wherever such are read."""
    text = text.strip() if what is SaidAs.CAPTION else one_line(text)
    if len(text) > _LONGEST[what]:
        raise ActRefused(f"{_CALLED[what]} has at most {_LONGEST[what]:,} signs. Nothing was changed.")
    if what is SaidAs.KEYWORD and "," in text:
        raise ActRefused(f"'{text}' is several keywords: say them one by one. Nothing was changed.")
    return text.lower() if what is SaidAs.KEYWORD else text


def _files(production: Production, files: Sequence[tuple[str, str]]) -> list[RollFile]:
    if not 0 < len(files) <= _MOST_FILES:
        raise ActRefused(f"Choose from one to {_MOST_FILES:,} files: these are {len(files):,}. Nothing was changed.")
    by_tag: dict[str, set[str]] = {}
    for tag, path in files:
        by_tag.setdefault(tag, set()).add(path)
    rows = list(
        RollFile.objects.filter(
            roll__production=production, roll__tag__in=by_tag, path__in={path for _, path in files}
        ).select_related("roll")
    )
    found = [row for row in rows if row.path in by_tag[row.roll.tag]]
    missing = {(tag, path) for tag, path in files} - {(row.roll.tag, row.path) for row in found}
    if missing:
        tag, path = min(missing)
        raise NotThere(f"There is no file {path} in {tag}. Nothing was changed.")
    return found


def _holding(files: Iterable[RollFile]) -> "dict[tuple[int, str, str], Saying]":
    rows = Saying.objects.filter(file__in=list(files), withdrawn_at=None)
    return {(row.file_id, row.what, row.text): row for row in rows}


def _withdraw(person: Person, files: Sequence[RollFile], remove: Sequence[str], one: Mapping[SaidAs, str]) -> set[int]:
    """Ids of files of which something holds no more."""
    gone = [
        row
        for row in _holding(files).values()
        if (row.what == SaidAs.KEYWORD and row.text in remove)
        or (row.what in one and row.text != one[SaidAs(row.what)])
    ]
    ids = [row.pk for row in gone]
    Saying.objects.filter(pk__in=ids).update(withdrawn_at=now(), withdrawn_by=person)
    return {row.file_id for row in gone}


def _add(person: Person, files: Sequence[RollFile], add: Sequence[str], one: Mapping[SaidAs, str]) -> set[int]:
    """Ids of files of which something is said that was not."""
    holding, at = _holding(files), now()
    wanted = [(SaidAs.KEYWORD, word) for word in add] + [(what, text) for what, text in one.items() if text]
    new = [
        Saying(roll_id=file.roll_id, file=file, what=what, text=text, by=person, at=at)
        for file in files
        for what, text in wanted
        if (file.pk, what.value, text) not in holding
    ]
    Saying.objects.bulk_create(new, batch_size=2000)
    return {row.file_id for row in new}


def _in_words(
    count: int, tags: Sequence[str], add: Sequence[str], remove: Sequence[str], one: Mapping[SaidAs, str]
) -> str:
    said = [
        *([f"keywords {first_of(add, 10)}"] if add else []),
        *([f"not {first_of(remove, 10)} any more"] if remove else []),
        *(f"{what.value} '{text}'" if text else f"no {what.value} any more" for what, text in one.items()),
    ]
    return f"Of {counted(count, 'file')} of {first_of(tags, 3)}: {'; '.join(said)}."
