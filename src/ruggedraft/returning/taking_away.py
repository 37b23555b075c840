"""Writing what is seen of a roll to a folder: pictures, light copies, marks and notes, and a page that shows them."""

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from zoneinfo import ZoneInfo

from django.db import transaction

from ruggedraft.choosing.models import Mark
from ruggedraft.core.cards.media import MediaFacts, MediaKind
from ruggedraft.core.choosing import IN_WORDS, MarkKind
from ruggedraft.core.errors import StoreError
from ruggedraft.core.pictures import PictureKind
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.transfer import Progress
from ruggedraft.core.transfer.progress import ticking
from ruggedraft.core.wording import counted
from ruggedraft.core.working import ClipShown, clear_leftovers, new_file, page
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.notes.models import Note
from ruggedraft.pictures.keeping import pictures_kept
from ruggedraft.pictures.queries import ClipSeen, clips_after
from ruggedraft.rolls.models import Roll
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.runs.watching import Watch

from .models import TakeAway
from .places import folder_to_write

_A_PAGE = 200
_ENDINGS = {PictureKind.SMALL: "jpg", PictureKind.LARGE: "jpg", PictureKind.LIGHT: "mp4"}


@dataclass
class _Written:
    """How many clips there are, have a picture, and can be played."""

    clips: int = 0
    pictures: int = 0
    played: int = 0


def carry_out(run_id: int) -> None:
    """Write what is not there yet; the page comes last, so that it names nothing that is not there."""
    one = TakeAway.objects.select_related("roll__production", "roll__camera", "station", "person").get(pk=run_id)
    if one.finished_at:
        return
    note_start(one)
    written = _Written()
    try:
        folder_to_write(one.folder, [f"{one.name}/index.html"])
        folder = Path(from_ledger(one.folder))
        clear_leftovers(folder / one.name)
        with Watch(one) as watch:
            if not _write_all(one, folder, written, watch):
                if not watch.held_back():
                    _finish(one, written, cancelled=True)
                return
    except (StoreError, OSError) as error:
        _finish(one, written, trouble=str(error))
        return
    _finish(one, written)


def break_off(run_id: int, error: Exception) -> None:
    """End one that met something nobody foresaw."""
    one = TakeAway.objects.select_related("roll", "station").get(pk=run_id)
    _finish(one, _Written(), trouble=f"it broke off ({error!r})", end=RunEnd.BROKE_OFF)


def _write_all(one: TakeAway, folder: Path, written: _Written, watch: Watch) -> bool:
    """False where it was stopped. Raises StoreError."""
    clips = list(_clips(one.roll))
    said = _said_of(one.roll) if one.words else {}
    progress = Progress(len(clips), len(clips))
    shown = []
    with ticking(watch.tick, progress):
        for seen in clips:
            if watch.cancelled():
                return False
            shown.append(_shown(one, folder, seen, said.get(seen.file.pk, []), written))
            progress.read += 1
    zone = ZoneInfo(one.roll.production.time_zone)
    made = f"{one.roll.production.name}, {one.asked_at.astimezone(zone):%Y-%m-%d %H:%M}, by {one.person.shown_name}."
    general = said.get(0, [])
    text = page(f"Roll {one.roll.tag}, {one.roll.shoot_day}", " ".join([made, *general]), shown)
    _write(folder, f"{one.name}/index.html", text.encode())
    return True


def _clips(roll: Roll) -> Iterator[ClipSeen]:
    after: str | None = ""
    while after is not None:
        found, after = clips_after(roll, after, _A_PAGE)
        yield from found


def _shown(one: TakeAway, folder: Path, seen: ClipSeen, said: list[str], written: _Written) -> ClipShown:
    name = seen.file.path.rpartition("/")[2]
    at = {kind: _put(one, folder, seen, kind) for kind in _ENDINGS if kind in seen.pictures}
    picture = at.get(PictureKind.LARGE) or at.get(PictureKind.SMALL) or ""
    light = at.get(PictureKind.LIGHT) or ""
    written.clips += 1
    written.pictures += bool(picture)
    written.played += bool(light)
    return ClipShown(name, _says(seen.facts), said, picture, light, seen.facts.kind is MediaKind.SOUND)


def _put(one: TakeAway, folder: Path, seen: ClipSeen, kind: PictureKind) -> str:
    """Write one of a clip's pictures; where it is, from the page on. Empty where it was lost. Raises StoreError."""
    data = pictures_kept().get(seen.pictures[kind])
    if data is None:
        return ""
    path = f"media/{seen.file.pk}_{kind.value}.{_ENDINGS[kind]}"
    _write(folder, f"{one.name}/{path}", data)
    return path


def _write(folder: Path, path: str, data: bytes) -> None:
    """Unless it is there already, from an earlier worker of the same run: its folder is the run's own."""
    if (folder / path).is_file():
        return
    with new_file(folder, path) as made:
        view = memoryview(data)
        while view:
            view = view[os.write(made.descriptor, view) :]
        made.keep()


def _says(facts: MediaFacts) -> str:
    size = f"{facts.width} by {facts.height}" if facts.width and facts.height else ""
    length = f"{facts.duration_s:.1f} s" if facts.duration_s else ""
    start = f"from {facts.timecode}" if facts.timecode else ""
    return ", ".join(part for part in (facts.body, length, size, facts.codec, start) if part)


def _said_of(roll: Roll) -> dict[int, list[str]]:
    """Marks and notes by the file that they are about; those of the whole roll under 0."""
    found: dict[int, list[str]] = {}
    for mark in Mark.objects.filter(roll=roll, withdrawn_at=None).select_related("by").order_by("pk"):
        where = f" at {mark.timecode}" if mark.timecode else ""
        words = f": {mark.words}" if mark.words else ""
        line = f"{mark.by.shown_name}: {IN_WORDS[MarkKind(mark.kind)]}{where}{words}"
        found.setdefault(mark.file_id, []).append(line)
    for note in Note.objects.filter(roll=roll, withdrawn_at=None).select_related("by").order_by("pk"):
        found.setdefault(note.clip_id or 0, []).append(f"{note.by.shown_name}: {note.words}")
    return found


@transaction.atomic
def _finish(
    one: TakeAway, written: _Written, *, trouble: str = "", cancelled: bool = False, end: RunEnd = RunEnd.TROUBLE
) -> None:
    if not still_open(one):
        return
    where = f"What is seen of {one.roll.tag} in {one.folder}/{one.name}"
    if trouble:
        end_run(one, end, f"{where} is not complete: {trouble}. Nothing there was overwritten.")
    elif cancelled:
        end_run(one, RunEnd.CANCELLED, f"{where} is not complete: it was cancelled, and has no page.")
    else:
        what = f"{counted(written.clips, 'clip')}, {written.pictures:,} with a picture, {written.played:,} to play"
        end_run(one, RunEnd.WELL, f"{where}: {what}. Open index.html.")
    changed(Topic.COMPARING)
