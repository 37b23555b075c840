from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ruggedraft.intake.models import Card, CardListing
from ruggedraft.rolls.models import Roll


class Hold(models.Model):
    """A reason not to clear, whatever the copies say."""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="holds")
    reason = models.CharField(max_length=300)
    placed_at = models.DateTimeField()
    placed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    lifted_at = models.DateTimeField(null=True)
    lifted_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")


class Clearance(models.Model):
    """The signed decision that a card may be reused, with everything it was decided on.

    roll: by whose tag it was signed. rolls: all of which something was on the card

    evidence: rule, copies, files, waivers and signatures as they stood, for whoever asks later
    """

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="clearances")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="+")
    rolls = models.ManyToManyField(Roll, related_name="clearances")
    listing = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    evidence = models.JSONField()


class Signature(models.Model):
    """Somebody signed for a card, its copies and its account as shown. It stands for those only (`digest`)."""

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="signatures")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    digest = models.CharField(max_length=64)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["roll", "person", "digest"], name="sign_once")]


class SigningAsked(models.Model):
    """Somebody pressed the button to sign: from then on card and copies are looked at, and then it is decided."""

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    decided_at = models.DateTimeField(null=True)


class CardSummary(models.Model):
    """What is known of the files on a card, as the facts were that `key` names: remembered, so that lists of cards need
    not read every file. Not looked at once the facts have another key; nothing is signed by it.

    the rest: `card_rows.SummaryRow` as data
    """

    card = models.OneToOneField(Card, primary_key=True, on_delete=models.CASCADE, related_name="summary")
    key = models.TextField()
    rolls = ArrayField(models.BigIntegerField())
    cover = models.JSONField()
    entries = models.CharField(max_length=64)
    gone_open = models.BooleanField()
    gone_rolls = ArrayField(models.BigIntegerField())


class HandedBack(models.Model):
    """A cleared card was given back, though it was in no reader that could tell."""

    clearance = models.OneToOneField(Clearance, on_delete=models.PROTECT, related_name="handed_back")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
