from django.conf import settings
from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVector
from django.db import models

from ruggedraft.intake.models import Card
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.stores.models import Store


class NoteOn(models.TextChoices):
    """What a note is about."""

    ROLL = "roll", "roll"
    CARD = "card", "card"
    STORE = "store", "store"
    DAY = "day", "day"


TEXT_OF_NOTES = SearchVector("words", config="english")
"""What is looked for in it; in this very form it is indexed."""


class Note(models.Model):
    """A few words about one thing of a production. No verdict rests on any: who wants a card kept places a hold.

    clip: of a roll, the file that it is about; None: all of it. mentions: people who are named in it, with an @
    withdrawn_at: since when it is not shown any more; its words stay in the journal
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="notes")
    on = models.CharField(max_length=10, choices=NoteOn)
    roll = models.ForeignKey(Roll, null=True, on_delete=models.PROTECT, related_name="notes")
    clip = models.ForeignKey(RollFile, null=True, on_delete=models.PROTECT, related_name="notes")
    card = models.ForeignKey(Card, null=True, on_delete=models.PROTECT, related_name="notes")
    store = models.ForeignKey(Store, null=True, on_delete=models.PROTECT, related_name="notes")
    day = models.DateField(null=True)
    words = models.TextField()
    mentions = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="mentioned_in")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        indexes = [
            models.Index(fields=["production", "withdrawn_at"], name="notes_of_a_production"),
            GinIndex(TEXT_OF_NOTES, name="note_by_words"),
        ]

    @property
    def name(self) -> str:
        """Of what it is about, as people call it."""
        if self.roll:
            return self.roll.tag
        if self.card:
            return self.card.label
        return self.store.name if self.store else str(self.day)
