"""A card as it was last listed, as a verdict sees it."""

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from .cover import Cover, cover_of
from .facts import ClearanceFact, FileFact, RollFacts, Rule, WaiverFact
from .holds import HoldFact
from .states import AsideKind


@dataclass(frozen=True)
class CardFacts:
    """A card as it was last listed, and the rolls that hold what is on it.

    entries: everything on it that needs cover; links and unlistable folders too, which nothing covers
    cover: what is known of the entries, where that was worked out already; entries may be left out then
    listed_at: when that listing began. confirmed_at: the same of the last one whose files were compared by their ends
    gone: files that were on it, are in no copy, and are not on it any more; nobody has answered for them
    left: files that stayed on it on purpose when rolls were taken
    unwatched: the machine whose reader it was last seen in is away: nobody knows whether it is still there
    signed_by, ran: who signed for exactly this, and who ran its offloads
    holds: on the card itself. camera_holds: on whatever its camera shot
    out_of_use: why it was taken out of use, in a sentence; empty while it is used. aside: the same in a word
    own_rule: what is asked of its camera's cards, where that is not what the production asks
    doubts: what speaks against using it again, in sentences, and nobody has answered
    finals: it is no card, but a folder of finals that was taken in like one: nothing of it is ever cleared or removed
    package: the same of a sealed package of a roll
    """

    label: str
    entries: tuple[FileFact, ...]
    listed_at: datetime | None
    rolls: tuple[RollFacts, ...]
    waivers: tuple[WaiverFact, ...] = ()
    gone: tuple[FileFact, ...] = ()
    confirmed_at: datetime | None = None
    in_reader: bool = False
    running: bool = False
    clearance: ClearanceFact | None = None
    signed_by: tuple[str, ...] = ()
    ran: tuple[str, ...] = ()
    left: tuple[FileFact, ...] = ()
    cover: Cover | None = None
    unwatched: bool = False
    holds: tuple[HoldFact, ...] = ()
    camera_holds: tuple[HoldFact, ...] = ()
    out_of_use: str = ""
    aside: AsideKind | None = None
    doubts: tuple[str, ...] = ()
    own_rule: Rule | None = None
    finals: bool = False
    package: bool = False

    @cached_property
    def known(self) -> Cover:
        """What is known of everything on the card."""
        if self.cover is not None:
            return self.cover
        return cover_of(self.entries, self.rolls, self.waivers, self.clearance, self.left)

    @property
    def files(self) -> int:
        """How many entries there are on it."""
        return self.known.files
