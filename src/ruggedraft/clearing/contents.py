"""Everything a person wants to know of a card in a reader before it is copied."""

from collections import Counter
from dataclasses import dataclass

from ruggedraft.core.cards import CardDescription, Clip, Companion, Finding, Held, Holding
from ruggedraft.intake.contents import ListedCard, describe_listing, listed_card
from ruggedraft.intake.models import CardListing, EntryMedia, Insertion
from ruggedraft.rolls.matching import CardHoldings, companion, holdings

from .models import Waiver

_GRAVEST = (Holding.CHANGED, Holding.NEW, Holding.ALIKE, Holding.LEFT, Holding.HELD)


@dataclass(frozen=True)
class CardContents:
    """previews: for a clip's main path, the id of the entry whose embedded preview shows it."""

    listing: CardListing
    listed: ListedCard
    described: CardDescription
    holdings: CardHoldings
    companion: Companion | None
    previews: dict[str, int]

    def of_clip(self, clip: Clip) -> Held:
        """What is held of a clip: the gravest of its files' standings."""
        all_held = [self.holdings.held[entry.path] for entry in clip.entries]
        return min(all_held, key=lambda held: _GRAVEST.index(held.holding))

    @property
    def odd(self) -> dict[str, Finding]:
        """Findings by the paths they are about; the first of several."""
        found: dict[str, Finding] = {}
        for finding in self.described.findings:
            for path in finding.paths:
                found.setdefault(path, finding)
        return found

    def counts(self) -> Counter[Holding]:
        return Counter(held.holding for held in self.holdings.held.values())


def contents_of(insertion: Insertion) -> CardContents | None:
    """None before the card has been listed."""
    listing = insertion.listings.select_related("card__camera__production", "insertion").order_by("-id").first()
    if listing is None:
        return None
    listed = listed_card(listing)
    described = describe_listing(listing, listed)
    waived = Waiver.objects.filter(card=listing.card).values_list("path", "size", "modified_ns") if listing.card else ()
    return CardContents(
        listing,
        listed,
        described,
        holdings(listing, listed, waived),
        companion(listing, described.clips),
        _previews(listing, listed, described),
    )


def _previews(listing: CardListing, listed: ListedCard, described: CardDescription) -> dict[str, int]:
    shown = set(
        EntryMedia.objects.filter(entry__listing=listing).exclude(preview=None).values_list("entry_id", flat=True)
    )
    found = {}
    for clip in described.clips:
        ids = (listed.rows[entry.path] for entry in clip.entries)
        seen = next((pk for pk in ids if pk in shown), None)
        if seen is not None:
            found[clip.main.path] = seen
    return found
