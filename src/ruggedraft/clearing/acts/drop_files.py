from collections.abc import Sequence

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.redundancy import rule_for
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.models import Roll, RollFile, Waiver
from ruggedraft.rolls.readings import waived_files
from ruggedraft.rolls.summaries import roll_standings

from ..refusals import noted_when_refused


@noted_when_refused("drop files")
@transaction.atomic
def drop_files(person: Person, roll: Roll, paths: Sequence[str], reason: str) -> int:
    """Say of files of a roll that nobody needs them: each is waived in that person's name, and needs no copies.

    Only where the rule asks for copies of chosen material alone. paths: in the ledger's form
    """
    require(person, May.WAIVE, roll.production_id)
    hold_still(roll.production_id)
    if not reason.strip():
        raise ActRefused("Say why these files are dropped; your name stands beside it.")
    facts = roll_standings([roll.pk])[roll.pk].facts
    if not rule_for(facts, roll.production.rule.as_rule()).chosen_only:
        raise ActRefused(f"The rule asks for copies of everything on {roll.tag}, chosen or not. Nothing was dropped.")
    files = _files(roll, set(paths))
    waived = waived_files([roll])
    fresh = [file for file in files if file.pk not in waived]
    if not fresh:
        raise ActRefused("All of these were dropped or waived already.")
    Waiver.objects.bulk_create(
        Waiver(
            card_id=roll.card_id, roll=roll, listing_id=_listing(file), path=file.path, size=file.size,
            modified_ns=file.modified_ns, fingerprint=file.fingerprint, reason=reason.strip()[:300], at=now(),
            person=person,
        )
        for file in fresh
    )  # fmt: skip
    names = [file.path for file in fresh]
    sentence = f"{counted(len(fresh), 'file')} of {roll.tag} dropped: {reason.strip()}. {first_of(names)}"
    write("drop", roll.tag, sentence, person=person, production=roll.production_id, detail={"paths": names})
    changed(Topic.CARDS, Topic.ROLLS, rolls=[roll.tag], production=roll.production_id)
    return len(fresh)


def _files(roll: Roll, wanted: set[str]) -> list[RollFile]:
    """By path. Raises ActRefused where one is not in the roll."""
    files = list(roll.files.filter(path__in=wanted).select_related("take", "roll").order_by("path"))
    missing = sorted(wanted - {file.path for file in files})
    if missing or not files:
        raise ActRefused(f"There is no {', '.join(missing[:5]) or 'such file'} in {roll.tag}. Nothing was dropped.")
    return files


def _listing(file: RollFile) -> int:
    """Of the card as it was when the file was taken. Raises ActRefused where the ledger was made again without any."""
    if file.take.listing_id is None:
        raise ActRefused(f"{file.roll.tag} was rebuilt from records beside its copies: waive its files at the card.")
    return file.take.listing_id
