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
        return self.get_full_name() or self.username
