"""What a station's worker does with its readers."""

from procrastinate.contrib.django import app

from ruggedraft.live.letting_go import let_go

from .acts.read_card import read_card
from .models import Insertion


@app.task(name="intake:read_inserted_card")
def read_inserted_card(insertion_id: int) -> None:
    insertion = Insertion.objects.filter(pk=insertion_id, removed_at=None).select_related("reader", "card").first()
    if insertion and insertion.card:
        read_card(insertion)
    let_go()
