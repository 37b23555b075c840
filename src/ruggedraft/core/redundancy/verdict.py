"""The verdict on a roll and on the card in hand."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from .facts import CardFacts, CopyFacts, FileFact, RollFacts, Rule


@dataclass(frozen=True)
class Block:
    """One reason not to clear. `have` and `need` are the numbers behind it; `paths` the files it is about."""

    kind: str
    sentence: str
    have: int = 0
    need: int = 0
    paths: tuple[str, ...] = ()


@dataclass(frozen=True)
class Survival:
    """How many losses a roll survives. -1 where nothing counts at all."""

    devices: int
    locations: int


@dataclass(frozen=True)
class RollVerdict:
    counting: tuple[CopyFacts, ...]
    blocks: tuple[Block, ...]

    @property
    def met(self) -> bool:
        """The rule's demands on copies are met (holds and signatures stand beside them)."""
        return not self.blocks


@dataclass(frozen=True)
class CardVerdict:
    blocks: tuple[Block, ...]
    uncovered: tuple[FileFact, ...]
    waived: tuple[FileFact, ...]

    @property
    def clearable(self) -> bool:
        """Nothing blocks; what is missing is only that somebody signs."""
        return not self.blocks


def counts(copy: CopyFacts, rule: Rule, now: datetime) -> bool:
    """Whether a copy counts: whole, proven at the rule's level, recently enough, on a store that counts."""
    proven = copy.verified_at is not None and copy.level >= rule.level
    recent = copy.verified_at is not None and (rule.fresh is None or now - copy.verified_at <= rule.fresh)
    return proven and recent and copy.missing_files == 0 and copy.store.counts and not copy.store.lost


def judge_roll(roll: RollFacts, rule: Rule, now: datetime) -> RollVerdict:
    counting = tuple(copy for copy in roll.copies if counts(copy, rule, now))
    blocks = [Block(kind, _needs(kind, have, need), have, need) for kind, have, need in _parts(counting, rule)]
    if roll.looked_at < rule.looked_at:
        have, need = round(100 * roll.looked_at), round(100 * rule.looked_at)
        blocks.append(Block("looked at", f"needs {need} % of its clips looked at, {have} % are", have, need))
    return RollVerdict(counting, tuple(blocks))


def judge_card(card: CardFacts, rule: Rule, now: datetime) -> CardVerdict:
    """Every file covered or waived, every roll's rule met, no open hold, and a listing that is recent enough."""
    safe = {file for roll in card.rolls if judge_roll(roll, rule, now).met for file in roll.files}
    held = {file for roll in card.rolls for file in roll.files}
    waivable = {waiver.file for waiver in card.waivers}
    waived = tuple(file for file in card.entries if file in waivable and file not in safe)
    uncovered = tuple(file for file in card.entries if file not in safe and file not in waivable)
    strangers = [file for file in uncovered if file not in held]
    blocks = [*_listing_blocks(card, rule, now), *_stranger_blocks(strangers)]
    for roll in card.rolls:
        blocks += judge_roll(roll, rule, now).blocks
        blocks += [Block("hold", f"on hold by {hold.by}: {hold.reason}") for hold in roll.holds]
    if not card.rolls and not strangers:
        blocks.append(Block("nothing", "nothing of it has been offloaded"))
    return CardVerdict(tuple(blocks), uncovered, waived)


def survival(counting: Iterable[CopyFacts]) -> Survival:
    """Distinct counting devices minus one, distinct locations minus one."""
    stores = [copy.store for copy in counting]
    return Survival(len({s.device for s in stores}) - 1, len({s.location for s in stores}) - 1)


def signatures_missing(rule: Rule, signers: Sequence[str], offloaded_by: Iterable[str]) -> int:
    """How many more people must sign. With two signers, whoever ran the offload may not be the only other one.

    signers, offloaded_by: names of people.
    """
    distinct = set(signers)
    missing = max(0, rule.signers - len(distinct))
    if rule.signers >= 2 and distinct and distinct <= set(offloaded_by):
        missing = max(missing, 1)
    return missing


def _parts(counting: Sequence[CopyFacts], rule: Rule) -> Iterable[tuple[str, int, int]]:
    stores = {copy.store.name: copy.store for copy in counting}.values()
    numbers = (
        ("copies", len(stores), rule.copies),
        ("devices", len({store.device for store in stores}), rule.devices),
        ("locations", len({store.location for store in stores}), rule.locations),
        ("off-site", sum(store.offsite for store in stores), rule.offsite),
        ("media kinds", len({store.medium for store in stores}), rule.media),
    )
    return ((kind, have, need) for kind, have, need in numbers if have < need)


_NEEDS = {
    "copies": "copies that count",
    "devices": "separate devices",
    "locations": "locations",
    "off-site": "copies off-site",
    "media kinds": "kinds of media",
}


def _needs(kind: str, have: int, need: int) -> str:
    return f"{have} of {need} {_NEEDS[kind]}"


def _listing_blocks(card: CardFacts, rule: Rule, now: datetime) -> list[Block]:
    if card.listed_at is None:
        return [Block("listing", "the card has never been read here; put it into a reader")]
    age = now - card.listed_at
    if rule.listing_within is None or age <= rule.listing_within:
        return []
    have, need = int(age.total_seconds() // 60), int(rule.listing_within.total_seconds() // 60)
    sentence = f"the card was last read {_duration(have)} ago, and the rule allows {_duration(need)}; read it again"
    return [Block("listing", sentence, have, need)]


def _duration(minutes: int) -> str:
    if minutes < 120:
        return f"{minutes} min"
    return f"{minutes // 60} h" if minutes < 48 * 60 else f"{minutes // 1440} days"


def _stranger_blocks(strangers: Sequence[FileFact]) -> list[Block]:
    if not strangers:
        return []
    count = len(strangers)
    words = "1 file on this card is" if count == 1 else f"{count:,} files on this card are"
    paths = tuple(file.path for file in strangers)
    return [Block("uncovered", f"{words} in no copy", count, 0, paths)]
