"""What a station does to keep the ledger's knowledge of cards and copies true."""

from procrastinate.contrib.django import app

from ruggedraft.intake.models import CardListing
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import looks_queue
from ruggedraft.live.letting_go import let_go

from .acts.confirm_card import confirm_card
from .acts.look_at_copy import look_at_copy
from .models import Copy


@app.task(name="rolls:confirm_card")
def confirm_listed_card(listing_id: int) -> None:
    listing = CardListing.objects.select_related("card__camera", "insertion__reader").filter(pk=listing_id).first()
    if listing:
        confirm_card(listing)
    let_go()


@app.task(name="rolls:look_at_copy")
def look_at(copy_id: int) -> None:
    copy = Copy.objects.select_related("roll", "store__device").filter(pk=copy_id).first()
    if copy:
        look_at_copy(copy)
    let_go()


def ask_confirmation(listing: CardListing) -> None:
    station = listing.insertion.reader.station
    confirm_listed_card.configure(queue=looks_queue(station)).defer(listing_id=listing.pk)


def ask_look(copy: Copy, station: Station) -> None:
    look_at.configure(queue=looks_queue(station)).defer(copy_id=copy.pk)
