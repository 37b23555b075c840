from pathlib import Path
from uuid import UUID

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.kit.models import Station
from ruggedraft.kit.queries import place_named
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.folders import mark_on
from ruggedraft.stores.models import Store

from ..models import Insertion
from ..queries import said_to_be_cards


def use_drive(
    person: Person,
    *,
    production: int,
    path: str,
    name: str,
    medium: str,
    place: str,
    reason: str = "",
    take_over: bool = False,
    station: Station | None = None,
) -> Store:
    """Let copies of a production (id) go to something that is plugged in here. Nothing is ever written onto a card.

    station: whose machine this is; None: the server's own
    take_over: it bears the mark of a store of another ledger, which was lost; it keeps that mark. What lies on it is
        no copy of this ledger's by that

    Raises ActRefused for what is a card, as the ledger knows or somebody said, and for what cannot be a store.
    """
    stays = Insertion.objects.filter(removed_at=None, reader__path=path, card__isnull=False)
    here = stays.filter(reader__station=station) if station else stays.filter(reader__station__role="")
    stay = here.select_related("card").first()
    if stay and stay.card:
        raise ActRefused(f"Card {stay.card.label} is there: nothing is written onto cards.")
    if path in said_to_be_cards([path], station):
        raise ActRefused("Somebody said that it is a card, and nothing is written onto cards: take that back first.")
    return introduce_store(
        person, production, name=name, folder=Path(path), device_name=name, medium=medium, location=place_named(place),
        system_disk_reason=reason, known_as=_mark_on(Path(path)) if take_over else None,
    )  # fmt: skip


def _mark_on(folder: Path) -> UUID:
    """Raises ActRefused."""
    try:
        return UUID(mark_on(folder))
    except (OSError, ValueError) as error:
        raise ActRefused(
            f"{folder} bears no mark of a store that can be read, or one of a newer version: it cannot be taken over."
        ) from error
