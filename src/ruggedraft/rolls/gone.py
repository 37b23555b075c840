"""Files that were on a card, are in no copy, and are not on it any more: a question to a person."""

from collections.abc import Iterable

from ruggedraft.core.redundancy import FileFact, same_time
from ruggedraft.intake.models import Card, GoneFile, ListedEntry
from ruggedraft.intake.queries import latest_listings

from .models import RollFile, Waiver
from .queries import held_anywhere


def unanswered(cards: Iterable[Card]) -> dict[int, list[GoneFile]]:
    """The missed files of each card that somebody still has to answer for, by the card's id.

    Not those that are on the card again, that some copy holds, or that were waived as they were.
    """
    cards = list(cards)
    missed = list(GoneFile.objects.filter(card__in=cards, answer=None).order_by("path", "pk"))
    if not missed:
        return {}
    here = _here_again(cards, missed)
    waived = _facts(Waiver.objects.filter(card__in=cards), "card")
    held = _held(cards, missed)
    found: dict[int, list[GoneFile]] = {}
    for file in missed:
        fact = _fact(file)
        back = any(_same(fact, other) for other in here.get((file.card_id, file.path), ()))
        said = any(_same(fact, other) for other in waived.get((file.card_id, file.path), ()))
        if not back and not said and file.pk not in held:
            found.setdefault(file.card_id, []).append(file)
    return {card: _once(files) for card, files in found.items()}


def _once(files: list[GoneFile]) -> list[GoneFile]:
    """A file that went, came back and went again is asked about once."""
    return list({_fact(file): file for file in files}.values())


def _fact(file: GoneFile) -> FileFact:
    return FileFact(file.path, file.size, file.modified_ns, file.fingerprint)


def _same(one: FileFact, other: FileFact) -> bool:
    return one.is_surely(other) or one.may_be(other)


_COLUMNS = ("path", "size", "modified_ns", "fingerprint")


def _facts(rows, key: str) -> dict[tuple[int, str], list[FileFact]]:
    found: dict[tuple[int, str], list[FileFact]] = {}
    for of, *facts in rows.values_list(key, *_COLUMNS):
        fact = FileFact(*facts)
        found.setdefault((of, fact.path), []).append(fact)
    return found


def _here_again(cards: list[Card], missed: list[GoneFile]) -> dict[tuple[int, str], list[FileFact]]:
    listings = latest_listings(cards).values()
    entries = ListedEntry.objects.filter(listing__in=listings, path__in={file.path for file in missed})
    return _facts(entries, "listing__card")


def _held(cards: list[Card], missed: list[GoneFile]) -> set[int]:
    """Of the missed files, those that a copy holds."""
    rows = RollFile.objects.filter(roll__card__in=cards, path__in={file.path for file in missed}).exclude(checksum="")
    candidates = list(rows.select_related("roll"))
    there = held_anywhere(candidates)
    by_place: dict[tuple[int, str], list[RollFile]] = {}
    for row in candidates:
        if row.pk in there:
            by_place.setdefault((row.roll.card_id, row.path), []).append(row)
    return {
        file.pk
        for file in missed
        if any(_is_read_as(row, _fact(file)) for row in by_place.get((file.card_id, file.path), ()))
    }


def _is_read_as(row: RollFile, fact: FileFact) -> bool:
    same_ends = not fact.fingerprint or fact.fingerprint == row.fingerprint
    return row.size == fact.size and same_time(row.modified_ns, fact.modified_ns) and same_ends
