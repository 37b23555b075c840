"""What lies beside the copies on a client's own drive, so that nobody has to ask us."""

from collections.abc import Iterator

from django.db import transaction

from ruggedraft.accounts.queries import WHOLE, paper_made, read_edition
from ruggedraft.core.delivering import DeliveryWay
from ruggedraft.core.errors import ActRefused, NotThere, StoreError
from ruggedraft.core.hashing import ALGORITHMS
from ruggedraft.core.manifests import keep_file
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.stores import Store as OpenStore
from ruggedraft.core.stores import StoreKind
from ruggedraft.core.wording import first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.delivering.models import ConsignedRoll, Consignment
from ruggedraft.delivering.queries import consigned
from ruggedraft.journal.writing import write
from ruggedraft.rolls.models import Copy
from ruggedraft.rolls.recording import is_ours, note_beside
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.stores.models import Store
from ruggedraft.stores.opening import open_usable

from ..account_table import account_table
from ..read_me import ReadMe, read_me


def leave_papers(person: Person, row: Consignment, place: Store) -> list[str]:
    """Write each roll's account and a READ ME beside its copy on a store, for a delivery that goes by a drive.

    Only where the whole roll is on it, read back, and it is connected to this machine. Done again, it adds what was not
    ready before, as the paper. Returns their paths on the store. Raises ActRefused.
    """
    require(person, May.DELIVER, row.production_id)
    if row.way != DeliveryWay.DRIVE or row.withdrawn_at:
        raise ActRefused("Only what goes by a drive, and was not taken back, has papers on one.")
    rolls = list(consigned(row))
    copies = [_copy_on(one, place.pk, place.name) for one in rolls]
    written: list[str] = []
    try:
        opened = open_usable(place)
        opened.open()
        try:
            for one, copy in zip(rolls, copies, strict=True):
                written += _leave(opened, one, copy)
        finally:
            opened.close()
    except StoreError as error:
        raise ActRefused(f"Not all could be left there: {error.sentence}. What was left stays.") from error
    with transaction.atomic():
        words = (
            f"Accounts and READ ME of {first_of([one.roll.tag for one in rolls])} for {row.to} are on '{place.name}'."
        )
        write("leave papers", row.to, words, person=person, production=row.production_id,
              detail={"consignment": row.pk})  # fmt: skip
    return written


def _copy_on(one: ConsignedRoll, store: int, name: str) -> Copy:
    """Raises ActRefused where not all of the roll is there, read back."""
    (standing,) = roll_standings([one.roll_id], in_full=True).values()
    there = next((copy for copy in standing.copies if copy.store.pk == store), None)
    if there is None or not there.facts.whole_and_read_back or there.facts.store.lost:
        raise ActRefused(f"{one.roll.tag} is not on '{name}', whole and read back: bring it there first.")
    return Copy.objects.select_related("store", "roll").get(pk=there.id)


def _leave(store: OpenStore, one: ConsignedRoll, copy: Copy) -> Iterator[str]:
    """Raises StoreError."""
    stem = from_ledger(copy.folder)
    name = stem.rpartition("/")[2]
    if one.roll.tag.lower() not in name.lower():
        stem = f"{stem}.{one.roll.tag}"
    newest = max((file.modified_ns for file in copy.roll.files.only("modified_ns")), default=0)
    made = [_kept(store, copy, stem, ending, content, newest) for ending, content in _accounts(one)]
    said = _said(one, copy, [path.rpartition("/")[2] for path in made])
    yield from (*made, _kept(store, copy, stem, "READ ME.txt", read_me(said), newest))


def _kept(store: OpenStore, copy: Copy, stem: str, ending: str, content: bytes, newest: int) -> str:
    def ours(path: str, there: bytes) -> bool:
        return is_ours(copy, to_ledger(path), there)

    kept = keep_file(store, stem, ending, content, modified_ns=newest, ours=ours)
    with transaction.atomic():
        note_beside(copy, kept)
    return kept.path


def _accounts(one: ConsignedRoll) -> Iterator[tuple[str, bytes]]:
    """As it was when this was put together; its paper once that is made."""
    made = read_edition(one.edition)
    yield "account.csv", account_table(made)
    yield "account.json", WHOLE.dump_json(made, indent=1)
    try:
        yield "account.pdf", paper_made(one.edition)
    except NotThere:
        return


def _said(one: ConsignedRoll, copy: Copy, accounts: list[str]) -> ReadMe:
    sizes = list(copy.roll.files.exclude(checksum="").values_list("size", flat=True))
    production = one.consignment.production
    return ReadMe(
        production.name, one.roll.tag, one.consignment.to, one.consignment.by.shown_name,
        production.local(one.consignment.at), len(sizes), sum(sizes), from_ledger(copy.folder).rpartition("/")[2],
        copy.store.kind == StoreKind.PACKAGES, list(_lists(copy)), accounts,
    )  # fmt: skip


def _lists(copy: Copy) -> Iterator[tuple[str, str]]:
    for path in copy.beside.order_by("path").values_list("path", flat=True):
        name = path.rpartition("/")[2]
        algorithm = name.rpartition(".")[2]
        if algorithm in ALGORITHMS:
            yield name, algorithm
