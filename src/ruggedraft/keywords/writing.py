"""Writing what is said of files beside the copies of them that this station sees, as XMP; what it does not see waits.

The originals stay as they are. A sidecar is replaced only where it is as we left it: the camera's own, and one that
somebody edited, are left alone, and that is told.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from django.db import connection, transaction
from django.db.models import Sum

from ruggedraft.core.errors import StoreError
from ruggedraft.core.manifests import Kept
from ruggedraft.core.sidecars import Tags, format_xmp, sidecar_path
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.stores import write_one
from ruggedraft.core.stores.port import beneath
from ruggedraft.core.wording import counted
from ruggedraft.journal.writing import write
from ruggedraft.kit.models import Station
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.sidecars import tags_of
from ruggedraft.rolls.models import Copy, RollFile
from ruggedraft.rolls.queries import files_held, last_evidence
from ruggedraft.rolls.recording import is_ours, note_beside
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.runs.models import Run
from ruggedraft.stores.opening import open_usable
from ruggedraft.stores.queries import store_facts

from .models import Beside, Described
from .queries import tags_said

_FILES, _COPIES, _LARGEST = 200, 4, 1 << 20
_done: dict[int, tuple[tuple[int, ...], int | None, int]] = {}
"""By station: the stores it saw, what was said and what was read when nothing was due: asking again is cheap then."""
_DUE = """
SELECT c.id, d.file_id FROM keywords_described d
JOIN rolls_copy c ON c.roll_id = d.roll_id AND c.left_at IS NULL AND c.store_id = ANY(%(stores)s)
JOIN rolls_roll r ON r.id = d.roll_id
LEFT JOIN keywords_beside b ON b.copy_id = c.id AND b.file_id = d.file_id
WHERE EXISTS (SELECT FROM rolls_reading g WHERE g.copy_id = c.id) AND d.changes > 0
  AND (b.id IS NULL OR b.changes <> d.changes OR CASE WHEN b.trouble <> '' THEN b.version <> r.version ELSE
    NOT EXISTS (SELECT FROM rolls_besidecopy y WHERE y.copy_id = c.id AND md5(y.path) = md5(b.path)) END)
ORDER BY c.id, d.file_id LIMIT %(most)s
"""


def write_due(station: Station) -> int:
    """Write what is due beside copies that this station sees; a few hundred files at most. Returns how many.

    Nothing while something else is done with the roll: what writes to a copy is alone there.
    """
    by_copy = _due(station)
    copies = Copy.objects.select_related("roll__camera__plan", "store__device").in_bulk(list(by_copy))
    busy = set(Run.objects.filter(roll__in={one.roll_id for one in copies.values()}, finished_at=None)
               .values_list("roll", flat=True))  # fmt: skip
    free = [copies[pk] for pk in by_copy if copies[pk].roll_id not in busy][:_COPIES]
    return sum(_beside(copy, by_copy[copy.pk][:_FILES]) for copy in free)


def _due(station: Station) -> dict[int, list[int]]:
    """By copy (ids), files whose sidecars are behind."""
    here = [pk for pk, store in places_of_all().items() if store_facts(store, station).online]
    state = (tuple(here), Described.objects.aggregate(all=Sum("changes"))["all"], last_evidence())
    if state[1] is None or _done.get(station.pk) == state:
        return {}
    found: dict[int, list[int]] = {}
    with connection.cursor() as cursor:
        cursor.execute(_DUE, {"stores": here, "most": _FILES * _COPIES})
        for copy, file in cursor.fetchall():
            found.setdefault(copy, []).append(file)
    if not found:
        _done[station.pk] = state
    return found


@dataclass(frozen=True)
class _Copy:
    """A copy that is open: what else may lie where a sidecar goes, in small letters; and what our own offloads left."""

    copy: Copy
    store: OpenStore
    taken: frozenset[str]
    plan: Tags
    left: frozenset[bytes]


def _beside(copy: Copy, files: Sequence[int]) -> int:
    changes = dict(Described.objects.filter(file__in=files).values_list("file", "changes"))
    said, version = tags_said(files), copy.roll.version
    held = {file.pk: file for file in files_held(copy)}
    known = {row.file_id: row for row in Beside.objects.filter(copy=copy, file__in=files)}
    rows = []
    try:
        store = open_usable(copy.store)
        store.open()
    except StoreError:
        return 0  # it waits until the store is there again
    try:
        of = _opened(copy, store)
        for file in files:
            before = known.get(file) or Beside(copy=copy, file_id=file)
            rows.append(_one(of, held.get(file), said.get(file, Tags()), before))
            rows[-1].changes, rows[-1].version = changes[file], version
    finally:
        store.close()
    _note(copy, rows)
    return len(rows)


def _opened(copy: Copy, store: OpenStore) -> _Copy:
    names = copy.roll.files.values_list("kept_as", "path")
    offloads = [tags_of(one) for one in Offload.objects.filter(roll=copy.roll).order_by("pk")]
    plan = next((tags for tags in reversed(offloads) if tags), Tags())
    taken = frozenset(from_ledger(kept or path).lower() for kept, path in names)
    return _Copy(copy, store, taken, plan, frozenset(map(format_xmp, offloads)))


def _one(of: _Copy, file: RollFile | None, said: Tags, row: Beside) -> Beside:
    """What became of one file's sidecar."""
    row.trouble = ""
    if file is None:
        row.trouble = "the store is not known to hold the file"
        return row
    inside = from_ledger(file.kept_as or file.path)
    path = next((one for one in _places(inside) if one.lower() not in of.taken), "")
    if not path:
        row.trouble = "the roll has files of its own under the names that it could have"
        return row
    place = beneath(from_ledger(of.copy.folder), path)
    try:
        _write(of, place, format_xmp(merged(of.plan, said)), file.modified_ns)
    except _NotOurs:
        row.trouble = f"{to_ledger(path)} says something that is not known to be ours: it was left alone"
    except StoreError as error:
        row.trouble = error.sentence
    else:
        row.path = to_ledger(place)
    return row


def _places(inside: str) -> Iterable[str]:
    """Where a sidecar may lie: by the base name, as programs look for it (common practice); else by the whole name."""
    return sidecar_path(inside), f"{inside}.xmp"


def merged(plan: Tags, said: Tags) -> Tags:
    """What a plan says of every clip, and what somebody said of this one, which goes before it.

    >>> merged(Tags("Sol", "theirs", ("boat",), "day 1"), Tags(rights="ours", keywords=("boat", "fog")))
    Tags(creator='Sol', rights='ours', keywords=('boat', 'fog'), notes='day 1')
    """
    keywords = tuple(dict.fromkeys((*plan.keywords, *said.keywords)))
    return replace(plan, rights=said.rights or plan.rights, keywords=keywords, notes=said.notes or plan.notes)


class _NotOurs(Exception):
    """Something lies there that we did not leave."""


def _write(of: _Copy, path: str, content: bytes, modified_ns: int) -> None:
    """Raises StoreError, _NotOurs: also of one of ours that a worker died over before it could be noted."""
    there = of.store.read_whole(path, _LARGEST)
    if there not in (None, content) and there not in of.left and not is_ours(of.copy, to_ledger(path), there or b""):
        raise _NotOurs
    if there != content:
        _put(of.store, path, content, modified_ns, replace=there is not None)
    with transaction.atomic():
        note_beside(of.copy, Kept(to_ledger(path), content))


def _put(store: OpenStore, path: str, content: bytes, modified_ns: int, *, replace: bool) -> None:
    """Raises StoreError."""
    write_one(store, path, content, modified_ns, replace=replace)
    store.settle([(path.rpartition("/")[0], None)])
    held = bytearray()
    store.read_back(path, held.extend)
    if held != content:
        raise StoreError(f"{path} on '{store.name}' is not what was written")


@transaction.atomic
def _note(copy: Copy, rows: Sequence[Beside]) -> None:
    Beside.objects.bulk_create(
        rows, batch_size=500, update_conflicts=True, unique_fields=["copy", "file"],
        update_fields=["changes", "version", "path", "trouble"],
    )  # fmt: skip
    good = sum(not row.trouble for row in rows)
    if good:
        words = (
            f"What is said of {counted(good, 'file')} of {copy.roll.tag} lies beside the copy on '{copy.store.name}'."
        )
        write("write beside", copy.roll.tag, words, person=None, production=copy.roll.production_id)
    changed(Topic.MARKS, rolls=[copy.roll.tag], production=copy.roll.production_id)
