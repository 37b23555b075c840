"""What screens and papers read of accounts that were made."""

import hashlib
import zlib

from django.db.models import QuerySet
from pydantic import TypeAdapter

from ruggedraft.core.accounts import Account, AccountEdition, AccountOn, EditionHead
from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Production

from .gathering import MAKING, name_of
from .models import Edition, Paper

FACTS = TypeAdapter(Account)
"""An account's facts as JSON and back."""
WHOLE = TypeAdapter(AccountEdition)
"""What is handed out; docs/account.schema.json."""


def editions_of(production: Production, on: AccountOn, about: str) -> list[Edition]:
    """Newest first; without their facts. Raises NotThere."""
    return list(
        _rows(production).filter(on=on, about=name_of(production, on, about)).defer("facts").order_by("-number")
    )


def edition_with(production: Production, edition_id: int) -> Edition:
    """Raises NotThere."""
    found = _rows(production).filter(pk=edition_id).first()
    if found is None:
        raise NotThere(f"There is no such account in {production.name}.")
    return found


def _rows(production: Production) -> QuerySet[Edition]:
    return (
        Edition.objects.filter(production=production)
        .select_related("by", "production", "paper")
        .defer("paper__content")
    )


def read_edition(row: Edition) -> AccountEdition:
    """What is handed out. Raises ActRefused where the journal does not know it so: somebody changed it."""
    kept = zlib.decompress(bytes(row.facts))
    told = JournalEntry.objects.filter(act=MAKING, production=row.production_id, detail__edition=row.pk)
    if not told.filter(detail__sha256=hashlib.sha256(kept).hexdigest()).exists():
        raise ActRefused(f"Edition {row.number} is not what the journal says was made: it is not handed out.")
    before = Edition.objects.filter(
        production=row.production_id, on=row.on, about=row.about, number=row.number - 1
    ).values_list("sha256", flat=True).first()  # fmt: skip
    head = EditionHead(
        row.number, row.at, row.by.shown_name, row.sha256, row.head, row.seal, before or ""
    )  # fmt: skip
    facts: Account = FACTS.validate_json(kept)
    return AccountEdition(head, facts)


def paper_of(row: Edition) -> Paper | None:
    """Without its content; None where nobody asked for one."""
    return getattr(row, "paper", None)


def paper_made(row: Edition) -> bytes:
    """Raises NotThere where it is not made yet."""
    found = Paper.objects.filter(edition=row).values_list("content", flat=True).first()
    if found is None:
        raise NotThere("This paper is not made yet.")
    return bytes(found)
