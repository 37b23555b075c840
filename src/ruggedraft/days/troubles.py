"""What went wrong on a day, from the facts that were noted of it."""

from collections.abc import Iterator
from datetime import datetime

from django.db.models import Count

from ruggedraft.clearing.models import Hold, Revocation
from ruggedraft.core.accounts import DayTrouble
from ruggedraft.core.runs import RunEnd
from ruggedraft.core.wording import counted
from ruggedraft.intake.models import CardAside
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.pictures.models import FileDecoded
from ruggedraft.pictures.queries import said_of_break
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Origin, Reading
from ruggedraft.runs.models import Run
from ruggedraft.stores.queries import stores_in

Span = tuple[datetime, datetime]
_BAD = (RunEnd.TROUBLE, RunEnd.PULLED, RunEnd.BROKE_OFF)


def troubles_of(production: Production, span: Span) -> list[DayTrouble]:
    """In the order in which they happened. span: from, and before"""
    kinds = (_runs, _looks, _losses, _asides, _refusals, _revocations, _breaks)
    return sorted((one for kind in kinds for one in kind(production, span)), key=lambda one: (one.at, one.subject))


def _within(span: Span, what: str) -> dict[str, datetime]:
    return {f"{what}__gte": span[0], f"{what}__lt": span[1]}


def _runs(production: Production, span: Span) -> Iterator[DayTrouble]:
    rows = Run.objects.filter(roll__production=production, end__in=_BAD, **_within(span, "finished_at"))
    for run in rows.select_related("roll"):
        if run.finished_at:
            yield DayTrouble(run.finished_at, run.roll.tag, run.outcome)


def _looks(production: Production, span: Span) -> Iterator[DayTrouble]:
    """A look is noted where something was wrong, and only there."""
    rows = Reading.objects.filter(
        copy__roll__production=production, origin=Origin.LOOK, **_within(span, "noted_at")
    ).annotate(wrong=Count("results"))
    for one in rows.select_related("copy__roll", "copy__store"):
        tag, store = one.copy.roll.tag, one.copy.store.name
        yield DayTrouble(one.noted_at, tag, f"{counted(one.wrong, 'file')} of {tag} missing or changed on '{store}'.")


def _losses(production: Production, span: Span) -> Iterator[DayTrouble]:
    named: dict[int, list[str]] = {}
    for store in stores_in(production.pk):
        named.setdefault(store.device_id, []).append(f"'{store.name}'")
    rows = DeviceLoss.objects.filter(device__in=named, **_within(span, "reported_at"))
    for loss in rows.select_related("reported_by", "device"):
        stores = " and ".join(named[loss.device_id])
        words = f"{stores} reported lost by {loss.reported_by.shown_name}: {loss.reason}"
        yield DayTrouble(loss.reported_at, loss.device.name, words)


def _asides(production: Production, span: Span) -> Iterator[DayTrouble]:
    rows = CardAside.objects.filter(card__camera__production=production, **_within(span, "at"))
    for one in rows.select_related("card", "person"):
        words = f"Card {one.card.label} {one.kind} by {one.person.shown_name}: {one.reason}"
        yield DayTrouble(one.at, one.card.label, words)


def _refusals(production: Production, span: Span) -> Iterator[DayTrouble]:
    rows = Hold.objects.filter(refusal=True, **_within(span, "placed_at"))
    for one in rows.select_related("card__camera", "roll", "camera", "placed_by"):
        if one.production_id == production.pk:
            words = f"{one.placed_by.shown_name} refused to sign for {one.on}: {one.reason}"
            yield DayTrouble(one.placed_at, one.subject, words)


def _revocations(production: Production, span: Span) -> Iterator[DayTrouble]:
    rows = Revocation.objects.filter(clearance__roll__production=production, **_within(span, "at"))
    for one in rows.select_related("clearance__card", "person"):
        label = one.clearance.card.label
        yield DayTrouble(one.at, label, f"{one.person.shown_name} revoked the clearance of {label}: {one.reason}")


def _breaks(production: Production, span: Span) -> Iterator[DayTrouble]:
    """Recordings that do not decode, as they were last gone through."""
    rows = FileDecoded.objects.filter(file__roll__production=production, in_all__gt=0, **_within(span, "at"))
    for one in rows.select_related("file__roll", "file__known_media__media"):
        yield DayTrouble(one.at, one.file.roll.tag, f"{said_of_break(one)}.")
