from django.db import models


class Media(models.Model):
    """What a recording's header says (`core.cards.media.MediaFacts` as data), and its embedded preview as JPEG.

    Never changes. Listed files refer to it, and so do files of rolls, which keep it when the card is formatted.
    It is for looking at: no verdict rests on it.
    """

    facts = models.JSONField()
    preview = models.BinaryField(null=True)
