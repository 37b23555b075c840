"""Stores as columns and choices."""

from pydantic import BaseModel

from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import sighting_of, store_facts


class StoreColumn(BaseModel):
    name: str
    device: str
    location: str
    medium: str
    offsite: bool
    online: bool
    lost: bool
    counts: bool
    free: int
    total: int

    @staticmethod
    def of(store: Store) -> "StoreColumn":
        """store: from `stores.queries.stores()`"""
        facts, sighting = store_facts(store), sighting_of(store)
        return StoreColumn(
            name=store.name,
            device=store.device.name,
            location=facts.location,
            medium=facts.medium,
            offsite=facts.offsite,
            online=facts.online,
            lost=facts.lost,
            counts=facts.counts,
            free=facts.free,
            total=sighting.total if sighting else 0,
        )


class LossIn(BaseModel):
    reason: str


class StandsOnIn(BaseModel):
    """stands_on: a name for the physical thing; stores with one name are one device."""

    stands_on: str
    reason: str
