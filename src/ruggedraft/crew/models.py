from django.contrib.auth.models import AbstractUser
from django.db import models


class Role(models.TextChoices):
    WRANGLER = "wrangler", "wrangler"
    ASSISTANT = "assistant", "camera assistant"
    SUPERVISOR = "supervisor", "supervisor"


class Person(AbstractUser):
    """Somebody who signs in. What they may do follows from their role alone; see `permissions`."""

    role = models.CharField(max_length=20, choices=Role, default=Role.ASSISTANT)

    @property
    def shown_name(self) -> str:
        return shown_name(self.username, self.first_name, self.last_name)


def shown_name(username: str, first_name: str, last_name: str) -> str:
    """What a person is called on every screen."""
    return f"{first_name} {last_name}".strip() or username


class Invitation(models.Model):
    """A link that somebody may join by, or choose a new password by, once and for a while.

    secret: SHA-256 of what the link carries. person: whose password it changes; None: it makes an account with `role`
    ended_at: when it was used, taken back, or followed by a newer one
    """

    secret = models.CharField(max_length=64, unique=True)
    role = models.CharField(max_length=20, choices=Role)
    person = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="password_links")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="invitations")
    at = models.DateTimeField()
    until = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
