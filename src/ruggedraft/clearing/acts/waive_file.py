"""Saying that files need not be covered: by name, as they are listed now."""

from collections.abc import Mapping, Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import FileFact, Known
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.intake.models import Card
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll, Waiver

from ..cases import Case, case
from ..refusals import noted_when_refused


@noted_when_refused("waive files")
@transaction.atomic
def waive_file(person: Person, card: Card, path: str, reason: str, *, seen: str | None = None) -> Waiver:
    """Say that one file of a card, exactly as it is listed now, need not be covered.

    path: in the ledger's form. seen: the digest of the listing the person was shown, None for an act that is not
    made at a screen
    """
    judged = _judged(person, card, reason, seen)
    entry = next((file for file, _ in judged.each if file.path == path), None)
    if judged.listing is None or entry is None:
        raise ActRefused(f"There is no {path} on card {card.label} as it was last read.")
    _refuse_twice(judged, [entry])
    (waiver,) = _waive(judged, person, [entry], reason)
    write(
        "waive",
        card.label,
        f"{path} on card {card.label} need not be covered: {waiver.reason}",
        person=person,
        production=card.owner.production_id,
    )
    changed(Topic.CARDS, Topic.ROLLS)
    return waiver


@noted_when_refused("waive files")
@transaction.atomic
def waive_stretch(
    person: Person, card: Card, first: str, last: str, reason: str, *, count: int, seen: str | None = None
) -> int:
    """Say of every file in no roll from one name to another, in the order of paths, that it need not be covered.

    count: how many the person was shown; if that is not so any more, nothing is waived
    """
    judged = _judged(person, card, reason, seen)
    files = [file for file, known in judged.each if first <= file.path <= last and _is_in_none(known)]
    if not files or len(files) != count:
        raise ActRefused(f"There are {len(files)} files from {first} to {last}, not {count}: look again.")
    return _waive_many(judged, person, files, reason, f"from {first} to {last}")


@noted_when_refused("waive files")
@transaction.atomic
def waive_left_behind(person: Person, card: Card, reason: str, *, count: int, seen: str | None = None) -> int:
    """Say of every file that was left on a card on purpose, by name, that it need not be covered.

    count: how many the person was shown; if that is not so any more, nothing is waived
    """
    judged = _judged(person, card, reason, seen)
    files = judged.left_files
    if len(files) != count or not files:
        raise ActRefused("What was left behind on this card is not what you were shown any more: look again.")
    return _waive_many(judged, person, files, reason, "left behind")


def _waive_many(judged: Case, person: Person, files: Sequence[FileFact], reason: str, which: str) -> int:
    card = judged.card
    _waive(judged, person, files, reason)
    names = [file.path for file in files]
    many = f"{counted(len(files), 'file')} {which} on card {card.label} need not be covered"
    sentence = f"{many}: {reason.strip()}. {first_of(names)}"
    production = card.owner.production_id
    write("waive", card.label, sentence, person=person, production=production, detail={"paths": names})
    changed(Topic.CARDS, Topic.ROLLS)
    return len(files)


def _is_in_none(known: Known) -> bool:
    return not (known.sure or known.maybe or known.waived)


def _refuse_twice(judged: Case, files: Sequence[FileFact]) -> None:
    waived = {file for file, known in judged.each if known.waived}
    for file in files:
        if file in waived:
            raise ActRefused(f"{file.path} on card {judged.card.label} was waived already, as it is now.")


def _judged(person: Person, card: Card, reason: str, seen: str | None) -> Case:
    require(person, May.WAIVE, card.owner.production_id)
    hold_still(card.owner.production_id)
    if not reason.strip():
        raise ActRefused("A waiver needs a reason.")
    judged = case(card)
    _refuse_stale(judged, seen)
    return judged


def _refuse_stale(judged: Case, seen: str | None) -> None:
    if seen is not None and judged.listing and seen != judged.listing.digest:
        raise ActRefused(f"Card {judged.card.label} was read again and holds something else now: look again.")


def _waive(judged: Case, person: Person, files: Sequence[FileFact], reason: str) -> list[Waiver]:
    """Each with the roll whose content it is, so that the roll's account says so too."""
    if judged.listing is None:
        raise ActRefused(f"Card {judged.card.label} has not been read yet.")
    listing = judged.listing.id
    rolls = {one.roll.tag: one.roll for one in judged.rolls}
    known = {file.path: sorted(of.sure or of.maybe) for file, of in judged.each}
    return Waiver.objects.bulk_create(
        Waiver(
            card=judged.card, roll=_roll_of(known.get(file.path), rolls, judged), listing_id=listing,
            path=file.path, size=file.size, modified_ns=file.modified_ns, fingerprint=file.fingerprint,
            reason=reason.strip()[:300], at=now(), person=person,
        )
        for file in files
    )  # fmt: skip


def _roll_of(tags: Sequence[str] | None, rolls: Mapping[str, Roll], judged: Case) -> Roll | None:
    """The newest roll that the file is content of, or else the one that the card's other files are."""
    mine = sorted((rolls[tag] for tag in tags or ()), key=lambda roll: roll.pk)
    return mine[-1] if mine else judged.roll.roll if judged.roll else None
