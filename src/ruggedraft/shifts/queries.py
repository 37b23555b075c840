"""What screens read about shifts."""

from ruggedraft.productions.models import Production

from .models import Handover, Matter

_MOST = 20


def handovers_of(production: Production) -> list[Handover]:
    """The last ones, newest first, each with its matters in the order in which they are told."""
    rows = Handover.objects.filter(production=production).select_related("by").order_by("-pk")
    return list(rows.prefetch_related("matters__accepted_by")[:_MOST])


def open_matters(production: Production) -> list[Matter]:
    """Everything that was handed over and that nobody has taken over, however long ago, oldest first."""
    rows = Matter.objects.filter(handover__production=production, accepted_at=None)
    return list(rows.select_related("handover__by").order_by("pk"))
