"""What was refused is written down too: who wanted what, and why it was not done."""

from collections.abc import Callable
from functools import update_wrapper
from typing import Concatenate, ParamSpec, TypeVar

from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.models import Camera, Production
from ruggedraft.rolls.models import Roll

from .models import Hold

_Thing = TypeVar("_Thing", bound=Card | Roll | Camera | Production | Hold)
_More = ParamSpec("_More")
_Result = TypeVar("_Result")
_Act = Callable[Concatenate[Person, _Thing, _More], _Result]


def noted_when_refused(wanted: str) -> Callable[[_Act[_Thing, _More, _Result]], _Act[_Thing, _More, _Result]]:
    """Of an act of a person on something: where it raises ActRefused, that is journalled, and raised all the same.

    wanted: completes "… wanted to <wanted>". The act's own transaction is undone; the journal row is in another.
    """

    def of(act: _Act[_Thing, _More, _Result]) -> _Act[_Thing, _More, _Result]:
        def noting(person: Person, thing: _Thing, /, *words: _More.args, **more: _More.kwargs) -> _Result:
            try:
                return act(person, thing, *words, **more)
            except ActRefused as error:
                _note(person, thing, wanted, error)
                raise

        return update_wrapper(noting, act)

    return of


@transaction.atomic
def _note(person: Person, thing: Card | Roll | Camera | Production | Hold, wanted: str, error: ActRefused) -> None:
    name, production = _named(thing)
    sentence = f"{person.shown_name} wanted to {wanted}, and was refused: {error.sentence}"
    write("refused act", name, sentence, person=person, production=production)
    changed(Topic.CARDS, cards=[name], production=production)


def _named(thing: Card | Roll | Camera | Production | Hold) -> tuple[str, int | None]:
    """What it is called, and the id of its production."""
    if isinstance(thing, Card):
        return thing.label, thing.camera.production_id if thing.camera else None
    if isinstance(thing, Roll):
        return thing.tag, thing.production_id
    if isinstance(thing, Production):
        return thing.name, thing.pk
    if isinstance(thing, Camera):
        return f"camera {thing.letter}", thing.production_id
    return thing.subject, thing.production_id
