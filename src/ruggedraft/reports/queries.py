"""What is put on labels."""

from collections.abc import Mapping, Sequence
from urllib.parse import quote, urlencode

from ruggedraft.core.errors import ActRefused
from ruggedraft.intake.models import Card
from ruggedraft.productions.models import Production
from ruggedraft.stores.queries import stores_in

from .documents.labels import Label

_MOST = 400


def labels_of(production: Production, site: str, *, cards: Sequence[str], stores: Sequence[str]) -> list[Label]:
    """For these cards and stores of a production, in the order given; none named: for all of its cards.

    site: where this ledger is reached, such as "https://cart.example". Raises ActRefused for one that is not there.
    """
    of_cards, of_stores = _cards(production, site), _stores(production, site)
    if not cards and not stores:
        cards = list(of_cards)
    named = [*_named(of_cards, cards, production), *_named(of_stores, stores, production)]
    if len(named) > _MOST:
        raise ActRefused(f"At most {_MOST} labels are made at once.")
    return named


def _named(among: Mapping[str, Label], names: Sequence[str], production: Production) -> list[Label]:
    """Each once. Raises ActRefused."""
    missing = next((name for name in names if name not in among), None)
    if missing is not None:
        raise ActRefused(f"There is no {missing} in {production.name}.")
    return [among[name] for name in dict.fromkeys(names)]


def _cards(production: Production, site: str) -> dict[str, Label]:
    """By label, as they are numbered."""
    cards = Card.objects.filter(camera__production=production).select_related("camera").order_by("label")
    here = f"{site}/{production.slug}/cards"
    return {
        card.label: Label(
            card.label, card.owner.letter, f"{here}/{quote(card.label, safe='')}",
            f"{production.name} · {card.owner.name}",
        )
        for card in cards
    }  # fmt: skip


def _stores(production: Production, site: str) -> dict[str, Label]:
    here = f"{site}/{production.slug}/stores"
    return {
        store.name: Label(
            store.name, "", f"{here}?{urlencode({'store': store.name})}", f"{production.name} · {store.device.name}"
        )
        for store in stores_in(production.pk)
    }
