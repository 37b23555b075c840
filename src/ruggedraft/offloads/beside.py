"""What is left beside a roll's copies: checksum lists, and a record that anchors the journal outside the database."""

from collections.abc import Mapping, Sequence
from functools import partial

from django.db import transaction
from django.forms import model_to_dict

from ruggedraft.core.errors import RaftError
from ruggedraft.core.hashing import algorithm_named
from ruggedraft.core.manifests import RecordedFile, RollRecord, format_record, keep_file, keep_list
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
                    name=list_name(copy), ours=partial(is_ours, copy),
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
        name = list_name(copy)
        stem = f"{copy.folder}.{name}" if name else copy.folder
        content = format_record(record_of(copy))
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


def record_of(copy: Copy) -> RollRecord:
    """Everything that a ledger would need to know of a roll, if all but its copies were lost."""
    whole = Copy.objects.select_related("roll__camera__production__rule", "roll__card", "store__device__location")
    copy = whole.get(pk=copy.pk)
    roll, store, camera, card = copy.roll, copy.store, copy.roll.camera, copy.roll.card
    production = camera.production
    rows = roll.files.order_by("path").values_list("path", "size", "modified_ns", "checksum", "fingerprint", "kept_as")
    return RollRecord(
        journal=journal_head(),
        roll={
            "tag": roll.tag, "number": roll.number, "day": roll.shoot_day.isoformat(),
            "opened_at": roll.opened_at.isoformat(), "algorithm": roll.algorithm, "fs_serial": roll.fs_serial,
        },
        folder=copy.folder,
        production={
            "name": production.name, "slug": production.slug, "time_zone": production.time_zone,
            "first_day": production.first_day.isoformat(), "day_starts_at": production.day_starts_at,
            "rule": model_to_dict(production.rule, exclude=["id", "production"]),
        },
        camera={"letter": camera.letter, "name": camera.name, "kind": camera.kind},
        card={"label": card.label, "kind": card.kind, "capacity": card.capacity},
        store={
            "uuid": str(store.uuid), "name": store.name, "kind": store.kind, "device": store.device.name,
            "medium": store.device.medium, "place": store.device.location.name,
            "offsite": store.device.location.offsite,
        },
        files=[RecordedFile(*row) for row in rows],
    )  # fmt: skip


def list_name(copy: Copy) -> str | None:
    """Where a folder may hold several rolls, the list carries the roll's tag; None where the folder does."""
    tag = copy.roll.tag
    return None if tag.lower() in copy.folder.rpartition("/")[2].lower() else tag
