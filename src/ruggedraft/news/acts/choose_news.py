from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.news import Choices
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import NewsChoice, NewsRules

_LONGEST_MINUTES = 24 * 60


@transaction.atomic
def choose_news(
    person: Person, production: Production, choices: Choices, *, quiet_from: int, quiet_until: int, email: str
) -> None:
    """Say what one wants to be told of, and how. Everybody says it for themselves.

    quiet_from, quiet_until: hours in which nothing is sent; equal: none. email: where to; empty: nowhere
    """
    require(person, May.SEE_WORK, production.pk)
    if not (0 <= quiet_from < 24 and 0 <= quiet_until < 24):
        raise ActRefused("Hours go from 0 to 23.")
    email = email.strip()
    if email:
        try:
            validate_email(email)
        except ValidationError as error:
            raise ActRefused(f"'{email[:80]}' is no e-mail address.") from error
    NewsChoice.objects.update_or_create(
        person=person, production=production,
        defaults={
            "choices": {str(kind): [str(way) for way in ways] for kind, ways in choices.items()},
            "quiet_from": quiet_from, "quiet_until": quiet_until,
        },
    )  # fmt: skip
    Person.objects.filter(pk=person.pk).update(email=email)
    words = f"{person.shown_name} chose what they are told of."
    write("choose news", person.username, words, person=person, production=production.pk)
    changed(Topic.NEWS, production=production.pk)


@transaction.atomic
def set_escalation(person: Person, production: Production, minutes: int | None) -> None:
    """After how many minutes others are told of grave news that nobody has seen; None: never."""
    require(person, May.SET_UP, production.pk)
    if minutes is not None and not 1 <= minutes <= _LONGEST_MINUTES:
        raise ActRefused(f"Others are told after 1 to {_LONGEST_MINUTES:,} minutes, or never.")
    NewsRules.objects.update_or_create(production=production, defaults={"escalate_minutes": minutes})
    after = f"after {minutes} min" if minutes else "never"
    words = f"Supervisors and leads are told {after} of grave news that nobody has seen."
    write("set escalation", production.name, words, person=person, production=production.pk)
    changed(Topic.NEWS, production=production.pk)
