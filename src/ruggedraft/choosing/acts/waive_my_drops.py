from collections.abc import Sequence

from django.db import transaction

from ruggedraft.clearing.acts.drop_files import drop_files
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.sources import from_ledger, to_ledger
from ruggedraft.core.wording import counted, first_of
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.rolls.clips import described
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import delivery_of

from ..queries import choice_of

_REASON = "dropped when the roll was chosen from"


@transaction.atomic
def waive_my_drops(person: Person, roll: Roll, *, seen: Sequence[str], though_delivered: bool = False) -> int:
    """Waive what somebody dropped of a roll, in their own name: all files of these clips need no copies any more.

    Nobody's drops are waived by anybody else, and nothing of a clip that somebody keeps. What was dropped and not
    waived is copied like everything else.
    seen: the clips that they were shown as dropped by them, by paths of their main files
    though_delivered: even if the roll was delivered, with what they dropped
    Raises ActRefused where things are not so any more, or the rule asks for copies of everything.
    """
    require(person, May.WAIVE, roll.production_id)
    hold_still(roll.production_id)
    Roll.objects.select_for_update(no_key=True).get(pk=roll.pk)  # nobody marks a clip meanwhile
    choice = choice_of(roll, person)
    if contested := sorted(set(seen) & set(choice.contested)):
        raise ActRefused(f"Somebody keeps what you dropped: {first_of(contested, 5)}. Agree on it first.")
    if sorted(seen) != sorted(choice.mine) or not choice.mine:
        raise ActRefused("What you dropped is not what you were shown any more: look again. Nothing was waived.")
    delivery = delivery_of(roll)
    if delivery and not though_delivered:
        raise ActRefused(
            f"{roll.tag} was delivered to {delivery.to}, with {counted(len(seen), 'clip')} that you dropped."
            " Say that you mean it."
        )
    count = drop_files(person, roll, _files_of(roll, choice.mine), _REASON)
    changed(Topic.MARKS, rolls=[roll.tag], production=roll.production_id)
    return count


def _files_of(roll: Roll, clips: Sequence[str]) -> list[str]:
    """Every file of these clips. What two clips share stays, unless both are dropped."""
    dropped, stays = set[str](), set[str]()
    wanted = {from_ledger(path) for path in clips}
    with_all = Roll.objects.select_related("camera", "production").get(pk=roll.pk)
    for clip in described([with_all])[roll.pk].clips:
        paths = {to_ledger(entry.path) for entry in clip.entries}
        (dropped if clip.main.path in wanted else stays).update(paths)
    return sorted((dropped | set(clips)) - stays)
