from collections.abc import Sequence
from datetime import timedelta

from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotThere
from ruggedraft.core.wording import counted, one_line
from ruggedraft.core.working import MOST as MOST_LISTED
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.kit.stations import looks_queue, readings_queue
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Production

from ..models import FolderLook
from ..places import checked_folder, refuse_away

_GIVEN_UP_AFTER = timedelta(minutes=60)
_KEPT = 20


@transaction.atomic
def look_into_folder(
    person: Person, production: Production, station: Station, folder: str, *, by_content: bool = False,
    list_name: str = "", listed: Sequence[str] = (),
) -> FolderLook:  # fmt: skip
    """Have a station say what of a folder that somebody works in is not as it was. Raises ActRefused.

    by_content: read everything, which may take hours; else names and sizes are compared
    listed: paths that a project names, from a list of this name; empty: the rolls that seem to lie there are looked for
    """
    from ..tasks import look_into_folder as task

    require(person, May.CHECK, production.pk)
    folder = checked_folder(folder)
    refuse_away(station)
    if len(listed) > MOST_LISTED:
        raise ActRefused(f"At most {MOST_LISTED:,} files are looked for at a time: these are {len(listed):,}.")
    mine = FolderLook.objects.filter(production=production)
    since = now() - _GIVEN_UP_AFTER
    going = mine.filter(station=station, folder=folder, finished_at=None, asked_at__gt=since)
    if going.exists():
        raise ActRefused(f"{folder} is being looked into already.")
    old = mine.order_by("-pk").values_list("pk", flat=True)[_KEPT - 1 :]
    mine.filter(pk__in=list(old)).delete()
    look = FolderLook.objects.create(
        production=production, station=station, person=person, asked_at=now(), folder=folder, by_content=by_content,
        list_name=one_line(list_name)[:200] if listed else "", listed=list(listed),
    )  # fmt: skip
    what = f" for {counted(len(listed), 'file')} that {look.list_name or 'a list'} names" if listed else ""
    how = "by content" if by_content else "by names and sizes"
    write(
        "look into folder", station.name, f"{folder} on {station.name} is to be looked into{what}, {how}.",
        person=person, origin=station.name, production=production.pk,
    )  # fmt: skip
    changed(Topic.COMPARING)
    queue = readings_queue(station) if by_content else looks_queue(station)
    task.configure(queue=queue).defer(look_id=look.pk)
    return look


@transaction.atomic
def stop_looking(person: Person, production: Production, look_id: int) -> None:
    """Have one that is under way end without having found anything. Raises ActRefused, NotThere."""
    require(person, May.CHECK, production.pk)
    rows = FolderLook.objects.select_for_update(no_key=True, of=("self",)).select_related("station")
    look = rows.filter(production=production, pk=look_id).first()
    if look is None:
        raise NotThere("There is no such look into a folder any more.")
    if look.finished_at:
        raise ActRefused("This folder is not being looked into now.")
    if look.stopped_by_id is None:
        look.stopped_by = person
        look.save(update_fields=["stopped_by"])
        write("stop looking", look.station.name, f"Looking into {look.folder} on {look.station.name} is to stop.",
              person=person, production=production.pk)  # fmt: skip
        changed(Topic.COMPARING)
