"""What a unit hands in: everything of its production, line by line."""

import base64
import hashlib
import hmac
from collections.abc import Iterator

from pydantic import BaseModel

from ruggedraft.clearing.card_list import card_lines
from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.models import Clearance, Hold
from ruggedraft.core.redundancy import CardLife
from ruggedraft.crew.models import Person
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.notes.models import Note
from ruggedraft.productions.models import Camera, Production, UnitAway
from ruggedraft.rolls.models import Copy, Reading, Roll, RollFile, Take
from ruggedraft.stores.queries import stores_in

from .lines import (
    VERSION,
    CameraLine,
    CardLine,
    ClearedLine,
    CopyLine,
    DeviceLost,
    EndLine,
    EntryLine,
    FileLine,
    HeadLine,
    HoldLine,
    NoteLine,
    PersonLine,
    ReadingLine,
    RollLine,
    StoreLine,
    TakeLine,
)
from .queries import secret_of

_AT_A_TIME = 2000


def handed_in(production: Production, unit: UnitAway) -> Iterator[bytes]:
    """Each line with its end. unit: that this ledger is"""
    digest, seal, count = hashlib.sha256(), hmac.new(secret_of(unit), digestmod="sha256"), 0
    for line in _lines(production, unit):
        made = _written(line)
        digest.update(made)
        seal.update(made)
        count += 1
        yield made
    yield _written(EndLine(lines=count, sha256=digest.hexdigest(), hmac=seal.hexdigest()))


def _written(line: BaseModel) -> bytes:
    return line.model_dump_json(by_alias=True).encode() + b"\n"


def _lines(production: Production, unit: UnitAway) -> Iterator[BaseModel]:
    yield HeadLine(
        version=VERSION, production=production.uuid, production_name=production.name, unit=unit.uuid,
        unit_name=unit.name, at=now(),
    )  # fmt: skip
    for person in Person.objects.order_by("pk"):
        yield PersonLine(id=person.pk, username=person.username, name=person.shown_name)
    for camera in Camera.objects.filter(production=production).order_by("pk"):
        yield CameraLine(id=camera.pk, letter=camera.letter, name=camera.name, is_a=camera.kind)
    yield from _cards(production)
    yield from _stores(production)
    yield from _rolls(production)
    yield from _copies(production)
    yield from _said(production)
    yield from _entries(production)


_NOT_WITH_US = (CardLife.HANDED_BACK, CardLife.IN_CAMERA, CardLife.NEW)


def _cards(production: Production) -> Iterator[BaseModel]:
    cards = active_cards().filter(camera__production=production)
    for line in card_lines(cases(cards)):
        card = line.case.card
        yield CardLine(
            id=card.pk, label=card.label, is_a=card.kind, capacity=card.capacity, camera=card.owner.pk,
            serials=sorted(card.serials.values_list("serial", flat=True)), whereabouts=line.whereabouts,
            with_us=line.life not in _NOT_WITH_US,
        )  # fmt: skip


def _stores(production: Production) -> Iterator[BaseModel]:
    lost: dict[int, list[DeviceLost]] = {}
    for one in DeviceLoss.objects.filter(device__stores__productions=production).distinct().order_by("pk"):
        found_after = one.found_after if one.found_at else None
        lost.setdefault(one.device_id, []).append(DeviceLost(id=one.pk, reason=one.reason, found_after=found_after))
    for store in stores_in(production.pk):
        device = store.device
        yield StoreLine(
            id=store.pk, uuid=store.uuid, name=store.name, is_a=store.kind, device=device.name, medium=device.medium,
            place=device.location.name, offsite=device.location.offsite, stands_on=sorted(store.identities),
            path=store.path, inside=store.inside, volume=store.volume, file_system=store.file_system,
            landing=store.landing, system_disk_reason=store.system_disk_reason, retired=store.retired_at is not None,
            losses=lost.get(device.pk, []),
        )  # fmt: skip


def _rolls(production: Production) -> Iterator[BaseModel]:
    for roll in Roll.objects.filter(production=production).order_by("pk"):
        yield RollLine(
            id=roll.pk, camera=roll.camera_id, card=roll.card_id, number=roll.number, tag=roll.tag,
            shoot_day=roll.shoot_day, opened_at=roll.opened_at, algorithm=roll.algorithm, fs_serial=roll.fs_serial,
            double_of=roll.double_of_id,
        )  # fmt: skip
    for take in Take.objects.filter(roll__production=production).order_by("pk"):
        yield TakeLine(id=take.pk, roll=take.roll_id, person=take.person_id, at=take.at)
    files = RollFile.objects.filter(roll__production=production).order_by("pk")
    for file in files.iterator(_AT_A_TIME):
        yield FileLine(
            id=file.pk, take=file.take_id, path=file.path, size=file.size, modified_ns=file.modified_ns,
            checksum=file.checksum, fingerprint=file.fingerprint, kept_as=file.kept_as, others=file.others,
            is_clip=file.is_clip,
        )  # fmt: skip


def _copies(production: Production) -> Iterator[BaseModel]:
    for copy in Copy.objects.filter(roll__production=production).order_by("pk"):
        yield CopyLine(id=copy.pk, roll=copy.roll_id, store=copy.store_id, folder=copy.folder)
    readings = Reading.objects.filter(copy__roll__production=production, copy__left_at=None).order_by("pk")
    for one in readings.prefetch_related("results"):
        yield ReadingLine(
            id=one.pk, copy_=one.copy_id, origin=one.origin, began_at=one.began_at, noted_at=one.noted_at,
            after=one.after, level=one.level, all_but=one.all_but, until=one.until, agreed_files=one.agreed_files,
            agreed_bytes=one.agreed_bytes,
            results=[(of.file_id, of.result, of.reason, of.modified_ns) for of in one.results.all()],
        )  # fmt: skip


def _said(production: Production) -> Iterator[BaseModel]:
    for hold in Hold.objects.filter(roll__production=production, lifted_at=None).order_by("pk"):
        yield HoldLine(
            id=hold.pk, roll=hold.roll_id or 0, reason=hold.reason, person=hold.placed_by_id, at=hold.placed_at
        )
    notes = Note.objects.filter(production=production, withdrawn_at=None).exclude(roll=None).order_by("pk")
    for note in notes:
        yield NoteLine(id=note.pk, roll=note.roll_id or 0, words=note.words, person=note.by_id, at=note.at)
    cleared = Clearance.objects.filter(roll__production=production).order_by("pk")
    for one in cleared.select_related("card", "revocation__person").prefetch_related("rolls"):
        back = getattr(one, "revocation", None)
        yield ClearedLine(
            id=one.pk, card=one.card.label, rolls=sorted(roll.pk for roll in one.rolls.all()), at=one.at,
            evidence=one.evidence, files=base64.b64encode(bytes(one.files or b"")).decode(),
            revoked=f"{back.person.shown_name}, {back.reason}" if back else "",
        )  # fmt: skip


def _entries(production: Production) -> Iterator[BaseModel]:
    """The whole chain: rows of other productions by their seal alone."""
    for one in JournalEntry.objects.order_by("pk").iterator(_AT_A_TIME):
        if one.production not in (None, production.pk):
            yield EntryLine(id=one.pk, seal=one.seal)
            continue
        yield EntryLine(
            id=one.pk, seal=one.seal, at=one.at.isoformat(), person=one.person_id, origin=one.origin,
            production=one.production, act=one.act, subject=one.subject, sentence=one.sentence, detail=one.detail,
        )  # fmt: skip
