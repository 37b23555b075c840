"""What a station's worker does with its readers."""

import time

from procrastinate.contrib.django import app

from ruggedraft.live.letting_go import let_go

from .acts.compare_card import compare_card
from .acts.read_card import read_card
from .acts.read_headers import read_headers
from .errands import run
from .models import CardListing, Errand, Insertion


@app.task(name="intake:read_inserted_card")
def read_inserted_card(insertion_id: int) -> None:
    insertion = _present(insertion_id)
    listing = read_card(insertion) if insertion else None
    if listing:
        read_headers(listing)
    let_go()


@app.task(name="intake:read_card_now")
def read_card_now(insertion_id: int) -> None:
    """For somebody who is about to sign: names, sizes, times and the ends of files, and no headers."""
    insertion = _present(insertion_id)
    if insertion:
        read_card(insertion)
    let_go()


@app.task(name="intake:read_card_headers")
def read_card_headers(listing_id: int) -> None:
    listing = CardListing.objects.filter(pk=listing_id).first()
    if listing and listing.files > _MANY:
        time.sleep(_SCREENS_FIRST_S)
    if listing and _present(listing.insertion_id):
        read_headers(listing)
    let_go()


_MANY, _SCREENS_FIRST_S = 3000, 2.0
"""Of more files than this, headers are not read before screens have had the processor for their first answer."""


@app.task(name="intake:compare_inserted_card")
def compare_inserted_card(insertion_id: int, algorithm: str) -> None:
    insertion = _present(insertion_id)
    if insertion:
        compare_card(insertion, algorithm)
    let_go()


@app.task(name="intake:run_errand")
def run_errand(errand_id: int) -> None:
    errand = Errand.objects.filter(pk=errand_id, done_at=None).select_related("station").first()
    if errand:
        run(errand)
    let_go()


def ask_headers(listing: CardListing) -> None:
    """Have the listing's headers and previews read behind the first screen."""
    queue = listing.insertion.reader.station.name
    read_card_headers.configure(queue=queue).defer(listing_id=listing.pk)


def _present(insertion_id: int) -> Insertion | None:
    stays = Insertion.objects.filter(pk=insertion_id, removed_at=None)
    return stays.select_related("reader__station", "card__camera").first()
