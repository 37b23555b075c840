"""What a station's worker does with its readers."""

from django.db import close_old_connections
from procrastinate.contrib.django import app

from .acts.read_card import read_card
from .models import Insertion


@app.task(name="intake:read_inserted_card")
def read_inserted_card(insertion_id: int) -> None:
    close_old_connections()
    insertion = Insertion.objects.filter(pk=insertion_id, removed_at=None).select_related("reader", "card").first()
    if insertion and insertion.card:
        read_card(insertion)
    close_old_connections()
