from django.conf import settings
from django.db import models

from ruggedraft.productions.models import Production


class MatterKind(models.TextChoices):
    """What somebody takes over, in the order in which it is told."""

    WRONG = "wrong", "what is wrong"
    RUNS = "runs", "what runs"
    WAITS = "waits", "what waits"
    CARD = "card", "which cards are where"
    NOTE = "note", "notes"
    WORDS = "words", "what else to know"


class Handover(models.Model):
    """Somebody ended their shift, and said how things stood."""

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="handovers")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()


class Matter(models.Model):
    """One thing that was handed over, as it stood at that moment. It stays open until somebody takes it over, by name.

    subject: a roll's tag, a card's label, a store's or a station's name; empty where it is none of these
    """

    handover = models.ForeignKey(Handover, on_delete=models.PROTECT, related_name="matters")
    kind = models.CharField(max_length=10, choices=MatterKind)
    subject = models.CharField(max_length=120, blank=True)
    sentence = models.TextField()
    accepted_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    accepted_at = models.DateTimeField(null=True)
