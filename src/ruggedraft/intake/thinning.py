"""Old listings of cards go, and with them tens of thousands of names each; what anything rests on stays."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from django.db import IntegrityError, connection, transaction
from django.db.models import ForeignObjectRel, Model

from .models import CardListing, ListedEntry

_KEPT = 6
"""Of each card the newest: a run looks at the one before it, and what is gone is told from the last five."""
_FOR = timedelta(days=7)
_OLD = """
SELECT l.id FROM (
  SELECT id, began_at, insertion_id, row_number() OVER (PARTITION BY card_id, {stay} ORDER BY id DESC) AS nth
  FROM intake_cardlisting
) l JOIN intake_insertion i ON i.id = l.insertion_id
WHERE l.nth > %(kept)s AND l.began_at < %(before)s AND i.removed_at IS NOT NULL {referred}
ORDER BY l.id LIMIT %(most)s
"""


def thin_listings(moment: datetime, most: int = 20) -> int:
    """Remove so many listings at most, the oldest first; returns how many.

    Nothing that a row of any table refers to goes, such as what a roll was taken from, a card was cleared with, or a
    file was missed in; nor what a card in a reader showed. What people did is in the journal, and stays.
    """
    referred = " ".join(
        f"AND NOT EXISTS (SELECT 1 FROM {table} r WHERE r.{column} = l.id)"  # noqa: S608  names of our own tables
        for table, column in _refer()
    )
    query = _OLD.format(referred=referred, stay="CASE WHEN card_id IS NULL THEN insertion_id END")
    with connection.cursor() as cursor:
        cursor.execute(query, {"kept": _KEPT, "before": moment - _FOR, "most": most})
        old = [pk for (pk,) in cursor.fetchall()]
    return sum(_removed(pk) for pk in old)


def _refer() -> Iterator[tuple[str, str]]:
    """Tables and columns that refer to listings, but for the names in them."""
    for relation in CardListing._meta.get_fields(include_hidden=True):
        if isinstance(relation, ForeignObjectRel) and relation.related_model is not ListedEntry:
            model: type[Model] = relation.related_model
            yield model._meta.db_table, str(relation.field.column)


def _removed(listing: int) -> bool:
    """Not where something has come to refer to it meanwhile: the database refuses that."""
    try:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(
                "DELETE FROM intake_entrymedia WHERE entry_id IN"
                " (SELECT id FROM intake_listedentry WHERE listing_id = %s)", [listing],
            )  # fmt: skip
            cursor.execute("DELETE FROM intake_listedentry WHERE listing_id = %s", [listing])
            cursor.execute("DELETE FROM intake_cardlisting WHERE id = %s", [listing])
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
    except IntegrityError:
        return False
    return True
