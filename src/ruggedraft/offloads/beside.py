"""What is left beside a roll's copies: checksum lists, and a record that anchors the journal outside the database."""

import json
from collections.abc import Mapping, Sequence
from functools import partial

from django.db import transaction

from ruggedraft.core.errors import RaftError
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import keep_file, keep_list
from ruggedraft.core.stores import Store
from ruggedraft.core.transfer import TransferReport
from ruggedraft.journal.anchors import RECORD_ENDING, journal_head
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.recording import is_ours, note_beside

from .models import Offload


def leave_lists(
    offload: Offload,
    present: Sequence[tuple[Copy, Store]],
    report: TransferReport,
    kept_as: Mapping[str, str],
    newest_ns: int,
) -> list[tuple[Copy, str]]:
    """A list beside each copy for each checksum that was taken; returns what could not be left."""
    trouble = []
    for (copy, store), result in zip(present, report.stores, strict=True):
        complete = result.verified and not report.cancelled
        try:
            store.open()
            for n, name in enumerate([offload.algorithm, *offload.others]):
                sums = {path: (file.checksum, *file.others)[n] for path, file in report.read.items()}
                checksums = {kept_as.get(path, path): known for path, known in sums.items() if known}
                kept = keep_list(
                    store, copy.folder, checksums, algorithm_named(name), modified_ns=newest_ns, complete=complete,
                    name=_list_name(copy), ours=partial(is_ours, copy),
                )  # fmt: skip
                if kept:
                    with transaction.atomic():
                        note_beside(copy, kept)
        except RaftError as error:
            trouble.append((copy, f"its checksum list could not be left there: {error.sentence}"))
        finally:
            store.close()
    return trouble


def leave_records(present: Sequence[tuple[Copy, Store]], newest_ns: int) -> None:
    """A small file beside each copy with the journal's head, so that a journal cut short or rewritten is found out.

    Where it cannot be left, nothing is claimed that would rest on it.
    """
    for copy, store in present:
        name = _list_name(copy)
        stem = f"{copy.folder}.{name}" if name else copy.folder
        told = {"roll": copy.roll.tag, "folder": copy.folder, "journal": journal_head()}
        content = json.dumps(told, indent=1).encode() + b"\n"
        try:
            store.open()
            kept = keep_file(
                store, stem, RECORD_ENDING, content, modified_ns=newest_ns,
                ours=partial(is_ours, copy),
            )  # fmt: skip
            with transaction.atomic():
                note_beside(copy, kept)
        except RaftError:
            continue
        finally:
            store.close()


def _list_name(copy: Copy) -> str | None:
    """Where a folder may hold several rolls, the list carries the roll's tag; None where the folder does."""
    tag = copy.roll.tag
    return None if tag.lower() in copy.folder.rpartition("/")[2].lower() else tag
