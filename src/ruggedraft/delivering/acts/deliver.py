"""Sending rolls to somebody, and taking that back."""

from collections.abc import Sequence
from datetime import timedelta

from django.contrib.auth.hashers import make_password
from django.db import transaction
from django.db.models import Max

from ruggedraft.accounts.acts.make_account import ask_paper, make_account
from ruggedraft.choosing.queries import files_kept
from ruggedraft.core.accounts import AccountOn
from ruggedraft.core.delivering import DeliveryWay
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.wording import counted, first_of, one_line
from ruggedraft.crew.models import Person
from ruggedraft.crew.permissions import May, require
from ruggedraft.journal.clock import now
from ruggedraft.journal.writing import write
from ruggedraft.live.messages import Topic
from ruggedraft.live.notify import changed
from ruggedraft.productions.locking import hold_still
from ruggedraft.productions.models import Production
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.queries import rolls_named

from ..links import new_link
from ..models import ClientLink, ConsignedRoll, Consignment

LONGEST = timedelta(days=90)
MOST_ROLLS = 200


def deliver(
    person: Person,
    production: Production,
    tags: Sequence[str],
    to: str,
    way: DeliveryWay,
    *,
    note: str = "",
    kept_only: bool = False,
    days: int = 14,
    password: str = "",
) -> tuple[Consignment, str]:
    """Put rolls together for somebody. What a link carries comes with it, once; empty where it goes another way.

    kept_only: of each roll the clips that somebody keeps. days, password: of a link
    Nothing counts as delivered by that: only what was received does. Raises ActRefused.
    """
    require(person, May.DELIVER, production.pk)
    to, rolls = one_line(to)[:120], _rolls(production, tags)
    _refuse(to, way, days)
    until = {roll.pk: last_take(roll) for roll in rolls}
    chosen = {roll.pk: _chosen(roll) if kept_only else None for roll in rolls}
    editions = {roll.pk: make_account(person, production, AccountOn.ROLL, roll.tag) for roll in rolls}
    with transaction.atomic():
        hold_still(production.pk)
        made = Consignment.objects.create(
            production=production, to=to, way=way.value, note=note.strip()[:500], by=person, at=now()
        )
        for roll in rolls:
            ask_paper(person, editions[roll.pk])
            ConsignedRoll.objects.create(
                consignment=made, roll=roll, edition=editions[roll.pk], files=chosen[roll.pk], until=until[roll.pk]
            )
        secret = _link(made, days, password) if way is DeliveryWay.LINK else ""
        what = first_of([roll.tag for roll in rolls])
        words = f"For {to}, by {way}: {what}{' (clips that are kept)' if kept_only else ''}."
        write("make delivery", to, words, person=person, production=production.pk, detail={"consignment": made.pk})
        changed(Topic.DELIVERIES, production=production.pk)
    return made, secret


def _refuse(to: str, way: DeliveryWay, days: int) -> None:
    if not to:
        raise ActRefused("Say who it is for.")
    if way is DeliveryWay.LINK and not 1 <= days <= LONGEST.days:
        raise ActRefused(f"A link opens for 1 to {LONGEST.days} days.")


def _rolls(production: Production, tags: Sequence[str]) -> list[Roll]:
    rolls = rolls_named(production, list(dict.fromkeys(tags)))
    if not rolls or len(rolls) > MOST_ROLLS:
        raise ActRefused(f"Choose 1 to {MOST_ROLLS} rolls.")
    return rolls


def last_take(roll: Roll) -> int:
    """Id of the last take of a roll. Raises ActRefused where not all of it was read: nobody is given half a card."""
    unread = roll.files.filter(checksum="").count()
    if unread:
        which = counted(unread, "file was", "files were")
        raise ActRefused(f"Of {roll.tag} {which} never read off the card: offload it again first.")
    return roll.takes.aggregate(last=Max("pk"))["last"] or 0


def _chosen(roll: Roll) -> list[int]:
    found = sorted(files_kept(roll))
    if not found:
        raise ActRefused(f"Of {roll.tag} nobody keeps any clip: deliver all of it, or keep some first.")
    return found


def _link(made: Consignment, days: int, password: str) -> str:
    secret, kept = new_link()
    ClientLink.objects.create(
        consignment=made, secret=kept, until=now() + timedelta(days=days),
        hashed=make_password(password) if password else "",
    )  # fmt: skip
    return secret


@transaction.atomic
def withdraw(person: Person, consignment: Consignment) -> None:
    """It goes nowhere any more, and its link opens nothing, from this moment. What was received stays received."""
    require(person, May.DELIVER, consignment.production_id)
    hold_still(consignment.production_id)
    consignment.refresh_from_db()
    if consignment.withdrawn_at:
        raise ActRefused("This was taken back already.")
    consignment.withdrawn_at, consignment.withdrawn_by = now(), person
    consignment.save(update_fields=["withdrawn_at", "withdrawn_by"])
    ClientLink.objects.filter(consignment=consignment, revoked_at=None).update(revoked_at=now())
    tags = consignment.rolls.order_by("roll__tag").values_list("roll__tag", flat=True)
    words = f"The delivery to {consignment.to} ({counted(len(tags), 'roll')}) was taken back; its link opens nothing."
    if consignment.way != DeliveryWay.LINK:
        words = f"The delivery to {consignment.to} ({counted(len(tags), 'roll')}) was taken back."
    write("withdraw delivery", consignment.to, words, person=person, production=consignment.production_id,
          detail={"consignment": consignment.pk})  # fmt: skip
    changed(Topic.DELIVERIES, production=consignment.production_id)
