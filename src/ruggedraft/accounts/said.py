"""What people said of a roll, its card and its files."""

from collections.abc import Iterator

from django.db.models import Count, Q

from ruggedraft.clearing.models import Hold
from ruggedraft.core.accounts import AccountWord
from ruggedraft.core.wording import counted
from ruggedraft.rolls.models import Roll, Waiver


def taken(roll: Roll) -> Iterator[AccountWord]:
    """The moments at which files became content of it."""
    rows = roll.takes.select_related("person").annotate(count=Count("files")).order_by("pk")
    for one in rows:
        yield AccountWord(roll.tag, one.person.shown_name, one.at, counted(one.count, "file"))


def waivers_on(roll: Roll) -> Iterator[AccountWord]:
    """Files that need not be covered."""
    for one in Waiver.objects.filter(roll=roll).select_related("person").order_by("path", "pk"):
        yield AccountWord(one.path, one.person.shown_name, one.at, one.reason)


def holds_of(roll: Roll) -> Iterator[AccountWord]:
    """On the roll, its card and its camera; those that were lifted too."""
    mine = Q(roll=roll) | Q(card=roll.card) | Q(camera=roll.camera)
    rows = Hold.objects.filter(mine).select_related("placed_by", "lifted_by", "roll", "card", "camera")
    for one in rows.order_by("pk"):
        by = one.lifted_by.shown_name if one.lifted_by else ""
        words = f"would not sign: {one.reason}" if one.refusal else one.reason
        ended = f"{by}: {one.lifted_why}" if one.lifted_why else by
        yield AccountWord(one.on, one.placed_by.shown_name, one.placed_at, words, one.lifted_at, ended)
