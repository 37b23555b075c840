"""Files that were on a card, are in no copy, and are not on it any more: a question to a person."""

from collections.abc import Container, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.db.models import QuerySet

from ruggedraft.core.redundancy import FileFact, same_time
from ruggedraft.intake.models import Card, GoneFile, ListedEntry
from ruggedraft.intake.queries import latest_listings

from .models import RollFile, Waiver
from .queries import held_anywhere
from .summaries import is_whole_somewhere, places_of_all, roll_standings, whole_somewhere


@dataclass(frozen=True)
class Gone:
    """A file that was missed on a card and that nobody answered for or waived. copied: the roll's files that it is."""

    file: GoneFile
    copied: tuple[RollFile, ...]


@dataclass(frozen=True)
class GoneSummary:
    """open: something is gone from a card that no roll is known to have. rolls: ids of those that have the rest."""

    open: bool
    rolls: frozenset[int]

    @property
    def is_something(self) -> bool:
        return self.open or bool(self.rolls)


def unanswered(cards: Iterable[Card]) -> dict[int, list[GoneFile]]:
    """The missed files of each card that somebody still has to answer for, by the card's id.

    Not those that are on the card again, that some copy holds, or that were waived as they were. Cards of which all
    that is gone is in whole copies are not gone through file by file.
    """
    cards = list(cards)
    said = gone_summaries(cards)
    return unanswered_of([card for card in cards if card.pk in said], said)


def unanswered_of(cards: Iterable[Card], said: Mapping[int, GoneSummary]) -> dict[int, list[GoneFile]]:
    """The same. said: from `gone_summaries`, of each of these cards."""
    cards = list(cards)
    whole = _whole({pk for card in cards for pk in said[card.pk].rolls})
    return _one_by_one([card for card in cards if said[card.pk].open or not whole >= said[card.pk].rolls])


def _whole(rolls: set[int]) -> set[int]:
    """Of these rolls, those of which a store that is not lost is known to hold all."""
    if not rolls:
        return set()
    places = places_of_all()
    whole = whole_somewhere(rolls, places)
    unsure = roll_standings(rolls - whole, places)  # short of it, or what they come to is not remembered
    return whole | {pk for pk, one in unsure.items() if is_whole_somewhere(one)}


def _one_by_one(cards: list[Card]) -> dict[int, list[GoneFile]]:
    if not cards:
        return {}
    gone = _gone_files(cards)
    held = held_anywhere({row.pk: row for of in gone.values() for one in of for row in one.copied}.values())
    found = {card: _in_no_copy(of, held) for card, of in gone.items()}
    return {card: _once(files) for card, files in found.items() if files}


def _in_no_copy(gone: Iterable[Gone], held: Container[int]) -> list[GoneFile]:
    return [one.file for one in gone if not any(row.pk in held for row in one.copied)]


def _gone_files(cards: Iterable[Card]) -> dict[int, list[Gone]]:
    """The same by card, also of what some copy may hold. It changes with what is noted of card and rolls, not later."""
    cards = list(cards)
    missed = list(GoneFile.objects.filter(card__in=cards, answer=None).order_by("path", "pk"))
    if not missed:
        return {}
    here = _here_again(cards, missed)
    waived = _facts(Waiver.objects.filter(card__in=cards), "card")
    copied = _copied(cards, missed)
    found: dict[int, list[Gone]] = {}
    for file in missed:
        fact, place = _fact(file), (file.card_id, file.path)
        if any(_same(fact, other) for other in (*here.get(place, ()), *waived.get(place, ()))):
            continue
        rows = tuple(row for row in copied.get(place, ()) if _is_read_as(row, fact))
        found.setdefault(file.card_id, []).append(Gone(file, rows))
    return found


_COPIED = """
SELECT g.card_id, f.roll_id, f.modified_ns - g.modified_ns
FROM intake_gonefile g
LEFT JOIN (SELECT f.*, r.card_id FROM rolls_rollfile f JOIN rolls_roll r ON r.id = f.roll_id
  WHERE r.card_id = ANY(%(cards)s) AND f.checksum <> '') f
  ON f.card_id = g.card_id AND f.path = g.path AND f.size = g.size AND g.fingerprint IN ('', f.fingerprint)
WHERE g.card_id = ANY(%(cards)s) AND g.answer_id IS NULL
GROUP BY 1, 2, 3
"""


def gone_summaries(cards: Iterable[Card]) -> dict[int, GoneSummary]:
    """What is gone from each card, without going through it file by file: a card that is formatted daily misses many.

    Where it says that something is open, `unanswered` has to be asked; it may be back, or waived.
    """
    with connection.cursor() as cursor:
        cursor.execute(_COPIED, {"cards": [card.pk for card in cards]})
        rows = cursor.fetchall()
    found: dict[int, GoneSummary] = {}
    for card, roll, apart_ns in rows:
        known = found.get(card, GoneSummary(False, frozenset()))
        copied = roll is not None and same_time(0, apart_ns)
        found[card] = GoneSummary(known.open or not copied, known.rolls | ({roll} if copied else set()))
    return found


def _once(files: list[GoneFile]) -> list[GoneFile]:
    """A file that went, came back and went again is asked about once."""
    return list({_fact(file): file for file in files}.values())


def _fact(file: GoneFile) -> FileFact:
    return FileFact(file.path, file.size, file.modified_ns, file.fingerprint)


def _same(one: FileFact, other: FileFact) -> bool:
    return one.is_surely(other) or one.may_be(other)


_COLUMNS = ("path", "size", "modified_ns", "fingerprint")


def _facts(rows: QuerySet[Any], key: str) -> dict[tuple[int, str], list[FileFact]]:
    found: dict[tuple[int, str], list[FileFact]] = {}
    for of, *facts in rows.values_list(key, *_COLUMNS):
        fact = FileFact(*facts)
        found.setdefault((of, fact.path), []).append(fact)
    return found


def _here_again(cards: list[Card], missed: list[GoneFile]) -> dict[tuple[int, str], list[FileFact]]:
    listings = latest_listings(cards).values()
    entries = ListedEntry.objects.filter(listing__in=listings, path__in={file.path for file in missed})
    return _facts(entries, "listing__card")


def _copied(cards: list[Card], missed: list[GoneFile]) -> dict[tuple[int, str], list[RollFile]]:
    """Files of the cards' rolls that were read, by card and path."""
    rows = RollFile.objects.filter(roll__card__in=cards, path__in={file.path for file in missed}).exclude(checksum="")
    found: dict[tuple[int, str], list[RollFile]] = {}
    for row in rows.select_related("roll"):
        found.setdefault((row.roll.card_id, row.path), []).append(row)
    return found


def _is_read_as(row: RollFile, fact: FileFact) -> bool:
    same_ends = not fact.fingerprint or fact.fingerprint == row.fingerprint
    return row.size == fact.size and same_time(row.modified_ns, fact.modified_ns) and same_ends
