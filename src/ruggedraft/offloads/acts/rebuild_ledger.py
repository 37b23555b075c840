"""A ledger that was lost with all its backups is made again from the records that lie beside the copies."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from pathlib import Path
from typing import Any
from uuid import UUID

from django.contrib.auth.hashers import make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused, MalformedRecord, RaftError, why
from ruggedraft.core.evidence import Evidence
from ruggedraft.core.manifests import Kept, RecordedFile, RollRecord, parse_record
from ruggedraft.core.sources import FingerprintKind, from_ledger
from ruggedraft.core.stores import StoreKind
from ruggedraft.crew.accounts import checked_name
from ruggedraft.crew.models import Membership, Person, Role
from ruggedraft.crew.queries import somebody_is_there
from ruggedraft.intake.fingerprints import comparable, fingerprint_kind, go_on_with
from ruggedraft.intake.models import Card
from ruggedraft.journal.anchors import RECORD_ENDING
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Medium
from ruggedraft.kit.queries import place_named
from ruggedraft.productions.models import Camera, Plan, Production, RedundancyRule
from ruggedraft.rolls.models import Copy, Origin, Roll, RollFile, Take
from ruggedraft.rolls.recording import begin, note_beside, record_reading
from ruggedraft.stores.acts.introduce_store import make_store
from ruggedraft.stores.folders import mark_on
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_store

_MOST_BYTES = 1 << 28


@dataclass(frozen=True)
class Found:
    """A record that can be used. path, content: of its file. store: the folder of the store it lies on"""

    path: Path
    content: bytes
    store: Path
    record: RollRecord


@dataclass
class Rebuilt:
    """What came of it. passed_over: sentences, each about a record or a roll that could not be used, and why."""

    stores: list[str] = field(default_factory=list)
    rolls: list[str] = field(default_factory=list)
    copies: list[int] = field(default_factory=list)
    passed_over: list[str] = field(default_factory=list)


@transaction.atomic
def rebuild_ledger(name: str, folders: Sequence[Path]) -> tuple[Person, Rebuilt]:
    """Make an empty ledger again from what lies on these stores. name: of its supervisor, who gets no password by this

    A copy counts for no more than was found: files of these names and sizes are there. What they hold is proven by
    checking them, against the checksums of the records. Clearances, waivers and holds are in no record: cards are
    judged anew.
    Raises ActRefused where somebody has begun this ledger, or nothing can be made of what is there.
    """
    if somebody_is_there():
        raise ActRefused("Somebody has begun this ledger: only an empty one is made again from records.")
    done = Rebuilt()
    found = [one for folder in folders for one in _records_on(folder, done)]
    if not found:
        raise ActRefused("No record that can be used lies on these stores. " + " ".join(done.passed_over))
    person = Person.objects.create(username=checked_name(name), password=make_password(None))
    heads = sorted({str(one.record.journal["seal"]) for one in found if one.record.journal["seal"]})
    write("rebuild", name, f"{name} had this ledger made again from {len(found)} records beside copies.",
          person=person, detail={"heads": heads})  # fmt: skip
    stores = _take_over(person, found, done)
    usable = [one for one in found if one.store in stores]
    go_on_with(_kind_in(usable))
    for production, records in _by_production(usable).items():
        _rebuild_production(person, production, records, stores, done)
    return person, done


def _kind_in(found: Iterable[Found]) -> FingerprintKind:
    """Which most of the files have."""
    taken = (file.fingerprint for one in found for file in one.record.files if file.fingerprint)
    kinds = Counter(map(FingerprintKind.of, taken))
    return kinds.most_common(1)[0][0] if kinds else FingerprintKind.XXH3


def _records_on(folder: Path, done: Rebuilt) -> Iterable[Found]:
    """Those beneath a store's folder that say that they lie on it. Links are not followed."""
    try:
        mark = mark_on(folder)
    except (OSError, ValueError) as error:
        done.passed_over.append(f"{folder} bears no mark of a store ({error}).")
        return
    for path in sorted(folder.rglob(f"*.{RECORD_ENDING}")):
        try:
            if path.is_symlink() or not path.is_file() or path.stat().st_size > _MOST_BYTES:
                raise MalformedRecord("it is no record of ours")
            content = path.read_bytes()
            record = parse_record(content)
            if record.store["uuid"] != mark:
                raise MalformedRecord("it was written for another store")
        except (MalformedRecord, OSError) as error:
            reason = error.sentence if isinstance(error, RaftError) else why(error)
            done.passed_over.append(f"{path} was passed over: {reason}.")
            continue
        yield Found(path, content, folder, record)


def _newest(records: Iterable[Found]) -> RollRecord:
    return max((one.record for one in records), key=lambda record: int(record.journal["id"]))


def _take_over(person: Person, found: Sequence[Found], done: Rebuilt) -> dict[Path, Store]:
    """Each store under its old mark, as the newest of its records calls it. What it stands on is probed now."""
    stores: dict[Path, Store] = {}
    for folder in dict.fromkeys(one.store for one in found):
        said = _newest(one for one in found if one.store == folder).store
        place = place_named(str(said["place"]))
        place.offsite = bool(said["offsite"])
        place.save(update_fields=["offsite"])
        try:
            stores[folder] = make_store(
                person, None, name=str(said["name"]), folder=folder, device_name=str(said["device"]),
                medium=said["medium"] if said["medium"] in Medium.values else Medium.DISK, location=place,
                system_disk_reason="", known_as=UUID(said["uuid"]),
                kind=StoreKind.PACKAGES if said.get("kind") == StoreKind.PACKAGES else StoreKind.FOLDER,
            )  # fmt: skip
            done.stores.append(stores[folder].name)
        except (ActRefused, ValueError) as error:
            done.passed_over.append(f"{folder} was passed over: {getattr(error, 'sentence', error)}")
    return stores


def _by_production(found: Iterable[Found]) -> dict[str, list[Found]]:
    by_slug: dict[str, list[Found]] = defaultdict(list)
    for one in found:
        by_slug[str(one.record.production["slug"])].append(one)
    return by_slug


def _rebuild_production(
    person: Person, slug: str, records: Sequence[Found], stores: Mapping[Path, Store], done: Rebuilt
) -> None:
    said = _newest(records).production
    production = Production.objects.create(
        name=said["name"], slug=slug, time_zone=said["time_zone"], first_day=date.fromisoformat(said["first_day"]),
        day_starts_at=said["day_starts_at"],
    )  # fmt: skip
    RedundancyRule.objects.create(production=production, **_rule(said["rule"]))
    plan = Plan.objects.create(production=production, name="Everything")
    plan.stores.set(stores.values())
    production.shared_stores.set(stores.values())
    Membership.objects.create(person=person, production=production, role=Role.SUPERVISOR)
    for tag, of_roll in _by_tag(records).items():
        try:
            files = _agreed_files(of_roll)
        except MalformedRecord as error:
            done.passed_over.append(f"Roll {tag} was passed over: {error.sentence}.")
            continue
        _rebuild_roll(person, plan, of_roll, files, stores, done)


def _rule(said: Mapping[str, Any]) -> dict[str, Any]:
    known = {one.name for one in RedundancyRule._meta.get_fields()} - {"id", "production"}
    return {name: value for name, value in said.items() if name in known}


def _by_tag(records: Iterable[Found]) -> dict[str, list[Found]]:
    by_tag: dict[str, list[Found]] = defaultdict(list)
    for one in records:
        by_tag[str(one.record.roll["tag"])].append(one)
    return by_tag


def _agreed_files(records: Iterable[Found]) -> dict[str, RecordedFile]:
    """What all records of a roll say together. Raises MalformedRecord where two contradict each other."""
    files: dict[str, RecordedFile] = {}
    for one in records:
        for file in one.record.files:
            before = files.get(file.path)
            if before and before.checksum and file.checksum and before != file:
                raise MalformedRecord(f"the records on its stores contradict each other about {file.path}")
            if before is None or not before.checksum:
                files[file.path] = file
    return files


def _rebuild_roll(
    person: Person, plan: Plan, records: Sequence[Found], files: Mapping[str, RecordedFile],
    stores: Mapping[Path, Store], done: Rebuilt,
) -> None:  # fmt: skip
    newest = _newest(records)
    said, production = newest.roll, plan.production
    camera, _ = Camera.objects.get_or_create(
        production=production, letter=newest.camera["letter"],
        defaults={"name": newest.camera["name"], "kind": newest.camera["kind"], "plan": plan},
    )  # fmt: skip
    card, _ = Card.objects.get_or_create(
        label=newest.card["label"],
        defaults={"kind": newest.card["kind"], "capacity": newest.card["capacity"], "camera": camera},
    )
    if said["fs_serial"]:
        card.serials.get_or_create(serial=said["fs_serial"])
    roll = Roll.objects.create(
        production=production, camera=camera, card=card, number=said["number"], tag=said["tag"],
        shoot_day=date.fromisoformat(said["day"]), opened_at=datetime.fromisoformat(said["opened_at"]),
        algorithm=said["algorithm"], fs_serial=said["fs_serial"],
    )  # fmt: skip
    take = Take.objects.create(roll=roll, listing=None, person=person, at=now())
    kind = fingerprint_kind()
    rows = (file._replace(fingerprint=comparable(file.fingerprint, kind)) for _, file in sorted(files.items()))
    RollFile.objects.bulk_create((RollFile(roll=roll, take=take, **row._asdict()) for row in rows), batch_size=2000)
    done.rolls.append(roll.tag)
    for one in records:
        copy = Copy.objects.create(roll=roll, store=stores[one.store], folder=one.record.folder)
        note_beside(copy, Kept(str(one.path.relative_to(one.store)), one.content))
        _note_what_is_there(copy, files)
        done.copies.append(copy.pk)


def _note_what_is_there(copy: Copy, files: Mapping[str, RecordedFile]) -> None:
    """That files of these names and sizes are in the copy's folder, and no more than that."""
    began = begin()
    there = open_store(copy.store).look(copy.folder)
    seen = [
        from_ledger(path)
        for path, file in files.items()
        if there.get(from_ledger(file.kept_as or path), (None, 0))[0] == file.size
    ]
    record_reading(copy, began, agreed=seen, failed=[], level=Evidence.LISTED, origin=Origin.LOOK)
