"""Leaving an ASC MHL history in copies' folders, where the plan asks: a generation for each run that brought a file."""

from collections.abc import Mapping, Sequence
from functools import partial

from django.conf import settings
from django.db import transaction

from ruggedraft.core.errors import RaftError
from ruggedraft.core.manifests import Kept
from ruggedraft.core.manifests.keeping import content_at, keep_exactly
from ruggedraft.core.manifests.mhl import FOLDER, Creator, History, ToList, new_generation, read_history
from ruggedraft.core.manifests.mhl.hashes import HASHES
from ruggedraft.core.manifests.mhl.history import CHAIN
from ruggedraft.core.sources import from_ledger
from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import StoreResult, TransferReport
from ruggedraft.journal.clock import now
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.queries import files_held
from ruggedraft.rolls.recording import is_ours, note_beside
from ruggedraft.runs.models import Run

from .beside import list_name
from .models import Offload


def leave_histories(
    offload: Offload,
    run: Run,
    present: Sequence[tuple[Copy, Store]],
    report: TransferReport,
    kept_as: Mapping[str, str],
) -> list[tuple[Copy, str]]:
    """A further generation in each copy that is whole now; what could not be left, by copy.

    Nothing in a folder that holds other rolls too, or in a copy whose card brought an `ascmhl` of its own.
    run: what brought it. kept_as: names on the stores by those on the card
    """
    if not offload.roll.camera.plan.mhl or report.cancelled:
        return []
    trouble = []
    for (copy, store), result in zip(present, report.stores, strict=True):
        if not result.verified or list_name(copy):
            continue
        try:
            store.open()
            _leave(copy, store, _files(offload, copy, result, report, kept_as), _creator(run, copy))
        except RaftError as error:
            trouble.append((copy, f"its ASC MHL history could not be left there: {error.sentence}"))
        finally:
            store.close()
    return trouble


def _files(
    offload: Offload, copy: Copy, result: StoreResult, report: TransferReport, kept_as: Mapping[str, str]
) -> list[ToList]:
    """What agrees there now, and what was known to be there before."""
    names = (offload.algorithm, *offload.others)
    found = {}
    for file in files_held(copy):
        sums = {offload.roll.algorithm: file.checksum, **file.others}
        path = from_ledger(file.kept_as or file.path)
        found[path] = ToList(path, file.size, file.modified_ns, _known(sums))
    for on_card in result.agreed & report.read.keys():
        read, path = report.read[on_card], kept_as.get(on_card, on_card)
        sums = dict(zip(names, (read.checksum, *read.others), strict=True))
        found[path] = ToList(path, read.size, read.modified_ns, _known(sums))
    return list(found.values())


def _known(sums: Mapping[str, str]) -> dict[str, str]:
    """Those that ASC MHL knows."""
    return {name: said for name, said in sums.items() if name in HASHES and said}


def _creator(run: Run, copy: Copy) -> Creator:
    return Creator(
        now(), run.station.name, "Rugged Raft", settings.VERSION, run.person.shown_name,
        comment=f"{copy.roll.tag} on {copy.store.name}",
    )  # fmt: skip


def _leave(copy: Copy, store: Store, files: Sequence[ToList], creator: Creator) -> None:
    """Raises RaftError."""
    if not files or any(file.path.split("/")[0] == FOLDER for file in files):
        return
    home = f"{copy.folder}/{FOLDER}"
    history = read_history(lambda name: content_at(store, f"{home}/{name}"))
    if history.generations and _says(history) == {file.path: file.sums for file in files}:
        return
    root = copy.folder.rpartition("/")[2]
    made = new_generation(history, content_at(store, f"{home}/{CHAIN}"), root, files, creator)
    newest = max(file.modified_ns for file in files)
    for name in sorted(made, key=lambda one: one == CHAIN):  # the chain last: it names nothing that is not there
        path = f"{home}/{name}"
        keep_exactly(store, path, made[name], modified_ns=newest, ours=partial(is_ours, copy))
        with transaction.atomic():
            note_beside(copy, Kept(path, made[name]))


def _says(history: History) -> dict[str, Mapping[str, str]]:
    return {file.path: file.sums for file in history.generations[-1].files}
