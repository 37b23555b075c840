from django.db import models


class Gear(models.Model):
    """Camera and lens of recordings, as `core.cards.media.MediaFacts.gear` has them: there are few, to be found by."""

    name = models.TextField(unique=True)


class Media(models.Model):
    """What a recording's header says (`core.cards.media.MediaFacts` as data), and its embedded preview as JPEG.

    Never changes. Listed files refer to it, and so do files of rolls, which keep it when the card is formatted.
    It is for looking at: no verdict rests on it. gear: None where the header names none
    """

    facts = models.JSONField()
    preview = models.BinaryField(null=True)
    gear = models.ForeignKey(Gear, null=True, on_delete=models.PROTECT, related_name="media")
