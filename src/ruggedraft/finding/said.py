"""What people wrote down and reported, by its words. PostgreSQL's own full text knows "focused" by "focus"."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from itertools import chain
from operator import attrgetter

from django.contrib.postgres.search import SearchQuery
from django.db.models import Q, QuerySet

from ruggedraft.camera_reports.models import TEXT_OF_LINES, ReportedLine
from ruggedraft.choosing.models import TEXT_OF_MARKS, Mark
from ruggedraft.core.choosing import MarkKind
from ruggedraft.keywords.models import TEXT_OF_SAYINGS, Saying
from ruggedraft.notes.models import TEXT_OF_NOTES, Note, NoteOn
from ruggedraft.productions.models import Production

from .words import Around

_MOST, _MOST_OF_FILES = 20, 5000


class SaidIn(StrEnum):
    """Where it was said."""

    NOTE = "note"
    MARK = "mark"
    REPORT = "report"


@dataclass(frozen=True)
class Said:
    """Something that was said, with what it is about.

    mark: of a mark, its kind. on, name: what it is about; of a report, the roll as the report calls it
    clip: path of the roll's file, or as the report calls it; empty: all of it. timecode: where in it, or empty
    by: who said it; of a report, its file
    """

    where: SaidIn
    words: str
    mark: MarkKind | None
    on: NoteOn
    name: str
    clip: str
    timecode: str
    by: str
    at: datetime


def said_with(production: Production, words: Sequence[str], around: Around) -> tuple[list[Said], bool]:
    """What holds every word, itself or in what it is about, the newest first; and whether there is more than these.

    At most twenty. Of each at least one word is its own, or its writer's name. What was withdrawn says nothing.
    """
    if not words:
        return [], False
    found = [*_notes(production, words, around), *_marks(production, words, around), *_lines(production, words)]
    found.sort(key=attrgetter("at"), reverse=True)
    return found[:_MOST], len(found) > _MOST


def files_said(production: Production, words: Iterable[str]) -> Mapping[str, Sequence[int]]:
    """By word, the ids of files of which somebody said it: in a note, with a mark, as a keyword, caption or rights.

    The last five thousand of each.
    """
    found = {}
    for word in words:
        notes = _noted(production).filter(_in_text(word), clip__isnull=False).values_list("clip", flat=True)
        marks = _marked(production).filter(_in_mark(word)).values_list("file", flat=True)
        sayings = _sayings(production).filter(Q(text_of=_begins_so(word, "simple"))).values_list("file", flat=True)
        said = (rows.order_by("-pk")[:_MOST_OF_FILES] for rows in (notes, marks, sayings))
        files = chain.from_iterable(said)
        found[word] = sorted(set(files))
    return found


def _notes(production: Production, words: Sequence[str], around: Around) -> Iterable[Said]:
    rows = _noted(production)
    for word in words:
        thing = Q(card__label__icontains=word) | Q(store__name__icontains=word) | Q(roll__in=around.of[word])
        rows = rows.filter(_in_text(word) | _said_by(word) | thing)
    rows = rows.filter(_any_of(_in_text(word) | _said_by(word) for word in words))
    for note in rows.select_related("roll", "clip", "card", "store", "by").order_by("-pk")[: _MOST + 1]:
        yield Said(
            SaidIn.NOTE, note.words, None, NoteOn(note.on), note.name, note.clip.path if note.clip else "", "",
            note.by.shown_name, note.at,
        )  # fmt: skip


def _marks(production: Production, words: Sequence[str], around: Around) -> Iterable[Said]:
    rows = _marked(production)
    for word in words:
        rows = rows.filter(_in_mark(word) | _said_by(word) | Q(roll__in=around.of[word]))
    rows = rows.filter(_any_of(_in_mark(word) | _said_by(word) for word in words))
    for mark in rows.select_related("roll", "file", "by").order_by("-pk")[: _MOST + 1]:
        yield Said(
            SaidIn.MARK, mark.words, MarkKind(mark.kind), NoteOn.ROLL, mark.roll.tag, mark.file.path, mark.timecode,
            mark.by.shown_name, mark.at,
        )  # fmt: skip


def _lines(production: Production, words: Sequence[str]) -> Iterable[Said]:
    rows = ReportedLine.objects.alias(text=TEXT_OF_LINES).filter(
        report__production=production, report__withdrawn_at=None
    )
    for word in words:
        rows = rows.filter(_in_text(word) | Q(roll__icontains=word))
    rows = rows.filter(_any_of(_in_text(word) for word in words))
    for line in rows.select_related("report").order_by("-pk")[: _MOST + 1]:
        said = ", ".join(part for part in (line.scene, line.take, line.remark) if part)
        yield Said(
            SaidIn.REPORT, said, None, NoteOn.ROLL, line.roll, line.clip, "", line.report.name, line.report.at,
        )  # fmt: skip


def _noted(production: Production) -> QuerySet[Note]:
    return Note.objects.alias(text=TEXT_OF_NOTES).filter(production=production, withdrawn_at=None)


def _marked(production: Production) -> QuerySet[Mark]:
    return Mark.objects.alias(text=TEXT_OF_MARKS).filter(roll__production=production, withdrawn_at=None)


def _sayings(production: Production) -> QuerySet[Saying]:
    return Saying.objects.alias(text_of=TEXT_OF_SAYINGS).filter(roll__production=production, withdrawn_at=None)


def _said_by(word: str) -> Q:
    """By somebody whose name begins so."""
    return Q(by__username=word) | Q(by__first_name__istartswith=word) | Q(by__last_name__istartswith=word)


def _in_mark(word: str) -> Q:
    kinds = [kind.value for kind in MarkKind if kind.value.replace("_", " ").startswith(word)]
    return _in_text(word) | Q(kind__in=kinds)


def _in_text(word: str) -> Q:
    return Q(text=_begins_so(word, "english"))


def _begins_so(word: str, config: str) -> SearchQuery:
    """That words begin so. No word can break the question: what is quoted is only read as text."""
    quoted = word.replace("\\", "\\\\").replace("'", "''")
    return SearchQuery(f"'{quoted}':*", config=config, search_type="raw")


def _any_of(found: Iterable[Q]) -> Q:
    either = Q()
    for one in found:
        either |= one
    return either
