"""What is put on labels."""

from collections.abc import Sequence
from urllib.parse import quote

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
    wanted = list(dict.fromkeys(cards))
    mine = Card.objects.filter(camera__production=production).select_related("camera").order_by("label")
    by_label = {card.label: card for card in mine}
    used = {store.name: store for store in stores_in(production.pk)}
    if missing := [name for name in wanted if name not in by_label] + [name for name in stores if name not in used]:
        raise ActRefused(f"There is no {missing[0]} in {production.name}.")
    if not wanted and not stores:
        wanted = list(by_label)
    if len(wanted) + len(stores) > _MOST:
        raise ActRefused(f"At most {_MOST} labels are made at once.")
    here = f"{site}/{production.slug}"
    made = [
        Label(name, by_label[name].owner.letter, f"{here}/cards/{quote(name, safe='')}",
              f"{production.name} · {by_label[name].owner.name}")
        for name in wanted
    ]  # fmt: skip
    return made + [
        Label(name, "", f"{here}/stores?store={quote(name, safe='')}", f"{production.name} · {used[name].device.name}")
        for name in dict.fromkeys(stores)
    ]
