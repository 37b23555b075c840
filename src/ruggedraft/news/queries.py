"""What screens read about news."""

from ruggedraft.crew.models import Person
from ruggedraft.productions.models import Production

from .models import Hook, News, NewsChoice, NewsRules, Sending

_MOST = 60


def news_of(production: Production) -> list[News]:
    """The last ones, newest first, but for what was there when telling began."""
    rows = News.objects.filter(production=production, aside=False).select_related("seen_by").order_by("-pk")
    return list(rows[:_MOST])


def choice_of(person: Person, production: Production) -> NewsChoice:
    """What somebody chose; as everybody has it where they chose nothing, or nobody is signed in."""
    found = NewsChoice.objects.filter(person=person.pk, production=production).first()
    return found or NewsChoice(production=production)


def rules_of(production: Production) -> NewsRules:
    return NewsRules.objects.filter(production=production).first() or NewsRules(production=production)


def hooks_of(production: Production) -> list[Hook]:
    """Programs that are told, as long as they are."""
    return list(Hook.objects.filter(production=production, ended_at=None).select_related("by", "plan").order_by("pk"))


def last_sendings(hooks: list[Hook]) -> dict[int, Sending]:
    """The last thing that was sent, or is to be, to each program (id)."""
    rows = Sending.objects.filter(hook__in=hooks).order_by("hook_id", "-pk").distinct("hook_id")
    return {one.hook_id: one for one in rows if one.hook_id is not None}
