from django.conf import settings
from django.db import models


class JournalEntry(models.Model):
    """One act. Rows are only ever added: the database refuses to change or delete them (migration 0002).

    production: id of the one it happened in; None where it concerns all of them
    seal: SHA-256 over the row and the seal before it, so that tampering by other means shows.
    """

    at = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    origin = models.CharField(max_length=80)
    production = models.BigIntegerField(null=True)
    act = models.CharField(max_length=40)
    subject = models.CharField(max_length=200)
    sentence = models.TextField()
    detail = models.JSONField(default=dict)
    seal = models.CharField(max_length=64, unique=True)

    class Meta:
        ordering = ["-id"]
