"""Making working copies on the station that sees the folder, behind every card, one recording after the other."""

import time
from collections.abc import Mapping
from pathlib import Path

from django.conf import settings
from django.db import transaction

from ruggedraft.core.errors import Conflict, SourceChanged, StoreError
from ruggedraft.core.pictures import CannotBeShown, GaveWay
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.sources.port import OpenFile
from ruggedraft.core.transfer import Progress
from ruggedraft.core.transfer.progress import ticking
from ruggedraft.core.wording import counted, first_of
from ruggedraft.core.working import clear_leftovers, make_working_copy, new_file, why_not_the_same
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.pictures.due import copies_here
from ruggedraft.pictures.reading import Copies, NoneHoldsIt, checksum_of, facts_of, of_a_copy, opened
from ruggedraft.rolls.models import RollFile
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.probe import device_probe

from .models import MakingOfCopies
from .places import folder_to_write

_KEEP_FREE, _SHARE = 10**9, 50
"""Bytes that stay free on the drive; of a small one a fiftieth of it."""
_WAIT_S = 2.0
_FONT = Path(settings.ROOT, "web", "node_modules", "@fontsource", "atkinson-hyperlegible", "files",
             "atkinson-hyperlegible-latin-400-normal.woff2")  # fmt: skip


class _Stopped(Exception):
    """Nothing more can be made: the folder is gone, or full."""


def carry_out(run_id: int) -> None:
    """Make what is not there yet, from wherever an earlier worker left it."""
    one = MakingOfCopies.objects.select_related("roll__production", "station", "person").get(pk=run_id)
    if one.finished_at:
        return
    note_start(one)
    rows = RollFile.objects.select_related("roll", "known_media__media").filter(pk__in=one.files)
    files = _placed(one, list(rows.order_by("path")))
    try:
        folder_to_write(one.folder, files)
        if one.burn_in and not _FONT.is_file():
            raise StoreError("what name and timecode are written with is not installed on this station's machine")
        clear_leftovers(Path(from_ledger(one.folder), f"{one.roll.tag}_{one.recipe.name}"))
    except (StoreError, OSError) as error:
        _finish(one, [], trouble=str(error))
        return
    with Watch(one) as watch:
        made = _make_all(one, files, watch)
    if watch.held_back():
        return
    _finish(one, made, cancelled=watch.cancelled())


def break_off(run_id: int, error: Exception) -> None:
    """End one that met something nobody foresaw."""
    one = MakingOfCopies.objects.select_related("roll", "station").get(pk=run_id)
    _finish(one, [], trouble=f"it broke off ({error!r})", end=RunEnd.BROKE_OFF)


def _placed(one: MakingOfCopies, files: list[RollFile]) -> dict[str, RollFile]:
    """By their paths in the folder: as copies keep them, with another ending, in a folder of roll and recipe."""
    found: dict[str, RollFile] = {}
    top = f"{one.roll.tag}_{one.recipe.name}"
    for file in files:
        kept = from_ledger(file.kept_as or file.path)
        stem = kept.rpartition(".")[0] if "." in kept.rpartition("/")[2] else kept
        path = f"{top}/{stem}.{one.recipe.ending}"
        found[path if path not in found else f"{top}/{kept}.{one.recipe.ending}"] = file
    return found


_Made = list[tuple[int, str, str]]


def _make_all(one: MakingOfCopies, files: Mapping[str, RollFile], watch: Watch) -> _Made:
    made: _Made = []
    progress = Progress(sum(file.size for file in files.values()), len(files))
    copies = opened(copies_here(one.roll, one.station))
    with ticking(watch.tick, progress):
        for path, file in files.items():
            if watch.cancelled():
                break
            before = progress.read
            try:
                note = _until_made(one, path, file, copies, progress, watch)
            except GaveWay:
                break
            except _Stopped as stopped:
                made.append((file.pk, to_ledger(path), str(stopped)))
                break
            progress.read = before + file.size
            made.append((file.pk, to_ledger(path), note))
    return made


def _until_made(
    one: MakingOfCopies, path: str, file: RollFile, copies: Copies, progress: Progress, watch: Watch
) -> str:  # fmt: skip
    """Why there is no working copy; empty where there is. What a card interrupts is begun anew. Raises GaveWay."""
    before = progress.read
    while True:
        try:
            return _make(one, path, file, copies, progress, watch)
        except GaveWay:
            progress.read = before
            while _a_card_is_worked_on(one):
                if watch.cancelled():
                    raise
                time.sleep(_WAIT_S)
            if watch.cancelled():
                raise


def _a_card_is_worked_on(one: MakingOfCopies) -> bool:
    return Offload.objects.filter(station=one.station, finished_at=None, held_back=False).exists()


def _make(
    one: MakingOfCopies, path: str, file: RollFile, copies: Copies, progress: Progress, watch: Watch
) -> str:  # fmt: skip
    """Of a copy that is what was taken: it is read whole for that first. See `_until_made`."""
    facts, before = facts_of(file), progress.read
    folder = Path(from_ledger(one.folder))

    def has_to_wait() -> bool:
        return watch.cancelled() or _a_card_is_worked_on(one)

    def on_second(seconds: float) -> None:
        share = min(1.0, seconds / facts.duration_s) if facts.duration_s else 0.0
        progress.read = before + round(file.size * share)

    def work(source: OpenFile) -> str:
        if checksum_of(source, file.roll.algorithm, has_to_wait) != file.checksum:
            raise SourceChanged("it is not what was taken any more")  # another copy may be
        there = Path(folder, path)
        if there.exists():
            with there.open("rb") as found:
                why = why_not_the_same(source.descriptor(), found.fileno(), facts, has_to_wait)
            return f"something else stands at {path}: {why}" if why else ""
        room = _room_in(folder)
        name = file.path.rpartition("/")[2]
        with new_file(folder, path) as made:
            make_working_copy(
                source.descriptor(), facts, one.recipe, name, made.descriptor, font=_FONT, most=room,
                on_second=on_second, has_to_wait=has_to_wait,
            )  # fmt: skip
            why = why_not_the_same(source.descriptor(), made.descriptor, facts, has_to_wait)
            if not why:
                made.keep()
        return why

    try:
        found = of_a_copy(file, copies, work)
    except (CannotBeShown, NoneHoldsIt, Conflict) as problem:
        return str(problem)
    except StoreError as error:
        raise _Stopped(error.sentence) from error
    return "no verified copy of it is connected to this station" if found is None else found[1]


def _room_in(folder: Path) -> int:
    """Bytes that one more file may have. Raises _Stopped where there are none."""
    room = device_probe().room(folder)
    left = room.free - min(_KEEP_FREE, room.total // _SHARE)
    if left <= 0:
        raise _Stopped(f"there is no room in {folder}, of which a little stays free")
    return left


@transaction.atomic
def _finish(
    one: MakingOfCopies, made: _Made, *, trouble: str = "", cancelled: bool = False, end: RunEnd = RunEnd.TROUBLE
) -> None:
    if not still_open(one):
        return
    MakingOfCopies.objects.filter(pk=one.pk).update(made=[list(row) for row in made])
    where = f"Working copies of {one.roll.tag} in {one.folder}"
    if trouble:
        end_run(one, end, f"{where} could not be made: {trouble}. Nothing there was overwritten.")
        return
    well = sum(not why for _, _, why in made)
    end_run(one, _end(well, len(one.files), cancelled=cancelled), f"{where}: {_sentence(one, made, well, cancelled)}")
    changed(Topic.COMPARING)


def _end(well: int, asked: int, *, cancelled: bool) -> RunEnd:
    if cancelled:
        return RunEnd.CANCELLED
    return RunEnd.WELL if well == asked else RunEnd.TROUBLE


def _sentence(one: MakingOfCopies, made: _Made, well: int, cancelled: bool) -> str:
    """well: how many have one."""
    asked = len(one.files)
    each = "has one that matches and decodes" if asked == 1 else "have one that matches and decodes"
    how = "it was cancelled; " if cancelled else ""
    not_made = [f"{path.rpartition('/')[2]}: {why}" for _, path, why in made if why]
    rest = f" Not made: {first_of(not_made, 5)}." if not_made else ""
    return f"{how}{well:,} of {counted(asked, 'recording')} {each}.{rest}"
