"""What was left on a card on purpose and nobody has waived yet."""

from ruggedraft.core.redundancy import FileFact
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import latest_listing, listed_facts
from ruggedraft.rolls.models import LeftBehind, RollFile

from .models import Waiver


def left_on(card: Card) -> list[FileFact]:
    """Files that lie on a card as it was last read, were left there on purpose, and are in no roll and not waived."""
    listing = latest_listing(card)
    if listing is None:
        return []
    left = {
        FileFact(*row) for row in LeftBehind.objects.filter(roll__card=card).values_list("path", "size", "modified_ns")
    }
    if not left:
        return []
    waived = {FileFact(*row) for row in Waiver.objects.filter(card=card).values_list("path", "size", "modified_ns")}
    taken = {
        FileFact(*row) for row in RollFile.objects.filter(roll__card=card).values_list("path", "size", "modified_ns")
    }
    return [fact for fact in listed_facts([listing])[listing.pk] if fact in left - waived - taken]
