"""Taking a card out of use, into use again, and answering for what it did."""

from collections.abc import Collection

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import AsideKind
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card, CardAside, CardTrusted
from ruggedraft.intake.queries import present_insertion
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.locking import hold_still

from ..cases import case
from ..refusals import noted_when_refused


@noted_when_refused("take a card out of use")
@transaction.atomic
def set_card_aside(person: Person, card: Card, kind: AsideKind, reason: str) -> CardAside:
    """Take a card out of use: it goes to no camera. What is on it is looked after as before.

    One that is lost or broken stays owed as it was: what is on it and in no copy is said to be so until it is found,
    or waived.
    """
    require(person, May.SET_ASIDE, card.owner.production_id)
    _hold(card)
    if not reason.strip():
        raise ActRefused("Say what is wrong with the card, so that somebody can look into it.")
    stay = present_insertion(card)
    if kind == AsideKind.LOST and stay:
        raise ActRefused(f"Card {card.label} is in {stay.reader.name}, and not lost.")
    before = CardAside.objects.filter(card=card, ended_at=None).first()
    if before and (before.kind == kind or before.kind == AsideKind.RETIRED):
        raise ActRefused(f"Card {card.label} is {before.kind} already.")
    if before:
        _end(before, person, f"it is {kind.value} now")
    aside = CardAside.objects.create(card=card, kind=kind, person=person, at=now(), reason=reason.strip()[:300])
    write("set aside", card.label, f"Card {card.label} is {kind.value}: {aside.reason}.",
          person=person, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, cards=[card.label], production=card.owner.production_id)
    return aside


@noted_when_refused("use a card again")
@transaction.atomic
def use_card_again(person: Person, card: Card, why: str) -> None:
    """Take a quarantined card into use again. Whoever retires one has said that it never is.

    It speaks of what the card was taken out for, and of nothing that its runs say against it: see `trust_card`.
    """
    require(person, May.SET_ASIDE, card.owner.production_id)
    _hold(card)
    if not why.strip():
        raise ActRefused("Say why the card may be used again.")
    aside = CardAside.objects.filter(card=card, ended_at=None).first()
    if aside is None:
        raise ActRefused(f"Card {card.label} is in use.")
    if aside.kind == AsideKind.RETIRED:
        require(person, May.SET_UP, card.owner.production_id)
    _end(aside, person, why)
    write("use again", card.label, f"Card {card.label} is used again: {why.strip()}.",
          person=person, production=card.owner.production_id)  # fmt: skip
    changed(Topic.CARDS, cards=[card.label], production=card.owner.production_id)


@noted_when_refused("answer for a card")
@transaction.atomic
def trust_card(person: Person, card: Card, why: str, *, seen: Collection[str]) -> CardTrusted:
    """Answer for a card that gave errors or slowed down: what its runs until now say speaks against it no more.

    seen: the doubts that the person was shown, every one; they answer for nothing else
    """
    require(person, May.SET_ASIDE, card.owner.production_id)
    _hold(card)
    if not why.strip():
        raise ActRefused("Say why the card may be trusted: it goes to a camera on your word.")
    last = Offload.objects.filter(card=card).exclude(finished_at=None).order_by("-pk").first()
    doubts = case(card).facts.doubts
    if not doubts:
        raise ActRefused(f"Nothing that its runs say speaks against card {card.label}.")
    if last is None or set(doubts) != set(seen):
        raise ActRefused(f"More has come of card {card.label} than you were shown: {'; '.join(doubts)}. Look again.")
    given = {"card": card, "person": person, "at": now(), "reason": why.strip()[:300]}
    trusted = CardTrusted.objects.create(**given, after=last.pk)
    words = f"Card {card.label} may be used on, although {'; '.join(doubts)}: {trusted.reason}."
    write("trust card", card.label, words, person=person, production=card.owner.production_id)
    changed(Topic.CARDS, cards=[card.label], production=card.owner.production_id)
    return trusted


def _hold(card: Card) -> None:
    hold_still(card.owner.production_id)


def _end(aside: CardAside, person: Person, why: str) -> None:
    aside.ended_at, aside.ended_by, aside.ended_why = now(), person, why.strip()[:300]
    aside.save(update_fields=["ended_at", "ended_by", "ended_why"])
