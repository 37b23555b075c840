"""Readers with nobody watching: a card is offloaded by itself, but only if nothing about it is in doubt."""

import time

from ruggedraft.core.cards import Holding
from ruggedraft.core.cards.layouts import PLAIN
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.kit.models import Station
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import Proposal, propose

from .contents import CardContents, contents_of

_AGAIN = 5.0  # seconds
_MOST_JUDGED = 100


def take_up_unattended(station: Station) -> list[Offload]:
    """Start an offload for every card that was put into an unattended reader and leaves no question."""
    started = []
    for stay in _fresh(station):
        person = stay.reader.unattended_by
        if person is None or stay.card is None or not _due(stay):
            continue
        found = contents_of(stay)
        if found is None or doubts(stay, found):
            continue
        card = Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=stay.card.pk)
        try:
            started.append(start_offload(person, card, propose(card).tag))
        except ActRefused:
            continue  # the Bench says why
    return started


_judged: dict[int, float] = {}


def _due(stay: Insertion) -> bool:
    """A card that waits with a question is looked at again now and then, not at every glance at the reader."""
    if time.monotonic() - _judged.get(stay.pk, -_AGAIN) < _AGAIN:
        return False
    if len(_judged) > _MOST_JUDGED:
        _judged.clear()
    _judged[stay.pk] = time.monotonic()
    return True


def _fresh(station: Station) -> list[Insertion]:
    """Stays in unattended readers whose card was listed and not offloaded since it was put in."""
    stays = Insertion.objects.filter(reader__station=station, removed_at=None).exclude(reader__unattended_by=None)
    stays = (
        stays.exclude(listings=None)
        .select_related("reader__unattended_by", "reader__unattended_plan", "card__camera")
        .defer("reader__unattended_by__password")
        .distinct()
    )
    return [
        stay for stay in stays if not (stay.card and stay.card.offloads.filter(asked_at__gte=stay.inserted_at).exists())
    ]


def doubts(stay: Insertion, found: CardContents) -> list[str]:
    """Why a card waits for somebody, in sentences; none if it may go by itself."""
    if stay.card is None or stay.card.camera is None:
        return ["It is not settled which card this is"]
    said = [finding.sentence for finding in found.described.findings if finding.grave]
    if all(layout.name == PLAIN.name for layout in found.described.layouts):
        said.append("Its layout is none that a camera writes")
    said += _doubts_of_what_it_holds(found)
    plan = stay.reader.unattended_plan
    if plan and stay.card.camera.plan_id != plan.pk:
        said.append(f"This reader is for the plan '{plan.name}', the card's camera has another")
    return said + _doubts_of_the_offload(stay.card)


def _doubts_of_the_offload(card: Card) -> list[str]:
    proposal = _proposal(card)
    if isinstance(proposal, str):
        return [proposal]
    offer = proposal.offer
    return [*proposal.uneven, *(one.sentence.rstrip(".") for one in (*offer.refusals, *offer.short))]


def _doubts_of_what_it_holds(found: CardContents) -> list[str]:
    counts = found.counts()
    gone = counted(len(found.gone), "file that was on it is", "files that were on it are")
    doubts = (
        (bool(found.gone), f"{gone} not on it any more, and in no copy"),
        (counts[Holding.UNSURE] > 0, "What of it is held is being compared"),
        (counts[Holding.CHANGED] > 0, "It holds other files than its roll has under their names"),
        (bool(found.gone_roll), f"Nothing of {found.gone_roll} is on it any more, and that was not cleared"),
        (found.companion is not None, f"It looks like a companion of {found.companion and found.companion.roll}"),
        (counts[Holding.ALIKE] > 0, "What of it is held has to be compared by content"),
    )
    return [sentence for applies, sentence in doubts if applies]


def _proposal(card: Card) -> Proposal | str:
    try:
        return propose(Card.objects.select_related("camera__production__rule", "camera__plan").get(pk=card.pk))
    except ActRefused as error:
        return error.sentence.rstrip(".")
