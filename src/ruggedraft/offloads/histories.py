"""Leaving an ASC MHL history in copies' folders, where the plan asks: a generation for each run that brought a file."""

from collections.abc import Mapping, Sequence

from django.conf import settings
from django.db import transaction

from ruggedraft.core.errors import RaftError
from ruggedraft.core.manifests import Kept
from ruggedraft.core.manifests.keeping import Ours, content_at, keep_exactly
from ruggedraft.core.manifests.mhl import FOLDER, Creator, History, Reading, ToList, new_generation, read_history
from ruggedraft.core.manifests.mhl.hashes import HASHES
from ruggedraft.core.manifests.mhl.history import CHAIN
from ruggedraft.core.sources import from_ledger, list_card
from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import StoreResult, TransferReport
from ruggedraft.journal.clock import now
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.recording import Began, is_ours, note_beside
from ruggedraft.runs.models import Run

from .beside import list_name
from .models import Offload


def leave_histories(
    offload: Offload,
    run: Run,
    began: Began,
    present: Sequence[tuple[Copy, Store]],
    report: TransferReport,
    kept_as: Mapping[str, str],
) -> list[tuple[Copy, str]]:
    """A further generation of what was read back now, in each copy that agrees; what could not be left, by copy.

    Nothing in a folder that holds other rolls too, or in a copy whose card brought an `ascmhl` of its own.
    run: what brought it, and began so. kept_as: names on the stores by those on the card
    """
    if not offload.roll.camera.plan.mhl or report.cancelled:
        return []
    trouble = []
    for (copy, store), result in zip(present, report.stores, strict=True):
        if not result.verified or list_name(copy) or store.closes:
            continue
        try:
            store.open()
            files = _read_back(offload, result, report, kept_as)
            _leave(copy, store, _reading(store, copy.folder, files, began), _creator(run, copy))
        except RaftError as error:
            trouble.append((copy, f"its ASC MHL history could not be left there: {error.sentence}"))
        finally:
            store.close()
    return trouble


def _read_back(
    offload: Offload, result: StoreResult, report: TransferReport, kept_as: Mapping[str, str]
) -> list[ToList]:
    """In this run. What an earlier one read is not said to be verified anew."""
    names = (offload.algorithm, *offload.others)
    files = []
    for on_card in result.agreed & report.read.keys():
        read = report.read[on_card]
        sums = dict(zip(names, (read.checksum, *read.others), strict=True))
        files.append(ToList(kept_as.get(on_card, on_card), read.size, read.modified_ns, _known(sums)))
    return files


def _reading(store: Store, folder: str, files: Sequence[ToList], began: Began) -> Reading:
    """Beside what else lies there now: sums of folders are told only of what was read to its last file."""
    there = [entry for entry in list_card(store.as_source(folder)).entries if entry.path.split("/")[0] != FOLDER]
    others = {entry.path for entry in there if entry.needs_cover} - {file.path for file in files}
    above = {entry.path.rpartition("/")[0] for entry in there}
    empty = [entry.path for entry in there if not entry.needs_cover and entry.path not in above]
    return Reading(files, began.at, whole=not others, empty=empty)


def _known(sums: Mapping[str, str]) -> dict[str, str]:
    """Those that ASC MHL knows."""
    return {name: said for name, said in sums.items() if name in HASHES and said}


def _creator(run: Run, copy: Copy) -> Creator:
    return Creator(
        now(), run.station.name, "Rugged Raft", settings.VERSION, run.person.shown_name,
        comment=f"{copy.roll.tag} on {copy.store.name}",
    )  # fmt: skip


def _leave(copy: Copy, store: Store, reading: Reading, creator: Creator) -> None:
    """Raises RaftError."""
    home = f"{copy.folder}/{FOLDER}"
    if not reading.files or _brought_its_own(copy):
        return
    history = read_history(lambda name: content_at(store, f"{home}/{name}"))
    if _is_known(history, reading.files):
        return
    root, chain = copy.folder.rpartition("/")[2], content_at(store, f"{home}/{CHAIN}")
    made = new_generation(history, chain, root, reading, creator)
    ours = _ours(copy, store, home, history)
    newest = max(file.modified_ns for file in reading.files)
    for name in sorted(made, key=lambda one: one == CHAIN):  # the chain last: it names nothing that is not there
        path = f"{home}/{name}"
        keep_exactly(store, path, made[name], modified_ns=newest, ours=ours)
        with transaction.atomic():
            note_beside(copy, Kept(path, made[name]))


def _brought_its_own(copy: Copy) -> bool:
    return any(from_ledger(path).split("/")[0] == FOLDER for path in copy.roll.files.values_list("path", flat=True))


def _is_known(history: History, files: Sequence[ToList]) -> bool:
    """Whether a generation of these would say nothing that the history does not."""
    known = history.expected()
    return all(known.get(file.path, {}).items() >= file.sums.items() for file in files)


def _ours(copy: Copy, store: Store, home: str, history: History) -> Ours:
    """What was left there by us. A chain is, where each list that it names is: whoever was killed between leaving a
    chain and noting it would else have to leave that history alone for ever.
    """

    def ours(path: str, content: bytes) -> bool:
        if is_ours(copy, path, content):
            return True
        lists = [f"{home}/{one.name}" for one in history.generations]
        return path == f"{home}/{CHAIN}" and all(is_ours(copy, one, content_at(store, one) or b"") for one in lists)

    return ours
