from django.conf import settings
from django.db import models

from ruggedraft.core.accounts import AccountOn
from ruggedraft.productions.models import Production


class Edition(models.Model):
    """An account as it was handed out. Append-only: later facts make another one, which names this one.

    about: a roll's tag, a card's label, a store's name, or a day
    facts: `core.accounts.Account` as JSON, compressed (zlib, RFC 1950). sha256: of that JSON; the journal holds it too
    head, seal: of the journal, when it was made
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="account_editions")
    on = models.CharField(max_length=8, choices=[(one.value, one.value) for one in AccountOn])
    about = models.CharField(max_length=80)
    number = models.PositiveIntegerField()
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    sha256 = models.CharField(max_length=64)
    facts = models.BinaryField()
    head = models.BigIntegerField()
    seal = models.CharField(max_length=64, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["production", "on", "about", "number"], name="edition_number_once")
        ]


class Paper(models.Model):
    """An edition as PDF: being made, made, or the reason why not. It can be made again, and is the same then.

    done, of: files that stand on it by now, of how many. content: None until it is `made`. trouble: a sentence
    """

    edition = models.OneToOneField(Edition, on_delete=models.CASCADE, primary_key=True, related_name="paper")
    asked_at = models.DateTimeField()
    done = models.PositiveIntegerField(default=0)
    of = models.PositiveIntegerField(default=0)
    content = models.BinaryField(null=True)
    made = models.BooleanField(default=False)
    trouble = models.CharField(max_length=300, blank=True)
