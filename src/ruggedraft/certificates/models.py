from django.conf import settings
from django.db import models

from ruggedraft.productions.models import Production


class SigningKey(models.Model):
    """The public half of a key that certificates of a production are signed with: the last one is in use. Append-only.

    public: 32 bytes (Ed25519). The private half is in no database, see `certificates.keys`
    person: who wanted a new one; None for the first, which is made when it is needed
    """

    production = models.ForeignKey(Production, on_delete=models.PROTECT, related_name="signing_keys")
    public = models.BinaryField(max_length=32)
    since = models.DateTimeField()
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
