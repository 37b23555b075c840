from uuid import uuid4

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models

from ruggedraft.core.news import NewsKind
from ruggedraft.productions.models import Plan, Production


class News(models.Model):
    """Something that happened, and was told once. What it says was true when it was told.

    key: names the occurrence; over_at: since when it is not so any more. aside: it was there when telling began, and
    nobody was sent anything
    seen_by: who said first that they know. escalated_at: when others were told, as nobody had
    """

    uuid = models.UUIDField(default=uuid4, unique=True)
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="news")
    kind = models.CharField(max_length=20, choices=[(kind.value, kind.value) for kind in NewsKind])
    key = models.CharField(max_length=120)
    subject = models.CharField(max_length=120, blank=True)
    sentence = models.TextField()
    roll = models.BigIntegerField(default=0)
    at = models.DateTimeField()
    over_at = models.DateTimeField(null=True)
    aside = models.BooleanField(default=False)
    seen_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    seen_at = models.DateTimeField(null=True)
    escalated_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["production", "kind", "key"], condition=models.Q(over_at=None), name="told_once"
            )
        ]
        indexes = [models.Index(fields=["production", "-id"], name="news_of_a_production")]


class NewsRules(models.Model):
    """escalate_minutes: how long grave news may go unseen before supervisors and leads are told; None: for ever

    begun_at: since when news are told; what there was before is sent to nobody
    """

    production = models.OneToOneField(Production, on_delete=models.CASCADE, related_name="news_rules")
    escalate_minutes = models.PositiveSmallIntegerField(null=True, default=15)
    begun_at = models.DateTimeField(null=True)


class NewsChoice(models.Model):
    """What somebody wants to be told of in a production, and how.

    choices: `core.news.Choices` as data. quiet_from, quiet_until: hours by the production's clock; equal: none
    """

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="+")
    choices = models.JSONField(default=dict)
    quiet_from = models.PositiveSmallIntegerField(default=0)
    quiet_until = models.PositiveSmallIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "production"], name="one_choice_in_a_production")]


class Hook(models.Model):
    """Another program that is told. sealed: what it is signed with, of no use without the server's key.

    plan: it is told of rolls of its cameras alone, and of nothing that is about no roll; None: of everything
    """

    production = models.ForeignKey(Production, on_delete=models.CASCADE, related_name="hooks")
    name = models.CharField(max_length=80)
    address = models.CharField(max_length=500)
    kinds = ArrayField(models.CharField(max_length=20))
    plan = models.ForeignKey(Plan, null=True, on_delete=models.PROTECT, related_name="+")
    sealed = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)


class Sending(models.Model):
    """One message to one person by e-mail, or to one program. due_at: when it is tried next; None: no more

    tries: that failed. trouble: of the last one. escalation: it was sent as nobody had said that they know
    """

    news = models.ForeignKey(News, on_delete=models.CASCADE, related_name="sendings")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+")
    hook = models.ForeignKey(Hook, null=True, on_delete=models.CASCADE, related_name="sendings")
    escalation = models.BooleanField(default=False)
    due_at = models.DateTimeField(null=True)
    tries = models.PositiveSmallIntegerField(default=0)
    sent_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["news", "person", "hook", "escalation"], nulls_distinct=False, name="sent_once_to_each"
            )
        ]
        indexes = [models.Index(fields=["due_at"], condition=models.Q(due_at__isnull=False), name="sendings_due")]
