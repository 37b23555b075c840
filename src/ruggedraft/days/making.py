"""Making the account of a shoot day from the ledger's facts, as they are now."""

from collections.abc import Collection, Iterable, Iterator, Sequence
from datetime import UTC, date, datetime

from ruggedraft.clearing.card_list import CardLine, card_lines
from ruggedraft.clearing.cases import Case, active_cards, cases
from ruggedraft.clearing.models import Clearance
from ruggedraft.clearing.roll_cases import RollCase, roll_cases
from ruggedraft.clearing.waterline import waterline
from ruggedraft.core.accounts import (
    DayAccount,
    DayClearance,
    DayCopy,
    DayNote,
    DayOpen,
    DayRoll,
    DayRun,
    Material,
    added,
    by_camera,
)
from ruggedraft.core.redundancy import CardLife, RollState, copy_state, rule_for
from ruggedraft.core.runs import RunEnd, RunKind
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.notes.queries import notes_of_day
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import places_of_all
from ruggedraft.runs.models import Run

from .material import Shot, shot_on
from .open_matters import card_not_cleared, reported_otherwise, runs_not_ended, unsafe_sentence, why_unsafe
from .troubles import Span, troubles_of


def account_of(production: Production, day: date) -> DayAccount:
    """Everything that belongs to a day: its rolls, whenever they were offloaded, and what happened on it."""
    moment, span = now(), production.span_of(day)
    ids = list(Roll.objects.filter(production=production, shoot_day=day).order_by("pk").values_list("pk", flat=True))
    found = sorted(roll_cases(production, ids, places_of_all(), moment), key=lambda one: one.standing.roll.tag)
    rows = [one.standing.roll for one in found]
    shot = shot_on(production, rows)
    rolls = [_roll(production, one, shot[one.standing.roll.pk], moment) for one in found]
    head = JournalEntry.objects.order_by("-id").first()
    return DayAccount(
        production=production.name, day=day, number=production.number_of(day), time_zone=production.time_zone,
        at=moment, head=head.pk if head else 0, seal=head.seal if head else "",
        material=added(roll.material for roll in rolls),
        cameras=by_camera(rolls, list(production.cameras.values_list("letter", "name"))),
        rolls=tuple(rolls),
        runs=tuple(_runs(production, span)),
        troubles=tuple(troubles_of(production, span)),
        clearances=tuple(_clearances(production, span)),
        open=(*_open(production, found, rows), *_cards(production, day, rows)),
        notes=tuple(_notes(production, day)),
    )  # fmt: skip


def material_of(roll: Roll, shot: Shot, *, files: int, bytes_: int) -> Material:
    """Another rendering of a roll that is counted adds no hours to it."""
    if roll.double_of_id is not None:
        return Material(files, bytes_, shot.clips)
    return Material(files, bytes_, shot.clips, shot.seconds, shot.untold)


def _roll(production: Production, case: RollCase, shot: Shot, moment: datetime) -> DayRoll:
    roll, facts = case.standing.roll, case.standing.facts
    rule = rule_for(facts, production.rule.as_rule())
    copies = (
        DayCopy(one.store.name, one.facts.store.location, copy_state(one.facts, rule, moment))
        for one in case.standing.copies
    )
    return DayRoll(
        tag=roll.tag, camera=roll.camera.letter, card=roll.card.label, opened_at=roll.opened_at,
        material=material_of(roll, shot, files=facts.files, bytes_=facts.bytes),
        state=case.state, why=why_unsafe(case), copies=tuple(copies), bars=tuple(shot.bars),
    )  # fmt: skip


def _runs(production: Production, span: Span) -> Iterator[DayRun]:
    rows = Run.objects.filter(roll__production=production, finished_at__gte=span[0], finished_at__lt=span[1])
    runs = list(rows.select_related("roll", "station", "person").order_by("finished_at", "pk"))
    read = dict(Offload.objects.filter(pk__in=[run.pk for run in runs]).values_list("pk", "read_bytes"))
    for run in runs:
        if run.finished_at is None:
            continue
        seconds = (run.finished_at - run.started_at).total_seconds() if run.started_at else 0.0
        bytes_ = read.get(run.pk, 0)
        yield DayRun(
            id=run.pk, kind=RunKind(run.kind), tag=run.roll.tag, station=run.station.name,
            person=run.person.shown_name, ended_at=run.finished_at, end=RunEnd(run.end), outcome=run.outcome,
            bytes=bytes_, seconds=seconds, rate=bytes_ / seconds if bytes_ and seconds > 0 else None,
        )  # fmt: skip


def _clearances(production: Production, span: Span) -> Iterator[DayClearance]:
    rows = Clearance.objects.filter(roll__production=production, at__gte=span[0], at__lt=span[1]).order_by("pk")
    for one in rows.select_related("card", "revocation__person").prefetch_related("rolls"):
        taken_back = getattr(one, "revocation", None)
        yield DayClearance(
            id=one.pk, card=one.card.label, rolls=tuple(sorted(roll.tag for roll in one.rolls.all())),
            signers=tuple(signature["name"] for signature in one.evidence["signatures"]), at=one.at,
            revoked=f"{taken_back.person.shown_name}, {taken_back.reason}" if taken_back else "",
        )  # fmt: skip


def _open(production: Production, found: Iterable[RollCase], rows: Sequence[Roll]) -> Iterator[DayOpen]:
    for one in found:
        if one.state is not RollState.SAFE:
            yield DayOpen(one.standing.roll.tag, unsafe_sentence(one))
    for run, _, sentence in runs_not_ended(Run.objects.filter(roll__in=rows)):
        yield DayOpen(run.roll.tag, sentence)
    for tag, sentence in reported_otherwise(production, {roll.tag for roll in rows}):
        yield DayOpen(tag, sentence)


_SETTLED = (CardLife.NEW, CardLife.IN_CAMERA, CardLife.HANDED_BACK, CardLife.CLEARED, CardLife.FORMATTED)


def _cards(production: Production, day: date, rows: Sequence[Roll]) -> Iterator[DayOpen]:
    """Cards on which rolls of the day are, as long as they are not cleared; and those with something in no roll yet.

    What is in no roll has no shoot day: it is of the day on which its files say that it was shot, and of today.
    """
    mine, span = {roll.pk for roll in rows}, production.span_of(day)
    waiting = waterline(production).cards_waiting if production.shoot_day(now()) == day else ()
    for line in card_lines(cases(active_cards().filter(camera__production=production), places_of_all())):
        label = line.case.card.label
        if label in waiting or _holds_of(line, mine) or _untaken_of(line.case, span):
            yield DayOpen(label, card_not_cleared(line))
    for one in waiting:
        if one.startswith("unknown "):
            yield DayOpen("", f"A card that nobody introduced hangs there: {one}.")


def _holds_of(line: CardLine, rolls: Collection[int]) -> bool:
    """Whether one of these rolls is on a card that is not cleared."""
    return line.life not in _SETTLED and any(one.roll.pk in rolls for one in line.case.rolls)


def _untaken_of(case: Case, span: Span) -> bool:
    """Whether a card holds something that is in no roll, and was written to within these moments."""
    return bool(case.verdict.strangers.count) and _shot_within(case, span)


def _shot_within(case: Case, span: Span) -> bool:
    """Whether anything on a card was written within these moments, by its camera's clock put right."""
    listing, clock = case.row.listing, case.card.owner.as_clock()
    if listing is None or listing.first_ns is None or listing.last_ns is None:
        return False
    first, last = (clock.true(datetime.fromtimestamp(ns / 1e9, UTC)) for ns in (listing.first_ns, listing.last_ns))
    return first < span[1] and last >= span[0]


def _notes(production: Production, day: date) -> Iterator[DayNote]:
    for one in notes_of_day(production, day):
        yield DayNote(one.pk, one.name, " ".join(one.words.split()), one.by.shown_name, one.at)
