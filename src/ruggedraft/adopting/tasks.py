"""What a station does to find rolls on stores, and to compare them."""

from procrastinate.contrib.django import app

from ruggedraft.live.letting_go import let_go

from .acts.carry_out_comparison import carry_out_comparison
from .acts.carry_out_search import carry_out_search
from .models import StoreComparison, StoreSearch


@app.task(name="adopting:search_store")
def search_store(search_id: int) -> None:
    search = StoreSearch.objects.filter(pk=search_id, finished_at=None).select_related("store__device").first()
    if search:
        carry_out_search(search)
    let_go()


@app.task(name="adopting:compare_stores")
def compare_stores(comparison_id: int) -> None:
    asked = StoreComparison.objects.filter(pk=comparison_id, finished_at=None)
    comparison = asked.select_related("left__device", "right__device").first()
    if comparison:
        carry_out_comparison(comparison)
    let_go()
