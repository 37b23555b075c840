"""Taking a card out of use, into use again, and answering for what it did."""

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import AsideKind, Card, CardAside, CardTrusted
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.locking import hold_still

from ..refusals import noted_when_refused


@noted_when_refused("take a card out of use")
@transaction.atomic
def set_card_aside(person: Person, card: Card, kind: AsideKind, reason: str) -> CardAside:
    """Take a card out of use: it goes to no camera. What is on it is looked after as before."""
    require(person, May.SET_ASIDE)
    _hold(card)
    if not reason.strip():
        raise ActRefused("Say what is wrong with the card, so that somebody can look into it.")
    before = CardAside.objects.filter(card=card, ended_at=None).first()
    if before and (before.kind == kind or before.kind == AsideKind.RETIRED):
        raise ActRefused(f"Card {card.label} is {before.kind} already.")
    if before:
        _end(before, person, f"it is {kind.value} now")
    aside = CardAside.objects.create(card=card, kind=kind, person=person, at=now(), reason=reason.strip()[:300])
    write("set aside", card.label, f"Card {card.label} is {kind.value}: {aside.reason}.",
          person=person, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, cards=[card.label])
    return aside


@noted_when_refused("use a card again")
@transaction.atomic
def use_card_again(person: Person, card: Card, why: str) -> None:
    """Take a quarantined card into use again. Whoever retires one has said that it never is."""
    require(person, May.SET_ASIDE)
    _hold(card)
    if not why.strip():
        raise ActRefused("Say why the card may be used again.")
    aside = CardAside.objects.filter(card=card, ended_at=None).first()
    if aside is None:
        raise ActRefused(f"Card {card.label} is in use.")
    if aside.kind == AsideKind.RETIRED:
        require(person, May.SET_UP)
    _end(aside, person, why)
    _trust(person, card, why)
    write("use again", card.label, f"Card {card.label} is used again: {why.strip()}.",
          person=person, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, cards=[card.label])


@noted_when_refused("answer for a card")
@transaction.atomic
def trust_card(person: Person, card: Card, why: str) -> CardTrusted:
    """Answer for a card that gave errors or slowed down: what was noted until now speaks against it no more."""
    require(person, May.SET_ASIDE)
    _hold(card)
    if not why.strip():
        raise ActRefused("Say why the card may be trusted: it goes to a camera on your word.")
    trusted = _trust(person, card, why)
    write("trust card", card.label, f"Card {card.label} may be used on: {trusted.reason}.",
          person=person, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, cards=[card.label])
    return trusted


def _hold(card: Card) -> None:
    hold_still(card.owner.production_id)


def _end(aside: CardAside, person: Person, why: str) -> None:
    aside.ended_at, aside.ended_by, aside.ended_why = now(), person, why.strip()[:300]
    aside.save(update_fields=["ended_at", "ended_by", "ended_why"])


def _trust(person: Person, card: Card, why: str) -> CardTrusted:
    """It speaks of every run until now, whatever a clock says of when they were."""
    last = Offload.objects.filter(card=card).order_by("-pk").values_list("pk", flat=True).first()
    return CardTrusted.objects.create(card=card, person=person, at=now(), reason=why.strip()[:300], after=last or 0)
