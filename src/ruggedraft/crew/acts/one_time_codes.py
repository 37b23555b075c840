"""One-time codes: who asked for them signs in with what their phone shows too (RFC 6238, by django-otp)."""

import base64
from dataclasses import dataclass

from django.db import transaction
from django_otp.plugins.otp_totp.models import TOTPDevice

from ruggedraft.core.errors import ActRefused
from ruggedraft.journal.writing import write_in_each

from ..accounts import require_password
from ..models import Person
from ..permissions import roles_of


@dataclass(frozen=True)
class Begun:
    """secret: in base32, for typing. address: the same as otpauth://, for a picture that a phone reads"""

    secret: str
    address: str


def has_codes(person: Person) -> bool:
    return _device(person) is not None


@transaction.atomic
def begin_codes(person: Person, password: str) -> Begun:
    """Nothing is asked for yet: that begins with `confirm_codes`. An earlier beginning is of no use any more."""
    require_password(Person.objects.get(pk=person.pk), password)
    if has_codes(person):
        raise ActRefused("You are asked for codes already: end that first.")
    TOTPDevice.objects.filter(user=person, confirmed=False).delete()
    made = TOTPDevice.objects.create(user=person, name=person.username, confirmed=False)
    return Begun(base64.b32encode(made.bin_key).decode(), made.config_url)


@transaction.atomic
def confirm_codes(person: Person, code: str) -> None:
    """From now on one is asked for at each signing in: the phone has shown that it knows them."""
    begun = TOTPDevice.objects.select_for_update(no_key=True).filter(user=person, confirmed=False).first()
    if begun is None:
        raise ActRefused("Begin with your password: there is nothing to confirm.")
    if not _agrees(begun, code):
        raise ActRefused("That is not the code of this moment. Is the phone's clock right? Nothing was changed.")
    begun.confirmed = True
    begun.save(update_fields=["confirmed"])
    words = f"{person.shown_name} is asked for a one-time code at each signing in from now on."
    write_in_each(roles_of(person), "begin codes", person.username, words, person=person)


@transaction.atomic
def end_codes(person: Person, password: str) -> None:
    require_password(Person.objects.get(pk=person.pk), password)
    if forget_codes(person):
        words = f"{person.shown_name} is asked for no one-time code any more."
        write_in_each(roles_of(person), "end codes", person.username, words, person=person)


def forget_codes(person: Person) -> bool:
    """Inside the act that this follows from. Returns whether there were any."""
    gone, _ = TOTPDevice.objects.filter(user=person).delete()
    return bool(gone)


def code_is_right(person: Person, code: str) -> bool:
    """Once for each code; after a wrong one nothing is right for a while, twice as long each time."""
    with transaction.atomic():
        device = _device(person, lock=True)
        return device is not None and _agrees(device, code)


def _agrees(device: TOTPDevice, code: str) -> bool:
    allowed, _ = device.verify_is_allowed()
    code = "".join(code.split())
    return bool(allowed and code.isascii() and code.isdecimal() and device.verify_token(code))


def _device(person: Person, *, lock: bool = False) -> TOTPDevice | None:
    rows = TOTPDevice.objects.filter(user=person, confirmed=True)
    return (rows.select_for_update(no_key=True) if lock else rows).first()
