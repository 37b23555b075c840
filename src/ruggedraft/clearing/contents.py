"""Everything a person wants to know of a card in a reader before it is copied."""

from collections import Counter
from dataclasses import dataclass
from functools import cached_property

from ruggedraft.core.cards import CardDescription, Clip, Companion, Held, Holding
from ruggedraft.core.proposing import goes_on
from ruggedraft.intake.contents import ListedCard, described_card
from ruggedraft.intake.models import CardListing, EntryMedia, Insertion
from ruggedraft.intake.queries import listed_facts
from ruggedraft.offloads.choosing import left_behind
from ruggedraft.rolls.gone import unanswered
from ruggedraft.rolls.matching import CardHoldings, companion, holdings
from ruggedraft.rolls.models import Roll, Waiver
from ruggedraft.rolls.readings import content_of

from .models import Clearance

_GRAVEST = (Holding.CHANGED, Holding.NEW, Holding.UNSURE, Holding.ALIKE, Holding.LEFT, Holding.HELD)


@dataclass(frozen=True)
class CardContents:
    """previews: for a clip's main path, the id of the media whose embedded preview shows it.

    gone_roll: tag of the card's last roll, where it was not cleared and nothing of it is on the card any more
    gone: names of files that were on it, are in no copy and not on it any more
    """

    listing: CardListing
    listed: ListedCard
    described: CardDescription
    holdings: CardHoldings
    companion: Companion | None
    previews: dict[str, int]
    gone_roll: str
    gone: tuple[str, ...]

    def of_clip(self, clip: Clip) -> Held:
        """What is held of a clip: the gravest of its files' standings."""
        held = self.holdings.held
        if len(clip.parts) == 1:
            return held[clip.parts[0].entry.path]
        return min((held[part.entry.path] for part in clip.parts), key=lambda one: _GRAVEST.index(one.holding))

    @cached_property
    def odd(self) -> dict[str, int]:
        """Which of the findings a path is in, by its place among them; the first of several."""
        found: dict[str, int] = {}
        for place, finding in enumerate(self.described.findings):
            for path in finding.paths:
                found.setdefault(path, place)
        return found

    def counts(self) -> Counter[Holding]:
        return Counter(held.holding for held in self.holdings.held.values())


def contents_of(insertion: Insertion) -> CardContents | None:
    """None before the card has been listed."""
    listing = insertion.listings.select_related("card__camera__production", "insertion").order_by("-id").first()
    if listing is None:
        return None
    listed, described = described_card(listing)
    waived = Waiver.objects.filter(card=listing.card).values_list("path", "size", "modified_ns") if listing.card else ()
    left = [*waived, *left_behind(listing)]
    return CardContents(
        listing,
        listed,
        described,
        holdings(listing, listed, left),
        companion(listing, described.clips),
        _previews(listing, listed, described),
        _gone_roll(listing, listed),
        _gone(listing),
    )


def _gone(listing: CardListing) -> tuple[str, ...]:
    if listing.card is None:
        return ()
    return tuple(file.path for file in unanswered([listing.card]).get(listing.card.pk, ()))


def _gone_roll(listing: CardListing, listed: ListedCard) -> str:
    last = Roll.objects.filter(card=listing.card).order_by("-id").first() if listing.card else None
    if last is None or Clearance.objects.filter(rolls=last).exists() or not listed.listing.files:
        return ""
    content, here = content_of([last]).get(last.pk, ()), listed_facts([listing])[listing.pk]
    same = goes_on(content, here, roll_serial=last.fs_serial, card_serial=listing.insertion.serial)
    return "" if same else last.tag


def _previews(listing: CardListing, listed: ListedCard, described: CardDescription) -> dict[str, int]:
    known = EntryMedia.objects.filter(entry__listing=listing).exclude(media__preview=None)
    shown = dict(known.values_list("entry_id", "media_id"))
    found: dict[str, int] = {}
    for clip in described.clips if shown else ():
        for part in clip.parts:
            seen = shown.get(listed.rows[part.entry.path])
            if seen is not None:
                found[clip.parts[0].entry.path] = seen
                break
    return found
