"""What the records beside a production's copies say of the journal."""

from dataclasses import dataclass
from pathlib import Path

from ruggedraft.core.errors import StoreError
from ruggedraft.core.sources import from_ledger
from ruggedraft.journal.anchors import RECORD_ENDING, Anchor, anchor_at, those_that_hold
from ruggedraft.productions.models import Production
from ruggedraft.stores.folders import folder_of
from ruggedraft.stores.models import Store

from .models import BesideCopy

MOST = 500


@dataclass(frozen=True)
class AnchorsFound:
    """agree: records that were read now and know a row of the journal that is there, as it was written.

    differ: where those lie that know another. unread: records that could not be asked, as their store is not plugged
    into the server's machine, is on a server, or they are not in their place any more
    """

    agree: int
    differ: tuple[str, ...]
    unread: int


def anchors_found(production: Production) -> AnchorsFound:
    """Of the last 500 records that were left beside copies."""
    rows = BesideCopy.objects.filter(copy__roll__production=production, path__endswith=f".{RECORD_ENDING}")
    folders = {store.pk: _folder(store) for store in Store.objects.filter(copies__roll__production=production)}
    found: dict[Anchor, str] = {}
    unread = 0
    for row in rows.select_related("copy__store").order_by("-pk")[:MOST]:
        folder = folders.get(row.copy.store_id)
        anchor = anchor_at(folder / from_ledger(row.path)) if folder else None
        if anchor is None:
            unread += 1
        else:
            found[anchor] = f"{row.path} on '{row.copy.store.name}'"
    hold = set(those_that_hold(list(found)))
    return AnchorsFound(len(hold), tuple(where for one, where in found.items() if one not in hold), unread)


def _folder(store: Store) -> Path | None:
    try:
        return folder_of(store)
    except StoreError:
        return None
