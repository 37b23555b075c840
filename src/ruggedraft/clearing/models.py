from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ruggedraft.core.redundancy import HoldEnd
from ruggedraft.core.runs import RunKind
from ruggedraft.intake.models import Card, CardListing
from ruggedraft.productions.models import Camera
from ruggedraft.rolls.models import Roll
from ruggedraft.runs.models import Run


class Hold(models.Model):
    """A reason not to clear, whatever the copies say, on a roll, on a card, or on whatever a camera shoots.

    ends, until: what ends it beside somebody lifting it; see `core.redundancy.HoldEnd`
    refusal: it came of somebody's refusing to sign
    """

    roll = models.ForeignKey(Roll, null=True, on_delete=models.PROTECT, related_name="holds")
    card = models.ForeignKey(Card, null=True, on_delete=models.PROTECT, related_name="holds")
    camera = models.ForeignKey(Camera, null=True, on_delete=models.PROTECT, related_name="holds")
    ends = models.CharField(
        max_length=20, default=HoldEnd.LIFTED.value, choices=[(end.value, end.value) for end in HoldEnd]
    )
    until = models.DateTimeField(null=True)
    refusal = models.BooleanField(default=False)
    reason = models.CharField(max_length=300)
    placed_at = models.DateTimeField()
    placed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    lifted_at = models.DateTimeField(null=True)
    lifted_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    lifted_why = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=(
                    models.Q(roll__isnull=False, card=None, camera=None)
                    | models.Q(roll=None, card__isnull=False, camera=None)
                    | models.Q(roll=None, card=None, camera__isnull=False)
                ),
                name="hold_is_on_one_thing",
            ),
            models.CheckConstraint(
                condition=models.Q(until=None) ^ models.Q(ends=HoldEnd.DATE.value), name="hold_by_date_has_one"
            ),
        ]

    @property
    def on(self) -> str:
        """What it is on, as people call it."""
        if self.roll:
            return self.roll.tag
        return f"card {self.card.label}" if self.card else f"camera {self.camera.letter}" if self.camera else ""

    @property
    def subject(self) -> str:
        """The same as the journal names it."""
        return self.card.label if self.card else self.on

    @property
    def production_id(self) -> int:
        """Of what it is on."""
        if self.roll:
            return self.roll.production_id
        camera = self.card.owner if self.card else self.camera
        if camera is None:
            raise LookupError("a hold is on a roll, a card or a camera")
        return camera.production_id


class Clearance(models.Model):
    """The signed decision that a card may be reused, with everything it was decided on.

    roll: by whose tag it was signed. rolls: all of which something was on the card

    evidence: everything it was decided on as it stood, in words and numbers, for whoever asks in ten years
    files: every file on the card then, as `clearing.evidence` packs them; None for one of an earlier version
    """

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="clearances")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="+")
    rolls = models.ManyToManyField(Roll, related_name="clearances")
    listing = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    evidence = models.JSONField()
    files = models.BinaryField(null=True)


class Revocation(models.Model):
    """Somebody took a clearance back. What it was decided on stays written.

    out: the card had gone out as cleared by then. listing: the last one that there was of it
    """

    clearance = models.OneToOneField(Clearance, on_delete=models.PROTECT, related_name="revocation")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    reason = models.CharField(max_length=300)
    out = models.BooleanField()
    listing = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")


class Signature(models.Model):
    """Somebody signed for a card, its copies and its account as shown. It stands for those only (`digest`).

    seen: what was shown, as `core.redundancy.Seen` data, so that the next to sign is told what changed
    session: SHA-256 of the session that it was made in
    revocation: the last one of the card's clearances then: it stands only as long as that is the last
    """

    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="signatures")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    digest = models.CharField(max_length=64)
    seen = models.JSONField(default=dict)
    session = models.CharField(max_length=64, blank=True)
    revocation = models.ForeignKey(Revocation, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["roll", "person", "digest", "revocation"], nulls_distinct=False, name="sign_once_a_clearance"
            )
        ]


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


class Removal(Run):
    """Files of a card that are safe elsewhere are taken off it, one by one, each compared with a copy.

    listing: what the person was shown; nothing that came since is taken. second: who else wanted it, where two must
    """

    KIND = RunKind.REMOVAL

    run = models.OneToOneField(Run, on_delete=models.CASCADE, parent_link=True, primary_key=True, related_name="+")
    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="removals")
    listing = models.ForeignKey(CardListing, on_delete=models.PROTECT, related_name="+")
    second = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")


class RemovalAsked(models.Model):
    """Somebody wants files taken off a card, and the rule asks for a second person.

    digest: of what they were shown. removal: the one that came of it
    """

    card = models.ForeignKey(Card, on_delete=models.PROTECT, related_name="+")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    digest = models.CharField(max_length=64)
    removal = models.ForeignKey(Removal, null=True, on_delete=models.PROTECT, related_name="+")


class RemovedFile(models.Model):
    """A file that is being taken off a card. Written before it goes, so that an end in the middle leaves no doubt.

    store: with whose copy it was compared. removed_at: None while it was not, or it is not known. trouble: why it stays
    """

    removal = models.ForeignKey(Removal, on_delete=models.PROTECT, related_name="files")
    roll = models.ForeignKey(Roll, on_delete=models.PROTECT, related_name="removed")
    path = models.TextField()
    size = models.BigIntegerField()
    store = models.CharField(max_length=80)
    removed_at = models.DateTimeField(null=True)
    trouble = models.TextField(blank=True)


class HandedBack(models.Model):
    """A cleared card was given back: to whom, where somebody said, and when, where no reader could tell.

    after: the card's last stay in a reader then; once it is here again, it is with nobody any more
    """

    clearance = models.ForeignKey(Clearance, on_delete=models.PROTECT, related_name="handed_back")
    after = models.BigIntegerField(default=0)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    to = models.CharField(max_length=80, blank=True)


class ClearedElsewhere(models.Model):
    """A clearance that was signed in the ledger of a unit away. It says that its card may be erased by now, so that its
    rolls live on their stores alone; it clears nothing here.

    unit: the unit's name. card: as it is called there. evidence, files: as in `Clearance`. revoked: by whom and why
    """

    unit = models.CharField(max_length=80)
    card = models.CharField(max_length=40)
    rolls = models.ManyToManyField(Roll, related_name="cleared_elsewhere")
    at = models.DateTimeField()
    evidence = models.JSONField()
    files = models.BinaryField(null=True)
    revoked = models.TextField(blank=True)
