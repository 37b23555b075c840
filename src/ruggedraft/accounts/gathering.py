"""Everything that the ledger knows of a roll, file by file."""

from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, date, datetime

from ruggedraft.clearing.models import Clearance
from ruggedraft.clearing.roll_cases import RollCase, roll_cases
from ruggedraft.core.accounts import (
    FORM,
    Account,
    AccountClearance,
    AccountFile,
    AccountLeft,
    AccountOn,
    AccountPicture,
    AccountRoll,
    AccountRun,
    AccountWord,
    NotThere,
)
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.errors import NotThere as NothingSuch
from ruggedraft.core.evidence import Result
from ruggedraft.core.pictures import PictureKind
from ruggedraft.core.redundancy import RollState
from ruggedraft.core.runs import RunEnd, RunKind
from ruggedraft.intake.models import Card
from ruggedraft.intake.queries import card_named
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.pictures.models import Picture
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Copy, ReadingResult, Roll, RollFile
from ruggedraft.rolls.queries import on_stores, roll_named
from ruggedraft.rolls.readings import waived_files
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.runs.models import Run
from ruggedraft.stores.queries import store_in

from .copies import copies_of
from .said import holds_of, taken, waivers_on

_MOST_FILES = 200_000
MAKING = "make account"
"""What the journal calls the making of one; that is no fact about the thing."""
_OF_THE_CREW = ("note", "withdraw note", "mark", "take mark back", "say of files", "write beside")
"""Acts of which an account says nothing: what the crew say to each other is not handed to anybody."""


def gathered(production: Production, on: AccountOn, about: str) -> Account:
    """As things are now, without anything that changes by time alone but how copies are judged. Raises NotThere."""
    name, facts, rolls = _GATHER[on](production, about)
    files = RollFile.objects.filter(roll__in=rolls).count()
    if files > _MOST_FILES:
        raise ActRefused(
            f"{name} has {files:,} files, and an account holds {_MOST_FILES:,}: make one of each roll or day."
        )
    cases = roll_cases(production, [roll.pk for roll in rolls], places_of_all(), now())
    return Account(
        FORM, production.name, str(production.uuid), production.time_zone, on, name, facts,
        tuple(_roll(production, case) for case in sorted(cases, key=lambda one: one.standing.roll.tag)),
        tuple(_happened(production, name)),
    )  # fmt: skip


def name_of(production: Production, on: AccountOn, about: str) -> str:
    """What it is called, however it was asked for. Raises NotThere."""
    return _GATHER[on](production, about)[0]


def _of_roll(production: Production, about: str) -> tuple[str, dict[str, str], Sequence[Roll]]:
    roll = roll_named(production, about)
    return roll.tag, {}, [roll]


def _of_card(production: Production, about: str) -> tuple[str, dict[str, str], Sequence[Roll]]:
    card = card_named(production, about)
    return card.label, _card_facts(card), list(Roll.objects.filter(card=card, production=production).order_by("pk"))


def _card_facts(card: Card) -> dict[str, str]:
    asides = (f"{one.kind} by {one.person.shown_name}: {one.reason}" for one in card.asides.filter(ended_at=None))
    told = {"kind": card.kind, "capacity": str(card.capacity), "camera": card.owner.letter}
    return told | {"out of use": "; ".join(asides)}


def _of_store(production: Production, about: str) -> tuple[str, dict[str, str], Sequence[Roll]]:
    store = store_in(production.pk, about)
    device = store.device
    offsite = "yes" if device.location.offsite else "no"
    facts = {"kind": store.kind, "device": device.name, "medium": device.medium, "place": device.location.name}
    there = Copy.every.filter(store=store).values("roll")
    rolls = Roll.objects.filter(production=production, pk__in=there).order_by("pk")
    return store.name, facts | {"off-site": offsite, "uuid": str(store.uuid)}, list(rolls)


def _of_day(production: Production, about: str) -> tuple[str, dict[str, str], Sequence[Roll]]:
    try:
        day = date.fromisoformat(about)
    except ValueError as error:
        raise NothingSuch(f"'{about}' is no day; an example is 2026-05-14.") from error
    facts = {"number": str(production.number_of(day))}
    return day.isoformat(), facts, list(Roll.objects.filter(production=production, shoot_day=day).order_by("pk"))


_GATHER = {
    AccountOn.ROLL: _of_roll,
    AccountOn.CARD: _of_card,
    AccountOn.STORE: _of_store,
    AccountOn.DAY: _of_day,
}


def _roll(production: Production, case: RollCase) -> AccountRoll:
    roll = case.standing.roll
    blocks = "" if case.state is RollState.SAFE else "; ".join(block.sentence for block in case.verdict.blocks)
    return AccountRoll(
        tag=roll.tag, camera=roll.camera.letter, camera_name=roll.camera.name, card=roll.card.label,
        shoot_day=roll.shoot_day, opened_at=roll.opened_at, algorithm=roll.algorithm, state=case.state, lacks=blocks,
        taken=tuple(taken(roll)), copies=tuple(copies_of(production, case)), files=tuple(_files(roll)),
        left_behind=tuple(_left(roll)), waived=tuple(waivers_on(roll)), holds=tuple(holds_of(roll)),
        delivered=tuple(_delivered(roll)), cleared=tuple(_cleared(roll)), runs=tuple(_runs(roll)),
        pictures=tuple(_pictures(roll)),
    )  # fmt: skip


def _files(roll: Roll) -> Iterator[AccountFile]:
    waived, missing = set(waived_files([roll])), _missing(roll)
    for file in roll.files.order_by("path"):
        yield AccountFile(
            file.path, file.kept_as or file.path, file.size, _moment(file.modified_ns), file.checksum, file.others,
            file.pk in waived, tuple(missing(file)),
        )  # fmt: skip


def _missing(roll: Roll) -> Callable[[RollFile], Iterator[NotThere]]:
    """Tells of each file which copies are not known to hold it."""
    names = dict(roll.copies.order_by("store__position").values_list("store_id", "store__name"))
    held = {store: frozenset(found.held) for store, found in on_stores(roll).items()}
    said = _last_words(roll)

    def missing(file: RollFile) -> Iterator[NotThere]:
        for store, name in names.items():
            if file.path not in held.get(store, ()):
                yield NotThere(name, said.get((store, file.pk)))

    return missing


def _last_words(roll: Roll) -> dict[tuple[int, int], Result]:
    """By store and file, the last that was said of a file that was not as it should be."""
    rows = ReadingResult.objects.filter(reading__copy__roll=roll).order_by("pk")
    said = rows.exclude(result=Result.AGREES).values_list("reading__copy__store_id", "file_id", "result")
    return {(store, file): Result(result) for store, file, result in said}


def _moment(ns: int) -> datetime:
    return datetime.fromtimestamp(ns // 10**9, UTC)


_MOST_PICTURES = 400


def _pictures(roll: Roll) -> Iterator[AccountPicture]:
    rows = Picture.objects.filter(file__roll=roll, kind=PictureKind.SMALL.value).order_by("file__path", "pk")
    found = list(rows.values_list("file__path", "digest"))
    step = max(1, -(-len(found) // _MOST_PICTURES))
    for path, digest in found[::step]:
        yield AccountPicture(path, digest)


def _left(roll: Roll) -> Iterator[AccountLeft]:
    for one in roll.left_behind.select_related("person").order_by("path", "pk"):
        yield AccountLeft(one.path, one.size, one.person.shown_name, one.at)


def _delivered(roll: Roll) -> Iterator[AccountWord]:
    for one in roll.deliveries.select_related("person", "withdrawn_by").order_by("pk"):
        ended = f"taken back by {one.withdrawn_by.shown_name}" if one.withdrawn_by else ""
        yield AccountWord(roll.tag, one.person.shown_name, one.at, one.to, one.withdrawn_at, ended)


def _cleared(roll: Roll) -> Iterator[AccountClearance]:
    rows = Clearance.objects.filter(rolls=roll).select_related("card", "revocation__person").order_by("pk")
    for one in rows:
        back = getattr(one, "revocation", None)
        signers = tuple(signature["name"] for signature in one.evidence.get("signatures", ()))
        revoked = f"{back.person.shown_name}: {back.reason}" if back else ""
        yield AccountClearance(one.pk, one.card.label, one.at, signers, revoked)


def _runs(roll: Roll) -> Iterator[AccountRun]:
    rows = Run.objects.filter(roll=roll, finished_at__isnull=False).select_related("station", "person")
    for run in rows.order_by("finished_at", "pk"):
        if run.finished_at:
            yield AccountRun(
                RunKind(run.kind), run.station.name, run.person.shown_name, run.started_at, run.finished_at,
                RunEnd(run.end), run.outcome,
            )  # fmt: skip


def _happened(production: Production, name: str) -> Iterator[AccountWord]:
    rows = JournalEntry.objects.filter(production=production.pk, subject=name)
    for one in rows.exclude(act__in=(MAKING, *_OF_THE_CREW)).select_related("person").order_by("pk"):
        yield AccountWord(name, one.person.shown_name if one.person else one.origin, one.at, one.sentence)
