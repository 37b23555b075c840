from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import AbstractUser
from django.db import models


class Role(models.TextChoices):
    """What somebody is on the crew of one production; `permissions` says what they may do by it."""

    WRANGLER = "wrangler", "wrangler"
    LEAD = "lead", "lead wrangler"
    ASSISTANT = "assistant", "camera assistant"
    SUPERVISOR = "supervisor", "supervisor"
    CLIENT = "client", "client"


class _WithoutPasswords(models.Manager["Person"]):
    """How other rows reach the person they name: stations on other machines may not read what passwords became."""

    def get_queryset(self) -> models.QuerySet["Person"]:
        return super().get_queryset().defer("password")


class Person(AbstractUser):
    """Somebody who signs in. What they may do follows from their roles alone, one in each production they work for."""

    known = _WithoutPasswords()

    class Meta(AbstractUser.Meta):
        base_manager_name = "known"
        default_manager_name = "objects"

    def refresh_from_db(
        self, using: str | None = None, fields: Iterable[str] | None = None, from_queryset: Any = None
    ) -> None:
        """With the password too, unlike `known`."""
        everything = Person.objects.all() if from_queryset is None else from_queryset
        super().refresh_from_db(using, fields, everything)

    @property
    def shown_name(self) -> str:
        return shown_name(self.username, self.first_name, self.last_name)


def shown_name(username: str, first_name: str, last_name: str) -> str:
    """What a person is called on every screen."""
    return f"{first_name} {last_name}".strip() or username


class Membership(models.Model):
    """Somebody is on the crew of a production. off_since: since when they are not any more; they may do nothing."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="memberships")
    production = models.ForeignKey("productions.Production", on_delete=models.CASCADE, related_name="crew")
    role = models.CharField(max_length=20, choices=Role)
    off_since = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "production"], name="one_role_in_a_production")]


class Invitation(models.Model):
    """A link that somebody may join by, or choose a new password by, once and for a while.

    secret: SHA-256 of what the link carries. person: whose password it changes; None: it lets somebody onto the crew of
    `production`, as `role`. ended_at: when it was used, taken back, or followed by a newer one
    """

    secret = models.CharField(max_length=64, unique=True)
    production = models.ForeignKey("productions.Production", null=True, on_delete=models.CASCADE, related_name="+")
    role = models.CharField(max_length=20, choices=Role, blank=True)
    person = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="password_links")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="invitations")
    at = models.DateTimeField()
    until = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)


class Pin(models.Model):
    """What somebody says who they are with at a shared screen. Apart from people: no station may read what it became.

    hashed: as passwords are
    """

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="pin")
    hashed = models.CharField(max_length=128)
    set_at = models.DateTimeField()


class SharedScreen(models.Model):
    """A browser at the cart that shows a production with nobody signed in. Whoever acts on it says who they are.

    secret: SHA-256 of what its cookie carries. ended_at: since when it shows nothing any more
    """

    production = models.ForeignKey("productions.Production", on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=60)
    secret = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)


class PinTry(models.Model):
    """Somebody said at a screen who they are, rightly or not."""

    screen = models.ForeignKey(SharedScreen, on_delete=models.CASCADE, related_name="tries")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField()
    right = models.BooleanField()

    class Meta:
        indexes = [models.Index(fields=["person", "at"], name="tries_of_a_person")]
