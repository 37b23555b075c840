from django.db import transaction

from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import RollFile

from ..models import Consignment, Fetched


@transaction.atomic
def note_fetched(consignment: Consignment, file: RollFile, first: int, size: int, origin: str) -> None:
    """Bytes of a file went out by the link: from `first` on, so many. Whether they arrived is not known by that."""
    Fetched.objects.create(consignment=consignment, file=file, first=first, size=size, at=now(), origin=origin[:80])
    part = "" if (first, size) == (0, file.size) else f", bytes {first:,} to {first + size:,} of {file.size:,}"
    words = f"{file.roll.tag} {file.path} went out by the link for {consignment.to}{part}."
    write("fetch", consignment.to, words, person=None, origin=origin[:80], production=consignment.production_id,
          detail={"consignment": consignment.pk})  # fmt: skip
    changed(Topic.DELIVERIES, production=consignment.production_id)


@transaction.atomic
def note_fetched_paper(consignment: Consignment, what: str, origin: str) -> None:
    """A list, an account or the page itself was fetched by the link."""
    words = f"{what} was fetched by the link for {consignment.to}."
    write("fetch", consignment.to, words, person=None, origin=origin[:80], production=consignment.production_id,
          detail={"consignment": consignment.pk})  # fmt: skip
