"""What screens read about runs that bring copies what they lack."""

from ruggedraft.rolls.models import Roll

from .models import Feed


def open_feeds(roll: Roll) -> list[Feed]:
    """Those of the roll that wait or are under way, with their stores."""
    return list(Feed.objects.filter(roll=roll, finished_at=None).select_related("copy__store").order_by("pk"))
