"""What each word of a question is found in, but for names of files."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ruggedraft.clearing.tally import Sought
from ruggedraft.core.finding import plain_form, searched
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll


@dataclass(frozen=True)
class Around:
    """The rolls that are looked in, and of each word, in which of them it stands: in tag, card, camera or day. Ids"""

    rolls: Sequence[int]
    of: Mapping[str, Sequence[int]]


def rolls_around(production: Production, words: Sequence[str], sought: Sought) -> Around:
    """In one query. sought: narrows it by day, camera and store; its text is left alone"""
    rows = Roll.objects.filter(sought.filter(), production=production)
    if sought.day:
        rows = rows.filter(shoot_day=sought.day)
    texts = rows.values_list("pk", "tag", "card__label", "camera__name", "shoot_day", "camera__letter").distinct()
    of: dict[str, list[int]] = {word: [] for word in words}
    rolls = []
    for pk, *said, day, letter in texts:
        rolls.append(pk)
        text, of_camera = searched((*said, day.isoformat())), plain_form(letter)
        for word, found in of.items():
            if word in text or word == of_camera:
                found.append(pk)
    return Around(rolls, of)
