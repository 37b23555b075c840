"""What a station does to find rolls on a store."""

from procrastinate.contrib.django import app

from ruggedraft.live.letting_go import let_go

from .acts.carry_out_search import carry_out_search
from .models import StoreSearch


@app.task(name="adopting:search_store")
def search_store(search_id: int) -> None:
    search = StoreSearch.objects.filter(pk=search_id, finished_at=None).select_related("store__device").first()
    if search:
        carry_out_search(search)
    let_go()
