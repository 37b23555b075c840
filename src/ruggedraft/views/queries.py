"""What screens read of somebody's own way of looking."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

from django.db.models import Max, QuerySet

from ruggedraft.clearing.models import Clearance
from ruggedraft.clearing.roll_cases import overview
from ruggedraft.core.last_look import RollChange, changes_since
from ruggedraft.core.redundancy import RollState
from ruggedraft.crew.models import Person
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.summaries import places_of_all

from .models import LastLook, SavedView, ViewOf


@dataclass(frozen=True)
class Acts:
    """The last clearance and the last revocation of a production that somebody was told of, by id."""

    clearance: int = 0
    revocation: int = 0


@dataclass(frozen=True)
class Since:
    """at: when somebody last looked; None: never. until: what of cards is told here

    tags: of the rolls that changed, by id. cleared, called_back: labels of cards
    """

    at: datetime | None
    until: Acts
    rolls: Sequence[RollChange] = ()
    tags: Mapping[int, str] = field(default_factory=dict)
    cleared: Sequence[str] = ()
    called_back: Sequence[str] = ()


def views_of(person: Person, production: Production, place: ViewOf) -> list[SavedView]:
    """By name; none of nobody, who looks at a shared screen."""
    return list(SavedView.objects.filter(person=person.pk, production=production, place=place).order_by("name"))


def states_now(production: Production) -> dict[int, RollState]:
    """How each roll of a production stands, by its id."""
    return dict(overview(production, places_of_all(), now()).states)


def last_acts(production: Production) -> Acts:
    cleared = _clearances(production).aggregate(last=Max("pk"), back=Max("revocation__pk"))
    return Acts(cleared["last"] or 0, cleared["back"] or 0)


def since_last_look(person: Person, production: Production) -> Since:
    """What is otherwise than when somebody last looked; nothing, for somebody who never said that they had."""
    until = last_acts(production)
    look = LastLook.objects.filter(person=person.pk, production=production).first()
    if look is None:
        return Since(None, until)
    rolls = changes_since(known_by(look), states_now(production))
    tags = production.rolls.filter(pk__in=[one.roll for one in rolls]).values_list("pk", "tag")
    cards = _clearances(production).order_by("card__label").values_list("card__label", flat=True).distinct()
    cleared = cards.filter(pk__gt=look.clearances, pk__lte=until.clearance, revocation=None)
    back = cards.filter(revocation__pk__gt=look.revocations, revocation__pk__lte=until.revocation)
    return Since(look.at, until, rolls, dict(tags), list(cleared), list(back))


def _clearances(production: Production) -> QuerySet[Clearance]:
    return Clearance.objects.filter(card__camera__production=production)


def changed_for(person: Person, production: Production) -> frozenset[int]:
    """Ids of the rolls that are not as somebody last saw them."""
    return frozenset(one.roll for one in since_last_look(person, production).rolls)


def known_by(look: LastLook) -> dict[int, RollState]:
    """How somebody saw each roll stand, by its id."""
    return {int(roll): RollState(state) for roll, state in look.states.items()}
