"""What screens and acts read about what was found on stores."""

from collections.abc import Iterable
from dataclasses import dataclass

from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.readings import RollStanding
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.models import Store

from .models import ComparisonRow, StoreComparison, StoreSearch


@dataclass(frozen=True)
class FoundRoll:
    """A folder that seems to hold a roll. files: of the roll's own, under their names and in their sizes

    copy: what the ledger knows of it on this store; None if nothing. copy_gone: nothing of that is known to be there
    """

    roll: Roll
    folder: str
    files: int
    bytes: int
    of_files: int
    copy: Copy | None
    copy_gone: bool

    @property
    def known(self) -> bool:
        """It is the copy that the ledger knows, where it knows it."""
        return self.copy is not None and self.copy.folder == self.folder


def last_search(store: Store) -> StoreSearch | None:
    return StoreSearch.objects.filter(store=store).select_related("person", "station").order_by("-pk").first()


def found_on(store: Store, production: int) -> list[FoundRoll]:
    """Rolls of a production (id) that the last search of a store found; empty while it is under way, or met trouble."""
    search = last_search(store)
    if search is None or search.finished_at is None or search.trouble:
        return []
    return [one for one in _found(search, store) if one.roll.production_id == production]


def _found(search: StoreSearch, store: Store) -> list[FoundRoll]:
    ids = {row[0] for row in search.rolls}
    standings = roll_standings(ids)
    rolls = Roll.objects.filter(pk__in=ids).select_related("production", "camera").in_bulk()
    copies = {one.roll_id: one for one in Copy.objects.filter(store=store, roll__in=ids)}
    return [
        FoundRoll(
            rolls[pk], folder, files, size, standings[pk].facts.files, copies.get(pk), _is_gone(standings[pk], store)
        )
        for pk, folder, files, size in search.rolls
        if pk in rolls
    ]


def _is_gone(standing: RollStanding, store: Store) -> bool:
    mine: Iterable[int] = (one.facts.files for one in standing.copies if one.store.pk == store.pk)
    return not any(mine)


_A_PAGE = 200


def last_comparison(left: Store | None, right: Store) -> StoreComparison | None:
    """left: None for the ledger"""
    return StoreComparison.objects.filter(left=left, right=right).order_by("-pk").first()


def rows_after(comparison: StoreComparison, after: int) -> tuple[list[ComparisonRow], int | None]:
    """A page of differences; and what to ask for to get the next, None on the last. after: -1 for the first"""
    found = list(ComparisonRow.objects.filter(comparison=comparison, n__gt=after).order_by("n")[: _A_PAGE + 1])
    return found[:_A_PAGE], found[_A_PAGE - 1].n if len(found) > _A_PAGE else None
