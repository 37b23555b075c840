"""Bringing files of a roll to a folder, on the station that sees it, from whatever copies of them are at hand."""

import contextlib
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from django.db import transaction

from ruggedraft.core.comparing import Contents
from ruggedraft.core.errors import RaftError, StoreError
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.transfer import FileRead, Target, feed
from ruggedraft.core.transfer.capped import RateCap
from ruggedraft.core.wording import counted, first_of
from ruggedraft.core.working import move_if_free
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.rolls.queries import where_held
from ruggedraft.runs.ending import end_run, note_start, still_open
from ruggedraft.runs.watching import Watch
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_usable
from ruggedraft.stores.probe import device_probe

from .bags import Stopped, leave_all, make_bag
from .models import Return
from .places import folder_to_write


@dataclass
class _Came:
    """What came of it. back: paths in the folder that were read back and agree. failed: by path, the last reason

    level: the weakest evidence among them
    bag: why it is no bag, where it was to be one. beside: why what was to lie beside it does not
    from_: names of the stores that files came from. aside: where what stood in a file's place was moved to
    """

    back: set[str] = field(default_factory=set)
    failed: dict[str, str] = field(default_factory=dict)
    level: Evidence = Evidence.READ_BACK
    from_: list[str] = field(default_factory=list)
    aside: dict[str, str] = field(default_factory=dict)
    bag: str = ""
    beside: str = ""
    cancelled: bool = False


_NOT_DONE = "it was stopped before"
_Files = Mapping[str, RollFile]
"""By their paths in the folder."""


def carry_out(return_id: int) -> None:
    """Bring what is not there yet, from wherever an earlier worker left it. What stands there otherwise stays."""
    one = Return.objects.select_related("roll__production", "station", "person").get(pk=return_id)
    if one.finished_at:
        return
    note_start(one)
    by_id = RollFile.objects.select_related("roll").in_bulk([pk for pk, _ in one.files])
    wanted = {from_ledger(path): by_id[pk] for pk, path in one.files}
    try:
        folder = _folder(one, wanted)
    except StoreError as error:
        _finish(one, None, error.sentence)
        return
    came = _begun(one)
    with Watch(one) as watch:
        if one.aside:
            _make_way(one, folder, wanted, came)
        _bring(one, folder, wanted, came, watch)
        _leave_with_it(one, folder, wanted, came, watch)
    _put_back(one.folder, came)
    if watch.held_back():
        return
    came.cancelled = watch.cancelled()
    _finish(one, came, back=[wanted[path].pk for path in sorted(came.back)])


def _begun(one: Return) -> _Came:
    """Nothing is there yet, but what an earlier worker moved aside; bag and the rest are not done before they are."""
    aside = {from_ledger(path): from_ledger(to) for path, to in one.moved.items()}
    return _Came(aside=aside, bag=_NOT_DONE if one.bag else "", beside=_NOT_DONE if one.beside else "")


def break_off(return_id: int, error: Exception) -> None:
    """End one that met something nobody foresaw. What it brought stands there whole, and is not claimed."""
    one = Return.objects.select_related("roll", "station").get(pk=return_id)
    _finish(one, None, f"it broke off ({error!r})", RunEnd.BROKE_OFF)


def _folder(one: Return, wanted: _Files) -> LocalStore:
    """Raises StoreError where nothing may be written there, or there is too little room."""
    folder = folder_to_write(one.folder, wanted, one.system_disk_reason, one.stands_on)
    need = sum(file.size for path, file in wanted.items() if folder.found(path) is None)
    free = device_probe().room(Path(from_ledger(one.folder))).free
    if need > free:
        raise StoreError(f"{one.folder} has room for {free:,} bytes, and {need:,} are to come")
    return folder


def _make_way(one: Return, folder: LocalStore, wanted: _Files, came: _Came) -> None:
    """Move aside what stands in a file's place and is not it, where a copy that can be reached holds the file.

    Each is noted: a worker that takes this up again knows what an earlier one moved.
    """
    reachable = {file for copy, held in _sources(wanted.values()) if _can_be_reached(copy) for file in held}
    for path, file in wanted.items():
        try:
            if file.pk in reachable and _another_stands(folder, path, file):
                came.aside[path] = folder.set_aside(path)
                moved = {to_ledger(at): to_ledger(to) for at, to in came.aside.items()}
                Return.objects.filter(pk=one.pk).update(moved=moved)
        except StoreError as error:
            came.failed[path] = error.sentence


def _can_be_reached(copy: Copy) -> bool:
    try:
        open_usable(copy.store)
    except StoreError:
        return False
    return True


def _another_stands(folder: LocalStore, path: str, file: RollFile) -> bool:
    """Whether some other file stands there; it is read, so that what is as it was is not moved. Raises StoreError."""
    found = folder.found(path)
    if found is None or not found.is_file:
        return False
    algorithm = algorithm_named(file.roll.algorithm)
    return found.size != file.size or Contents(folder).sum(path, algorithm) != file.checksum


def _put_back(folder: str, came: _Came) -> None:
    """What was moved aside for a file that did not come stands where it stood again, unless something else does."""
    root = Path(from_ledger(folder))
    for path in came.aside.keys() - came.back:
        with contextlib.suppress(OSError, StoreError):
            move_if_free(root, came.aside[path], path)
            del came.aside[path]


def _bring(one: Return, folder: LocalStore, wanted: _Files, came: _Came, watch: Watch) -> None:
    """From one copy after the other, until all is there."""
    left = {path: file for path, file in wanted.items() if path not in came.failed}
    came.failed |= dict.fromkeys(left, "no store is known to hold it")
    for copy, held in _sources(left.values()):
        here = {path: file for path, file in left.items() if file.pk in held and path not in came.back}
        if here and not watch.cancelled():  # a pause stops it too
            came.failed |= _brought(copy, folder, here, one, came, watch)
    for path in came.back:
        came.failed.pop(path, None)


def _leave_with_it(one: Return, folder: LocalStore, wanted: _Files, came: _Came, watch: Watch) -> None:
    """Once all is there, and nobody wants it to stop."""
    if came.back != wanted.keys() or watch.cancelled():
        return
    try:
        if one.bag:
            make_bag(one.roll, folder, wanted, watch)
            came.bag = ""
    except Stopped:
        came.bag = "it was cancelled"
    except RaftError as error:
        came.bag = error.sentence
    if one.beside:
        came.beside = _why_not_left(one, folder, wanted)


def _why_not_left(one: Return, folder: LocalStore, wanted: _Files) -> str:
    """Empty where all that was to lie beside the files does."""
    newest = max(file.modified_ns for file in wanted.values())
    files = {from_ledger(path): words.encode("utf-8", "surrogateescape") for path, words in one.beside.items()}
    try:
        leave_all(folder, files, newest)
    except StoreError as error:
        return error.sentence
    return ""


def _brought(copy: Copy, folder: LocalStore, files: _Files, one: Return, came: _Came, watch: Watch) -> dict[str, str]:
    """From one copy. Returns why each that did not come did not."""
    at = {from_ledger(file.path): path for path, file in files.items()}
    try:
        good = Target(open_usable(copy.store), from_ledger(copy.folder))
    except StoreError as error:
        return dict.fromkeys(files, error.sentence)
    read, kept_as = _as_on_card(files.values())
    result = feed(
        good, Target(folder, ""), read, algorithm_named(one.roll.algorithm), kept_as=kept_as, placed=at,
        cap=RateCap(one.rate), on_progress=watch.tick, cancelled=watch.cancelled,
    )  # fmt: skip
    if result.settled and result.agreed:
        came.back |= {at[path] for path in result.agreed}
        came.level = min(came.level, result.evidence)
        came.from_.append(f"'{copy.store.name}'")
    general = next((failure.reason for failure in result.failed if failure.path not in at), "it was not read back")
    told = {at[failure.path]: failure.reason for failure in result.failed if failure.path in at}
    return dict.fromkeys(files, general) | told


def _as_on_card(files: Iterable[RollFile]) -> tuple[dict[str, FileRead], dict[str, str]]:
    """What the card gave of each, by its path there; and where copies keep those that they keep elsewhere."""
    read, kept_as = dict[str, FileRead](), dict[str, str]()
    for file in files:
        read[from_ledger(file.path)] = FileRead(file.size, file.modified_ns, file.checksum)
        kept_as[from_ledger(file.path)] = from_ledger(file.kept_as or file.path)
    return read, kept_as


def _sources(files: Iterable[RollFile]) -> Iterator[tuple[Copy, set[int]]]:
    """Copies that are known to hold some of them (ids): folders first, then servers."""
    held: dict[int, set[int]] = {}
    copies: dict[int, tuple[Store, Copy]] = {}
    for file, of in where_held(files).items():
        for one in of:
            held.setdefault(one.copy.pk, set()).add(file)
            copies[one.copy.pk] = one.store, one.copy
    near_first = sorted(copies.values(), key=lambda of: (not of[0].is_local, of[0].position))
    for store, copy in near_first:
        copy.store = store
        yield copy, held[copy.pk]


@transaction.atomic
def _finish(
    one: Return, came: _Came | None, trouble: str = "", end: RunEnd = RunEnd.TROUBLE, back: Sequence[int] = ()
) -> None:
    if not still_open(one):
        return
    asked = len(one.files)
    where = f"{counted(asked, 'file')} of {one.roll.tag} to {one.folder}"
    if came is None:
        end_run(one, end, f"{where} could not be brought: {trouble}. Nothing there was overwritten.{_moved(one.moved)}")
        return
    Return.objects.filter(pk=one.pk).update(back=list(back))
    end_run(one, _end(came, asked), _sentence(where, came, asked) + _of_bag(one, came))
    changed(Topic.COMPARING)


def _end(came: _Came, asked: int) -> RunEnd:
    if came.cancelled:
        return RunEnd.CANCELLED
    well = len(came.back) == asked and came.level >= Evidence.READ_BACK and not (came.bag or came.beside)
    return RunEnd.WELL if well else RunEnd.TROUBLE


def _of_bag(one: Return, came: _Came) -> str:
    """Nothing where not all is there: then that is said."""
    if len(came.back) < len(one.files):
        return ""
    if came.beside:
        return f" What was to lie beside it does not: {came.beside}."
    if came.bag:
        return f" It is no bag: {came.bag}."
    return " It is a bag (BagIt, SHA-256): any program for those checks it." if one.bag else ""


def _sentence(where: str, came: _Came, asked: int) -> str:
    read = came.level >= Evidence.READ_BACK
    proven = "read back, as they were taken" if read else "as they were taken, as far as this machine's memory tells"
    moved = _moved(came.aside)
    if len(came.back) == asked:
        source = f" from {first_of(came.from_, 3)}" if came.from_ else ""
        return f"{where}: all are there{source}, {proven}.{moved}"
    how = "it was cancelled; " if came.cancelled else ""
    path, reason = next(iter(sorted(came.failed.items())), ("", ""))
    why = f" First: {to_ledger(path)}: {reason}." if path and not came.cancelled else ""
    there = f"{len(came.back):,} of {asked:,} are there, {proven}" if came.back else "none of them is there"
    return f"{where}: {how}{there}.{why}{moved}"


def _moved(aside: Mapping[str, str]) -> str:
    """Where what stood there otherwise is, as a sentence; empty where nothing was moved."""
    files = counted(len(aside), "other file that stood there is", "other files that stood there are")
    return f" {files} in .raft-set-aside of that folder now." if aside else ""
