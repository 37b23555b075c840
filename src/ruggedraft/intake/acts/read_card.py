import hashlib
import json

from django.db import transaction

from ruggedraft.core.cards import Listing, list_card, recognise, to_ledger
from ruggedraft.core.cards.layouts import contents
from ruggedraft.core.errors import SourceVanished
from ruggedraft.journal.clock import now
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import CardListing, Insertion, ListedEntry
from ..readers import open_card


def read_card(insertion: Insertion) -> CardListing | None:
    """List the card in a reader and note what is on it; None, and the reason on the stay, if that did not work."""
    try:
        listing = list_card(open_card(insertion.reader.path))
    except SourceVanished as error:
        _note_trouble(insertion, error.sentence)
        return None
    return note_listing(insertion, listing)


@transaction.atomic
def note_listing(insertion: Insertion, listing: Listing) -> CardListing:
    """Keep a listing of a known card. The same content seen again in one stay only renews the time."""
    if insertion.card and insertion.card.camera:  # no clearance is decided while a newer listing is on its way in
        Production.objects.select_for_update().get(pk=insertion.card.camera.production_id)
    insertion = Insertion.objects.select_for_update(of=("self",)).select_related("card").get(pk=insertion.pk)
    digest = digest_of(listing)
    known = insertion.listings.order_by("-id").first()
    if known and known.digest == digest:
        known.read_at = now()
        known.save(update_fields=["read_at"])
        noted = known
    else:
        noted = _keep(insertion, listing, digest)
    if insertion.trouble:
        insertion.trouble = ""
        insertion.save(update_fields=["trouble"])
    changed("readers", "cards")
    return noted


def digest_of(listing: Listing) -> str:
    entries = [[to_ledger(e.path), e.kind, e.size, e.modified_ns, to_ledger(e.detail)] for e in _kept(listing)]
    return hashlib.sha256(json.dumps(entries).encode()).hexdigest()


def _kept(listing: Listing) -> list:
    return [entry for entry in listing.entries if entry.needs_cover]


def _keep(insertion: Insertion, listing: Listing, digest: str) -> CardListing:
    counts = contents(listing)
    span = listing.span_ns or (None, None)
    noted = CardListing.objects.create(
        card=insertion.card, insertion=insertion, read_at=now(), layout=recognise(listing).name,
        files=len(listing.files), bytes=listing.bytes, stills=counts.stills, video=counts.video, sound=counts.sound,
        other=counts.other, first_ns=span[0], last_ns=span[1], digest=digest,
    )  # fmt: skip
    ListedEntry.objects.bulk_create(
        (
            ListedEntry(
                listing=noted, path=to_ledger(e.path), kind=e.kind, size=e.size, modified_ns=e.modified_ns,
                detail=to_ledger(e.detail),
            )
            for e in _kept(listing)
        ),
        batch_size=2000,
    )  # fmt: skip
    return noted


def _note_trouble(insertion: Insertion, sentence: str) -> None:
    Insertion.objects.filter(pk=insertion.pk).update(trouble=sentence[:500])
    changed("readers")
