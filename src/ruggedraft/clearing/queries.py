"""What acts read about what was said of cards and rolls."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import timedelta
from urllib.parse import parse_qs, unquote, urlsplit

from django.db.models import QuerySet

from ruggedraft.core.errors import NotThere
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.stores.queries import stores_in

from .cases import Case
from .models import Hold, Removal, RemovalAsked


def hold_of(production: Production, hold_id: int) -> Hold:
    """Raises NotThere."""
    holds = Hold.objects.select_related("roll", "card__camera", "camera").filter(pk=hold_id)
    found = holds.first()
    if found is None or found.production_id != production.pk:
        raise NotThere(f"There is no such hold in {production.name}.")
    return found


@dataclass(frozen=True)
class Removals:
    """under_way: files are being taken off the card. waits: somebody wants it, and a second person has to.

    last: how the last one ended, in a sentence; empty where there was none
    """

    under_way: bool
    waits: bool
    last: str


_WAITS = timedelta(minutes=15)
"""For so long somebody else may join in who wants files taken off a card."""


def wishes_of(judged: Case) -> QuerySet[RemovalAsked]:
    """Who wanted, not long ago, files of a card taken off it that is as they saw it, and still waits for that."""
    waiting = RemovalAsked.objects.filter(card=judged.card, removal=None, digest=judged.digest)
    return waiting.filter(at__gte=now() - _WAITS, at__lte=now()).select_related("person").order_by("pk")


def removals_of(judged: Case) -> Removals:
    last = Removal.objects.filter(card=judged.card).order_by("-pk").first()
    open_ = last is not None and last.finished_at is None
    return Removals(open_, not open_ and wishes_of(judged).exists(), last.outcome if last else "")


def holds_on(roll: Roll) -> list[Hold]:
    """Those on a roll that nobody lifted, oldest first."""
    return list(Hold.objects.filter(roll=roll, lifted_at=None).select_related("roll", "placed_by").order_by("pk"))


@dataclass(frozen=True)
class Called:
    """The card's label, the roll's tag or the store's name, as the ledger writes it; at most one of them."""

    card: str | None = None
    roll: str | None = None
    store: str | None = None


def _name_in(code: str) -> str:
    """Of what a label's square code says, which is an address of ours, the name of the card or the store."""
    code = code.strip()
    if "://" not in code:
        return code
    parts = urlsplit(code)
    return parse_qs(parts.query).get("store", [unquote(parts.path.rpartition("/")[2])])[0]


def called(production: Production, code: str) -> Called:
    """Which card, roll or store of a production has this name, whatever its case. A card comes before a roll.

    Spaces in names of stores make no difference: what a hand scanner types comes without them.
    """
    name = _name_in(code)
    cards = Card.objects.filter(camera__production=production, label__iexact=name)
    if card := cards.values_list("label", flat=True).first():
        return Called(card=card)
    rolls = Roll.objects.filter(production=production, tag__iexact=name)
    if roll := rolls.values_list("tag", flat=True).first():
        return Called(roll=roll)
    wanted = _without_spaces(name)
    names = (store.name for store in stores_in(production.pk))
    return Called(store=next((one for one in names if wanted and _without_spaces(one) == wanted), None))


def _without_spaces(name: str) -> str:
    return "".join(name.split()).casefold()


@dataclass(frozen=True)
class Named:
    """Labels of cards and tags of rolls."""

    cards: frozenset[str]
    rolls: frozenset[str]


def named_in(production: Production, names: Collection[str]) -> Named:
    """Which of these are cards of the production's cameras, and which are rolls of it. Two queries."""
    cards = Card.objects.filter(camera__production=production, label__in=names)
    rolls = Roll.objects.filter(production=production, tag__in=names)
    return Named(frozenset(cards.values_list("label", flat=True)), frozenset(rolls.values_list("tag", flat=True)))
