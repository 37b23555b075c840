"""What happens in a production now that somebody may want to be told of: from the ledger's facts, and nothing else."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta

from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.models import Clearance
from ruggedraft.clearing.roll_cases import RollCase, overview, roll_cases
from ruggedraft.core.news import Happening, NewsKind
from ruggedraft.core.redundancy import CardStanding, RollState, rule_sentence
from ruggedraft.core.runs import RunEnd, RunKind
from ruggedraft.core.wording import counted
from ruggedraft.days.open_matters import unsafe_sentence
from ruggedraft.journal.clock import now
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.kit.stations import stations_away
from ruggedraft.live.snapshot import one_moment
from ruggedraft.pictures.models import FileDecoded
from ruggedraft.pictures.queries import said_of_break
from ruggedraft.productions.models import Production, Ruled
from ruggedraft.rolls.models import Origin, Reading, Roll
from ruggedraft.rolls.summaries import places_in, places_of_all
from ruggedraft.runs.models import Run
from ruggedraft.stores.queries import sighting_of, store_facts

from .models import News

_LATELY = timedelta(days=3)
"""What ended longer ago than that is told to nobody any more."""
_NEARLY = 0.1
"""A store with less than this share free."""
_BEHIND = timedelta(hours=1)
_BAD = (RunEnd.TROUBLE, RunEnd.PULLED, RunEnd.BROKE_OFF)


@one_moment()
def happenings(production: Production) -> list[Happening]:
    """As things are at one moment; nobody who works waits for it."""
    kinds = (_runs, _looks, _breaks, _losses, _stations, _rolls, _signatures, _stores, _free, _behind)
    return [one for kind in kinds for one in kind(production)]


def _runs(production: Production) -> Iterator[Happening]:
    rows = Run.objects.filter(roll__production=production, end__in=_BAD, finished_at__gt=now() - _LATELY)
    for run in rows.select_related("roll"):
        kind = NewsKind.CHECK if run.kind == RunKind.CHECK else NewsKind.TROUBLE
        yield Happening(kind, f"run {run.pk}", run.roll.tag, run.outcome)


def _looks(production: Production) -> Iterator[Happening]:
    rows = Reading.objects.filter(
        copy__roll__production=production, origin=Origin.LOOK, noted_at__gt=now() - _LATELY, results__isnull=False
    ).distinct()
    for one in rows.select_related("copy__roll", "copy__store"):
        tag, store = one.copy.roll.tag, one.copy.store.name
        words = f"{tag} on '{store}' was looked at: files are missing or changed."
        yield Happening(NewsKind.CHECK, f"look {one.pk}", tag, words)


def _breaks(production: Production) -> Iterator[Happening]:
    rows = FileDecoded.objects.filter(file__roll__production=production, in_all__gt=0, at__gt=now() - _LATELY)
    for one in rows.select_related("file__roll", "file__known_media__media"):
        yield Happening(
            NewsKind.TROUBLE,
            f"break {one.file_id} {one.at.timestamp():.0f}",
            one.file.roll.tag,
            f"{said_of_break(one)}.",
        )


def _losses(production: Production) -> Iterator[Happening]:
    rows = DeviceLoss.objects.filter(device__stores__productions=production, found_at=None).distinct()
    for one in rows.select_related("device", "reported_by"):
        words = f"'{one.device.name}' was reported lost by {one.reported_by.shown_name}: {one.reason}"
        yield Happening(NewsKind.TROUBLE, f"loss {one.pk}", one.device.name, words)


def _stations(production: Production) -> Iterator[Happening]:
    for station in stations_away():
        yield Happening(NewsKind.TROUBLE, f"away {station.pk}", station.name, f"Station '{station.name}' is away.")


def _rolls(production: Production) -> Iterator[Happening]:
    moment, places = now(), places_of_all()
    states = overview(production, places, moment).states
    below = [pk for pk, state in states.items() if state is RollState.BELOW]
    for case in roll_cases(production, below, places, moment):
        roll = case.standing.roll
        yield Happening(NewsKind.BELOW, f"below {roll.pk}", roll.tag, unsafe_sentence(case), roll.pk)
    safe, ruled = [pk for pk, state in states.items() if state is RollState.SAFE], production.rule.ruled()
    for roll in production.rolls.filter(pk__in=safe).select_related("camera").order_by("pk"):
        words = verified_words(roll, ruled)
        yield Happening(NewsKind.VERIFIED, f"safe {roll.pk}", roll.tag, words, roll.pk)


def verified_words(roll: Roll, ruled: Ruled) -> str:
    """Of a roll that meets its rule, by the rule as it is. roll: with its camera"""
    asked = rule_sentence(replace(ruled.of(roll.camera, roll.pk), signers=1))  # whoever signs signs for a card
    return f"{roll.tag} is verified. Its rule asks for {asked}."


@one_moment()
def judged_roll(news: News) -> RollCase | None:
    """The roll that news are about, judged now; None where it is about none."""
    found = roll_cases(news.production, [news.roll] if news.roll else [], places_of_all(), now())
    return found[0] if found else None


def _signatures(production: Production) -> Iterator[Happening]:
    for case in cases(active_cards().filter(camera__production=production), places_of_all()):
        missing = case.verdict.missing_signatures
        if case.verdict.standing is CardStanding.SIGNED and missing:
            label, by = case.card.label, ", ".join(one.by for one in case.signatures)
            words = f"Card {label} was signed by {by}, and wants {counted(missing, 'signature')} more."
            yield Happening(NewsKind.SIGN, f"sign {case.card.pk} {case.digest[:16]}", label, words)


def _stores(production: Production) -> Iterator[Happening]:
    for store in places_in(production).values():
        seen, facts = sighting_of(store), store_facts(store)
        if seen is None or not facts.online or not seen.total or facts.free >= _NEARLY * seen.total:
            continue
        words = f"'{store.name}' is nearly full: less than a tenth of it is free."
        yield Happening(NewsKind.FULL, f"store {store.pk}", store.name, words)


def _free(production: Production) -> Iterator[Happening]:
    rows = Clearance.objects.filter(roll__production=production, at__gt=now() - _LATELY, revocation=None)
    for one in rows.select_related("card__camera"):
        words = f"Card {one.card.label} was cleared: it may go back to camera {one.card.owner.letter}."
        yield Happening(NewsKind.FREE, f"clear {one.pk}", one.card.label, words)


def _behind(production: Production) -> Iterator[Happening]:
    rows = Run.objects.filter(
        roll__production=production, kind=RunKind.FEED, finished_at=None, asked_at__lt=now() - _BEHIND
    )
    for run in rows.select_related("roll"):
        words = f"A copy of {run.roll.tag} that is brought from another store is not there yet."
        yield Happening(NewsKind.BEHIND, f"feed {run.pk}", run.roll.tag, words, run.roll_id)
