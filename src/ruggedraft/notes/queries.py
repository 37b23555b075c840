"""What screens read about notes."""

from datetime import date

from django.db.models import QuerySet

from ruggedraft.crew.models import Person
from ruggedraft.productions.models import Production

from .models import Note

MOST = 500


def notes_of(production: Production) -> list[Note]:
    """Those that are shown, newest first, at most the last 500."""
    return list(_shown(production)[:MOST])


def notes_of_day(production: Production, day: date) -> list[Note]:
    """Those that are about a shoot day, or about a roll of it, oldest first."""
    shown = _shown(production)
    return list((shown.filter(day=day) | shown.filter(roll__shoot_day=day)).order_by("pk"))


def is_for(note: Note, person: Person) -> bool:
    """Whether somebody is named in it. note: of `notes_of`"""
    return person in note.mentions.all()


def _shown(production: Production) -> QuerySet[Note]:
    rows = Note.objects.filter(production=production, withdrawn_at=None).order_by("-pk")
    return rows.select_related("roll", "clip", "card", "store", "by").prefetch_related("mentions")
