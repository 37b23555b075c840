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
