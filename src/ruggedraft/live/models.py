from django.conf import settings
from django.db import models


class Presence(models.Model):
    """A browser that hears what happens in a production now. It goes with its stream, or once it was not seen lately.

    production: id of the one that its page shows. person: who is signed in there; None: it is a shared screen, `screen`
    """

    stream = models.UUIDField(primary_key=True)
    production = models.BigIntegerField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+")
    screen = models.CharField(max_length=60, blank=True)
    came_at = models.DateTimeField()
    seen_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["production", "seen_at"], name="who_is_here")]
