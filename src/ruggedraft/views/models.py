from django.conf import settings
from django.db import models

from ruggedraft.productions.models import Production


class ViewOf(models.TextChoices):
    """Where somebody keeps a view."""

    TALLY = "tally"
    FIND = "find"


class SavedView(models.Model):
    """What somebody often narrows the Tally to, or asks Find. sought: as the API takes it there"""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="+")
    place = models.CharField(max_length=10, choices=ViewOf, default=ViewOf.TALLY)
    name = models.CharField(max_length=60)
    sought = models.JSONField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["person", "production", "place", "name"], name="one_view_of_a_name_each")
        ]


class LastLook(models.Model):
    """What somebody knows of the Tally. at: when they last said that they had looked

    states: by the id of each roll that they know of, how they saw it stand
    clearances, revocations: ids up to which they know of them; acts of one production follow each other
    """

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField()
    states = models.JSONField()
    clearances = models.BigIntegerField(default=0)
    revocations = models.BigIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "production"], name="one_look_in_a_production")]
