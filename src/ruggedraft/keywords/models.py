from django.conf import settings
from django.contrib.postgres.indexes import GinIndex
from django.contrib.postgres.search import SearchVector
from django.db import models

from ruggedraft.rolls.models import Copy, Roll, RollFile


class SaidAs(models.TextChoices):
    """What somebody says of a file. Of a keyword there may be many; of the others the last one holds."""

    KEYWORD = "keyword"
    CAPTION = "caption"
    RIGHTS = "rights"


TEXT_OF_SAYINGS = SearchVector("text", config="simple")
"""What is looked for in it, word by word as they stand; in this very form it is indexed."""


class Saying(models.Model):
    """Something that somebody says of a file, for whoever looks for it. No verdict rests on it.

    withdrawn_at: since when it does not hold any more
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="+")
    file = models.ForeignKey(RollFile, on_delete=models.PROTECT, related_name="sayings")
    what = models.CharField(max_length=10, choices=SaidAs)
    text = models.TextField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["file", "what", "text"], condition=models.Q(withdrawn_at=None), name="said_once"
            )
        ]
        indexes = [
            models.Index(fields=["roll", "withdrawn_at"], name="sayings_of_a_roll"),
            GinIndex(TEXT_OF_SAYINGS, name="saying_by_words"),
        ]


class Described(models.Model):
    """A file of which anything was ever said. changes: how often that changed: what was written may be behind it"""

    file = models.OneToOneField(RollFile, primary_key=True, on_delete=models.CASCADE, related_name="described")
    roll = models.ForeignKey(Roll, on_delete=models.CASCADE, related_name="+")
    changes = models.PositiveIntegerField(default=0)


class Beside(models.Model):
    """What is said of a file, written beside a copy: a `rolls.BesideCopy` of this path says what was left there.

    changes: as `Described` had it. version: as the roll had it. path: in the store's folder, in the ledger's form
    trouble: why nothing of it, or something older, lies there; empty where it does
    """

    copy = models.ForeignKey(Copy, on_delete=models.CASCADE, related_name="+", db_index=False)
    file = models.ForeignKey(RollFile, on_delete=models.CASCADE, related_name="beside")
    changes = models.PositiveIntegerField()
    version = models.BigIntegerField()
    path = models.TextField(blank=True)
    trouble = models.TextField(blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["copy", "file"], name="one_beside_each_copy")]
