"""Screens at the cart that nobody is signed in at, and who acts on one."""

from datetime import timedelta
from itertools import pairwise

from django.contrib.auth.hashers import check_password, make_password
from django.db import transaction

from ruggedraft.core.errors import ActRefused, NotPermitted, NotThere
from ruggedraft.core.wording import is_name, one_line
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write, write_in_each
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed

from ..accounts import kept_of, new_secret, require_password
from ..models import Person, Pin, PinTry, SharedScreen
from ..permissions import May, require, roles_of

LOCKED_FOR = timedelta(minutes=15)
MOST_OF_PERSON, MOST_AT_SCREEN = 5, 15
"""Wrong PINs within that time, of one person anywhere, and of anybody at one screen."""
_SHORTEST, _LONGEST = 4, 8


@transaction.atomic
def make_screen(person: Person, production: int, name: str) -> str:
    """What a browser's cookie carries by which it shows a production (id) with nobody signed in. It is told once."""
    require(person, May.KEEP_STORES, production)
    name = one_line(name)
    if not is_name(name, 60):
        raise ActRefused("A screen has a name of 1 to 60 signs, such as: cart, port side.")
    secret, kept = new_secret()
    SharedScreen.objects.create(production_id=production, name=name, secret=kept, by=person, at=now())
    words = f"{person.shown_name} had a browser show this production with nobody signed in, as '{name}'."
    write("make screen", name, words, person=person, production=production)
    changed(Topic.SETUP)
    return secret


@transaction.atomic
def end_screen(person: Person, production: int, screen_id: int) -> None:
    """It shows nothing any more, from this moment."""
    require(person, May.KEEP_STORES, production)
    screen = SharedScreen.objects.select_for_update(no_key=True).filter(pk=screen_id, production=production).first()
    if screen is None:
        raise NotThere("There is no such screen.")
    if screen.ended_at:
        return
    screen.ended_at = now()
    screen.save(update_fields=["ended_at"])
    words = f"The screen '{screen.name}' shows nothing any more."
    write("end screen", screen.name, words, person=person, production=production)
    changed(Topic.SETUP, Topic.SESSION)


def screen_with(secret: str) -> SharedScreen | None:
    """The screen whose cookie carries this, unless it was ended."""
    return SharedScreen.objects.filter(secret=kept_of(secret), ended_at=None).first() if secret else None


@transaction.atomic
def set_pin(person: Person, password: str, pin: str) -> None:
    """Choose one's own PIN. Raises ActRefused for a wrong password, and for what is guessed first."""
    person = Person.objects.select_for_update(no_key=True).get(pk=person.pk)
    require_password(person, password)
    if not (pin.isascii() and pin.isdecimal() and _SHORTEST <= len(pin) <= _LONGEST):
        raise ActRefused(f"A PIN has {_SHORTEST} to {_LONGEST} digits.")
    steps = {(int(after) - int(before)) % 10 for before, after in pairwise(pin)}
    if steps in ({0}, {1}, {9}):
        raise ActRefused("This PIN is among the first that somebody tries: choose another.")
    Pin.objects.update_or_create(person=person, defaults={"hashed": make_password(pin), "set_at": now()})
    words = f"{person.shown_name} chose a PIN for shared screens."
    write_in_each(roles_of(person), "set pin", person.username, words, person=person)


def person_by_pin(screen: SharedScreen, username: str, pin: str) -> Person:
    """Who acts at a shared screen. Raises NotPermitted with a sentence; a wrong PIN is counted whatever follows."""
    with transaction.atomic():
        found, refused = _tried(screen, username, pin)
    if refused or found is None:
        raise NotPermitted(refused)
    return found


def _tried(screen: SharedScreen, username: str, pin: str) -> tuple[Person | None, str]:
    """The person, or why not. Two who try at once are counted one after the other."""
    people = Person.objects.select_for_update(no_key=True, of=("self",)).select_related("pin")
    person = people.filter(
        username=username, is_active=True, memberships__production=screen.production_id, memberships__off_since=None
    ).first()
    if person is None or not hasattr(person, "pin"):
        return None, "This name has no PIN here: set one under your name, once signed in. Nothing was done."
    since = now() - LOCKED_FOR
    wrong = PinTry.objects.filter(at__gt=since, right=False)
    last = PinTry.objects.filter(person=person, right=True).order_by("-pk").values_list("pk", flat=True).first() or 0
    if wrong.filter(person=person, pk__gt=last).count() >= MOST_OF_PERSON:
        return None, _locked(f"the PIN of {person.shown_name}")
    if wrong.filter(screen=screen).count() >= MOST_AT_SCREEN:
        return None, _locked(f"the screen '{screen.name}'")
    right = check_password(pin[:_LONGEST], person.pin.hashed) and len(pin) <= _LONGEST
    PinTry.objects.create(screen=screen, person=person, at=now(), right=right)
    if right:
        return person, ""
    tried = wrong.filter(person=person, pk__gt=last).count()
    if tried == MOST_OF_PERSON:
        words = f"The PIN of {person.shown_name} was given wrongly {tried} times at '{screen.name}', and is locked."
        write("lock pin", person.username, words, person=None, origin=screen.name, production=screen.production_id)
    left = MOST_OF_PERSON - tried
    more = f"{left} more tries before it is locked" if left else "it is locked for a quarter of an hour"
    return None, f"That is not the PIN of {person.shown_name}: {more}. Nothing was done."


def _locked(what: str) -> str:
    return (
        f"Too many wrong PINs: {what} is locked for a quarter of an hour. Sign in with the password. Nothing was done."
    )
