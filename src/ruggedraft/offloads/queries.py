"""What screens and acts read about offloads, and about runs that bring copies what they lack."""

from collections.abc import Sequence

from django.db.models import Exists, OuterRef, Q, Subquery
from django.db.models.functions import JSONObject

from ruggedraft.core.errors import NotThere
from ruggedraft.core.runs import RunEnd
from ruggedraft.intake.models import Insertion
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, Origin, Reading, Roll

from .models import AfterRun, Feed, Offload, PullSeen


def offload_of(production: Production, offload_id: int) -> Offload:
    """Raises NotThere."""
    found = Offload.objects.filter(roll__production=production, pk=offload_id).select_related("roll").first()
    if found is None:
        raise NotThere(f"There is no such offload in {production.name}.")
    return found


def copies_being_fed(roll: Roll) -> set[int]:
    """Ids of the roll's copies that a feed is writing to. See `is_being_offloaded`."""
    under_way = Feed.objects.filter(roll=roll, started_at__isnull=False, finished_at=None, held_back=False)
    return set(under_way.values_list("copy_id", flat=True))


def is_being_offloaded(copy: Copy) -> bool:
    """Whether an offload is writing to a copy.

    One writes to a copy at a time: two would take each other's files for strange ones. Offloads and feeds note that
    they started, and look for the other afterwards: of two that start at once, neither goes there or one does.
    """
    under_way = Offload.objects.filter(roll=copy.roll, started_at__isnull=False, finished_at=None, held_back=False)
    return any(not targets or copy.store_id in targets for targets in under_way.values_list("targets", flat=True))


def pulled_from_reader(production: Production) -> Subquery:
    """Of a row of readers: the last offload of the production whose card was taken out of it in the middle, as JSON.

    None once somebody said that they know, or a later offload of the card was asked for, or it is in a reader again.
    A run that is still open has noticed nothing yet, or has lost its worker.
    """
    mine = OuterRef("card")
    present = Insertion.objects.filter(card=mine, removed_at=None)
    later = Offload.objects.filter(card=mine, pk__gt=OuterRef("pk"))
    seen = PullSeen.objects.filter(offload=OuterRef("pk"))
    pulled = Offload.objects.filter(
        Q(end=RunEnd.PULLED) | Q(finished_at=None, started_at__isnull=False),
        ~Exists(present), ~Exists(later), ~Exists(seen), reader=OuterRef("pk"), roll__production=production,
    )  # fmt: skip
    facts = JSONObject(offload="pk", label="card__label", tag="roll__tag", letter="roll__camera__letter")
    return Subquery(pulled.order_by("-pk").values(facts=facts)[:1])


def open_feeds(roll: Roll) -> list[Feed]:
    """Those of the roll that wait or are under way, with their stores."""
    return list(Feed.objects.filter(roll=roll, finished_at=None).select_related("copy__store").order_by("pk"))


def where_from(readings: Sequence[Reading]) -> dict[int, str]:
    """Of readings that a feed noted, by id, the store that it brought the copy from; as far as that was noted."""
    fed = {one.pk: one for one in readings if one.came_of is Origin.FEED}
    feeds = Feed.objects.filter(copy__in={one.copy_id for one in fed.values()}, came_from__isnull=False)
    rows = feeds.exclude(finished_at=None).order_by("-finished_at")
    found: dict[int, str] = {}
    for copy, ended_at, name in rows.values_list("copy", "finished_at", "came_from__name"):
        # the newest first: of those that ended after a reading, its own is the oldest
        mine = (pk for pk, one in fed.items() if one.copy_id == copy and ended_at and ended_at >= one.noted_at)
        found |= dict.fromkeys(mine, name)
    return found


def after_runs(roll: Roll, most: int) -> list[AfterRun]:
    """What was started after offloads of a roll, newest first."""
    rows = AfterRun.objects.filter(offload__roll=roll).select_related("offload__station")
    return list(rows.order_by("-pk")[:most])
