"""Telling what happened: once each, to those who want to know."""

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Q

from ruggedraft.core.news import GRAVE, Choices, Happening, NewsKind, Quiet, Way, fresh_and_over, ways_of
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.permissions import MAY, May
from ruggedraft.journal.clock import now
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production
from ruggedraft.productions.queries import productions

from .happening import happenings
from .models import Hook, News, NewsChoice, NewsRules, Sending


def tell_everywhere() -> None:
    """In every production that is open."""
    for production in productions():
        if production.closed_at is None:
            tell_news(production)
            escalate(production)


def tell_news(production: Production) -> list[News]:
    """Note what is new and what is over, and put what is to be sent in line. Nothing is told twice."""
    return _noted(production, happenings(production))


@transaction.atomic
def _noted(production: Production, found: Sequence[Happening]) -> list[News]:
    NewsRules.objects.get_or_create(production=production)
    rules = NewsRules.objects.select_for_update(no_key=True).get(production=production)  # one process at a time
    first = rules.begun_at is None
    if first:
        rules.begun_at = now()
        rules.save(update_fields=["begun_at"])
    open_ones = {(NewsKind(one.kind), one.key): one for one in News.objects.filter(production=production, over_at=None)}
    fresh, over = fresh_and_over(found, open_ones.keys())
    if over:
        News.objects.filter(pk__in=[open_ones[key].pk for key in over]).update(over_at=now())
    told = News.objects.bulk_create(_row(production, one, aside=first) for one in fresh)
    if not first:
        for one in told:
            _put_in_line(production, one)
    if told or over:
        changed(Topic.NEWS, production=production.pk)
    return told


def _row(production: Production, one: Happening, *, aside: bool) -> News:
    return News(
        production=production, kind=one.kind.value, key=one.key[:120], subject=one.subject[:120],
        sentence=one.sentence, roll=one.roll, at=now(), aside=aside,
    )  # fmt: skip


def _put_in_line(production: Production, news: News) -> None:
    moment, kind = now(), NewsKind(news.kind)
    sendings = [Sending(news=news, hook=hook, due_at=moment) for hook in _hooks(production, news)]
    for person, choices, quiet in _crew(production):
        if person.email and Way.MAIL in ways_of(choices, kind):
            sendings.append(Sending(news=news, person=person, due_at=_due(production, quiet, moment)))
    Sending.objects.bulk_create(sendings, ignore_conflicts=True)


def _hooks(production: Production, news: News) -> Iterable[Hook]:
    hooks = Hook.objects.filter(production=production, ended_at=None, kinds__contains=[news.kind])
    return hooks.filter(Q(plan=None) | Q(plan__cameras__rolls=news.roll)).distinct()


def _crew(production: Production) -> Iterable[tuple[Person, Choices, Quiet]]:
    """Those on the crew who see the work at the cart, each with what they chose."""
    chosen = {one.person_id: one for one in NewsChoice.objects.filter(production=production)}
    for one in Membership.objects.filter(production=production, off_since=None).select_related("person"):
        if May.SEE_WORK in MAY[Role(one.role)]:
            mine = chosen.get(one.person_id) or NewsChoice()
            yield one.person, choices_of(mine), Quiet(mine.quiet_from, mine.quiet_until)


def choices_of(row: NewsChoice) -> Choices:
    """As somebody left them; kinds of which nothing is said are as everybody has them."""
    return {NewsKind(kind): [Way(way) for way in ways] for kind, ways in row.choices.items()}


def _due(production: Production, quiet: Quiet, moment: datetime) -> datetime:
    return quiet.until(moment.astimezone(ZoneInfo(production.time_zone))) or moment


@transaction.atomic
def escalate(production: Production) -> list[News]:
    """Tell supervisors and leads of grave news that nobody has said they know of; once, and whatever the hour."""
    rules = NewsRules.objects.filter(production=production).first() or NewsRules()
    if rules.escalate_minutes is None:
        return []
    late = News.objects.select_for_update(no_key=True).filter(
        production=production, kind__in=[kind.value for kind in GRAVE], over_at=None, seen_at=None, escalated_at=None,
        aside=False, at__lt=now() - timedelta(minutes=rules.escalate_minutes),
    )  # fmt: skip
    found = list(late)
    leads = Membership.objects.filter(production=production, off_since=None, role__in=(Role.LEAD, Role.SUPERVISOR))
    people = [one.person for one in leads.select_related("person") if one.person.email]
    for news in found:
        news.escalated_at = now()
        news.save(update_fields=["escalated_at"])
        Sending.objects.bulk_create(
            (Sending(news=news, person=person, escalation=True, due_at=now()) for person in people),
            ignore_conflicts=True,
        )
    if found:
        changed(Topic.NEWS, production=production.pk)
    return found
