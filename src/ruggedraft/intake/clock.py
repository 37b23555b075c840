"""What a camera's clock, said to be otherwise, would move."""

from dataclasses import dataclass
from datetime import UTC, date, datetime

from ruggedraft.core.cards import ClockSpan
from ruggedraft.productions.models import Camera, moment

from .models import CardListing


def ahead_s(listing: CardListing) -> int:
    """How many seconds the camera's clock was ahead when it recorded the card's first file; 0 where nobody knows."""
    camera = listing.card.camera if listing.card else None
    first = moment(None if listing.first_ns is None else listing.first_ns // 10**9)
    return round(camera.as_clock().ahead(first).total_seconds()) if camera and first else 0


@dataclass(frozen=True)
class MovedCard:
    """A card of the camera whose times would change. The days: of its first file, as they are shown and would be."""

    label: str
    day: date
    day_then: date


def moved_by(camera: Camera, span: ClockSpan) -> list[MovedCard]:
    """The camera's cards, by label, of which something that is shown would change. Each as it was last read."""
    clock, then = camera.as_clock(), camera.as_clock().corrected(span)
    newest = (
        CardListing.objects.filter(card__camera=camera, first_ns__isnull=False, last_ns__isnull=False)
        .order_by("card_id", "-began_at", "-id")
        .distinct("card_id")
        .values_list("card__label", "first_ns", "last_ns")
    )
    found = []
    for label, first_ns, last_ns in newest:
        first, last = (datetime.fromtimestamp((ns or 0) / 1e9, UTC) for ns in (first_ns, last_ns))
        if _touches(span, first, last) and any(clock.ahead(at) != then.ahead(at) for at in (first, last, *_ends(span))):
            day = camera.production.shoot_day
            found.append(MovedCard(label, day(clock.true(first)), day(then.true(first))))
    return sorted(found, key=lambda card: card.label)


def _touches(span: ClockSpan, first: datetime, last: datetime) -> bool:
    """Whether the span covers any time between these two."""
    return (span.since is None or span.since <= last) and (span.until is None or first <= span.until)


def _ends(span: ClockSpan) -> list[datetime]:
    return [at for at in (span.since, span.until) if at is not None]
