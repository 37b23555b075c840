"""Letting go of cards: when somebody asked for it, or as a plan says after its run; never while anything reads them."""

import time
from datetime import timedelta

from django.db import transaction
from django.db.models import Q

from ruggedraft.core.runs import RunEnd
from ruggedraft.intake.models import CardListing, Insertion
from ruggedraft.intake.readers import release_card
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.locking import hold_still

from .models import Removal, SigningAsked

_AGAIN = 30.0  # seconds: a card that another program holds on to is tried again, not at every look
_SIGNING = timedelta(minutes=2)
_tried: dict[int, float] = {}


def let_cards_go(station: Station) -> list[Insertion]:
    """Let go of each card that is due and that nothing reads. On the station itself."""
    return [stay for stay in _due(station) if not is_read(stay) and _release(stay)]


def _due(station: Station) -> list[Insertion]:
    stays = Insertion.objects.filter(reader__station=station, removed_at=None, released_at=None).exclude(card=None)
    by_plan = Q(card__camera__plan__release_after=True)
    found = stays.filter(Q(release_asked_at__isnull=False) | by_plan).select_related("reader", "card__camera__plan")
    return [stay for stay in found if stay.release_asked_at or _ended_well(stay)]


def _ended_well(stay: Insertion) -> bool:
    """Its run of this stay did all that it was asked for."""
    last = Offload.objects.filter(card=stay.card_id, asked_at__gte=stay.inserted_at).order_by("-pk").first()
    return last is not None and last.end == RunEnd.WELL


def is_read(stay: Insertion) -> bool:
    """Whether a run, a look for a signature, or the reading of headers still needs the card."""
    runs = Offload.objects.filter(card=stay.card_id, finished_at=None).exists()
    removals = Removal.objects.filter(card=stay.card_id, finished_at=None).exists()
    wishes = SigningAsked.objects.filter(card=stay.card_id, decided_at=None, at__gte=now() - _SIGNING)
    listing = CardListing.objects.filter(insertion=stay).order_by("-id").first()
    headers = listing is None or (listing.files > 0 and listing.headers_read_at is None)
    return runs or removals or headers or wishes.exists()


def _release(stay: Insertion) -> bool:
    """What the system says is told; while it will not let go, the card stays in its reader, as everybody sees."""
    if time.monotonic() - _tried.get(stay.pk, -_AGAIN) < _AGAIN:
        return False
    _tried[stay.pk] = time.monotonic()
    with transaction.atomic():  # nobody begins to read it meanwhile, and who looks sees why it went
        if stay.card is None:
            return False
        hold_still(stay.card.owner.production_id)
        if is_read(stay):
            return False
        Insertion.objects.filter(pk=stay.pk).update(released_at=now())
        trouble = release_card(stay)
        if trouble:
            words = {"released_at": None, "release_trouble": trouble[:300]}
            Insertion.objects.filter(pk=stay.pk).update(**words)
    changed(Topic.READERS)
    return not trouble
