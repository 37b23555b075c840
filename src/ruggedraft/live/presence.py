"""Which browsers show a production now."""

from datetime import timedelta
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from .messages import Topic
from .models import Presence
from .notify import changed

GONE_AFTER = timedelta(seconds=60)
"""A stream says at least each half minute that it is there; a server that died says nothing."""


@transaction.atomic
def note_here(stream: UUID, production: int, person: int | None, screen: str) -> None:
    """Say of a stream that it is there, once and again. person: id of whoever is signed in; screen: its name"""
    moment = timezone.now()
    if Presence.objects.filter(stream=stream, production=production).update(seen_at=moment):
        return
    Presence.objects.filter(seen_at__lt=moment - GONE_AFTER).delete()
    Presence.objects.update_or_create(
        stream=stream,
        defaults={
            "production": production, "person_id": person, "screen": screen, "came_at": moment, "seen_at": moment,
        },
    )  # fmt: skip
    changed(Topic.PRESENCE, production=production)


@transaction.atomic
def note_gone(stream: UUID) -> None:
    for one in Presence.objects.filter(stream=stream):
        one.delete()
        changed(Topic.PRESENCE, production=one.production)


def here_now(production: int) -> list[Presence]:
    """Who shows a production (id) now, whoever has been there longest first; with the people."""
    rows = Presence.objects.filter(production=production, seen_at__gt=timezone.now() - GONE_AFTER)
    return list(rows.select_related("person").order_by("came_at"))
