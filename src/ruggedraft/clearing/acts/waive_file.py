from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import file_fact, latest_listing
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import Waiver


@transaction.atomic
def waive_file(person: Person, card: Card, path: str, reason: str) -> Waiver:
    """Say that one file of a card, exactly as it is listed now, need not be covered.

    path: in the ledger's form
    """
    require(person, May.WAIVE)
    Production.objects.select_for_update().get(pk=card.camera.production_id)
    if not reason.strip():
        raise ActRefused("A waiver needs a reason.")
    listing = latest_listing(card)
    entry = listing.entries.filter(path=path).first() if listing else None
    if entry is None:
        raise ActRefused(f"There is no {path} on card {card.label} as it was last read.")
    fact = file_fact(entry.path, entry.kind, entry.size, entry.modified_ns)
    waiver = Waiver.objects.create(
        card=card, path=fact.path, size=fact.size, modified_ns=fact.modified_ns, reason=reason.strip()[:300],
        at=now(), person=person,
    )  # fmt: skip
    write("waive", card.label, f"{path} on card {card.label} need not be covered: {waiver.reason}", person=person)
    changed("cards")
    return waiver
