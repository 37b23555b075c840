from django.conf import settings
from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVector
from django.db import models

from ruggedraft.core.choosing import MarkKind
from ruggedraft.rolls.models import Roll, RollFile

TEXT_OF_MARKS = SearchVector("words", config="english")
"""What is looked for in it; in this very form it is indexed."""


class Mark(models.Model):
    """What somebody says of a clip. No verdict rests on it.

    file: the clip's main file. timecode: where in it, as HH:MM:SS:FF; empty: all of it
    withdrawn_at: since when it does not hold any more; the journal keeps it
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="marks")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="marks")
    kind = models.CharField(max_length=10, choices=[(one.value, one.value) for one in MarkKind])
    words = models.TextField(blank=True)
    timecode = models.CharField(max_length=11, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["file", "by", "kind", "timecode", "words"],
                condition=models.Q(withdrawn_at=None),
                name="nothing_said_twice",
            )
        ]
        indexes = [
            models.Index(fields=["roll", "withdrawn_at"], name="marks_of_a_roll"),
            GinIndex(TEXT_OF_MARKS, name="mark_by_words"),
        ]
