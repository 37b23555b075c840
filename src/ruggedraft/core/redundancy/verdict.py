"""The verdict on a roll and on the card in hand."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import Enum
from functools import partial

from ..wording import counted
from .card import CardFacts
from .cover import Files, Known
from .facts import ClearanceFact, CopyFacts, RollFacts, Rule, device_groups
from .holds import HoldEnd, HoldFact, blocks_clearing
from .states import BlockKind, CardStanding, CopyState, RollState


@dataclass(frozen=True)
class Block:
    """One reason not to clear. `have` and `need` are the numbers behind it; `paths` the files it is about."""

    kind: BlockKind
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
    """counting: the copies that the rule counts. blocks: what it lacks."""

    counting: tuple[CopyFacts, ...]
    blocks: tuple[Block, ...]

    @property
    def met(self) -> bool:
        """The rule's demands on copies are met (holds and signatures stand beside them)."""
        return not self.blocks


@dataclass(frozen=True)
class CardVerdict:
    """strangers: files that are content of no roll. uncovered: those, and files of rolls that are short.

    missing_signatures: how many more people must sign. unsaved: whether files that it rests on are in no copy.
    """

    blocks: tuple[Block, ...]
    strangers: Files
    uncovered: Files
    unconfirmed: Files
    waived: Files
    standing: CardStanding
    missing_signatures: int
    unsaved: bool

    @property
    def clearable(self) -> bool:
        """Nothing blocks; what is missing is only that somebody signs."""
        return self.standing in (CardStanding.CLEARABLE, CardStanding.SIGNED)


def is_recent(moment: datetime | None, within: timedelta | None, now: datetime) -> bool:
    """A date in the future is never recent: a clock jumped, and nobody knows how old it is."""
    if moment is None or within is None:
        return moment is not None
    return timedelta() <= now - moment <= within


def moments_that_matter(rule: Rule, now: datetime) -> list[datetime]:
    """The moments between which it makes no difference to a rule when a copy was read, earliest first.

    A reading that began at one of them belongs to what follows it.
    """
    oldest = [now - within for within in (rule.fresh, rule.shelf) if within is not None]
    return sorted({*oldest, now + timedelta(microseconds=1)})


def counts(copy: CopyFacts, rule: Rule, now: datetime) -> bool:
    """Whether a copy counts: whole, proven at the rule's level, recently enough, on a store that counts."""
    return copy.whole and _is_proven(copy, rule) and _is_fresh(copy, rule, now) and _place_counts(copy)


def _is_proven(copy: CopyFacts, rule: Rule) -> bool:
    return copy.proven[rule.level] is not None


def _is_fresh(copy: CopyFacts, rule: Rule, now: datetime) -> bool:
    on_shelf = None if copy.store.online else rule.shelf
    read_at = copy.proven[rule.level]
    return is_recent(read_at, rule.fresh, now) and is_recent(read_at, on_shelf, now)


def _place_counts(copy: CopyFacts) -> bool:
    return copy.store.counts and not copy.store.lost


def copy_state(copy: CopyFacts, rule: Rule, now: datetime) -> CopyState:
    """VERIFIED exactly if the copy counts."""
    if copy.store.lost:
        return CopyState.LOST
    if copy.broken_files:
        return CopyState.BROKEN
    if not copy.whole:
        return CopyState.PARTIAL if copy.files else CopyState.WANTED
    if not _is_proven(copy, rule) or not copy.store.counts:
        return CopyState.WEAK
    return CopyState.VERIFIED if _is_fresh(copy, rule, now) else CopyState.STALE


def rule_for(roll: RollFacts, rule: Rule) -> Rule:
    """What is asked of a roll. rule: what its production asks of every roll"""
    return rule if roll.own_rule is None else roll.own_rule


def judge_roll(roll: RollFacts, rule: Rule, now: datetime) -> RollVerdict:
    """Whether the copies of a roll satisfy its rule at a moment, and what is lacking if not.

    rule: of its production; a rule of its own goes before that
    """
    rule = rule_for(roll, rule)
    counting = tuple(copy for copy in roll.copies if counts(copy, rule, now))
    blocks = [*_content_blocks(roll)]
    lacking = [part for part in shortfalls(counting, rule) if part[2] > 1 or part[0] in _OF_ITSELF]
    blocks += [Block(kind, _needs(kind, have, need), have, need) for kind, have, need in lacking]
    if roll.looked_at < rule.looked_at:
        have, need = round(100 * roll.looked_at), round(100 * rule.looked_at)
        blocks.append(Block(BlockKind.LOOKED_AT, f"needs {need} % of its clips looked at, {have} % are", have, need))
    return RollVerdict(counting, tuple(blocks))


def roll_state(verdict: RollVerdict, *, cleared: bool) -> RollState:
    """How a roll stands. cleared: its card was, so that it lives on its stores alone."""
    if verdict.met:
        return RollState.SAFE
    return RollState.BELOW if cleared else RollState.SHORT


def judge_card(card: CardFacts, rule: Rule, now: datetime) -> CardVerdict:
    """Every file covered or waived, every roll's rule met, no open hold, nothing gone, and a listing recent enough."""
    cover = _Covered(card, rule, now)
    own = rule_on_card(card, rule)
    blocks = [*_listing_blocks(card, own, now), *_gone_blocks(card), *_stranger_blocks(card, cover)]
    for roll in cover.needed:
        blocks += judge_roll(roll, rule, now).blocks
    blocks += _hold_blocks(card, cover.present, rule, now)
    blocks += _use_blocks(card)
    if card.files and not cover.present and not cover.strangers.count:
        blocks.append(Block(BlockKind.NOTHING, "nothing of it has been offloaded"))
    missing = signatures_missing(own, card.signed_by, card.ran)
    standing = _standing(card, own, now, blocks, missing)
    unsaved = any(block.kind in _UNSAVED for block in blocks) or any(roll.bare for roll in cover.needed)
    return CardVerdict(
        tuple(blocks), cover.strangers, cover.strangers + cover.short, cover.unconfirmed, cover.waived, standing,
        missing, unsaved,
    )  # fmt: skip


def rule_on_card(card: CardFacts, rule: Rule) -> Rule:
    """What is asked of the card itself: of its camera's rule and those of rolls on it, the strictest of each part.

    A hold until a second signature asks for two.
    """
    rules = [card.own_rule or rule, *(rule_for(roll, rule) for roll in card.rolls)]
    second = any(hold.ends is HoldEnd.SECOND_SIGNATURE for hold in _all_holds(card))
    return replace(
        rule,
        signers=max(*(one.signers for one in rules), 2 if second else 1),
        listing_within=_shortest(one.listing_within for one in rules),
        looked_within=_shortest(one.looked_within for one in rules),
    )


def _shortest(within: Iterable[timedelta | None]) -> timedelta | None:
    return min((one for one in within if one is not None), default=None)


def _all_holds(card: CardFacts) -> Iterable[HoldFact]:
    yield from _own_holds(card)
    for roll in card.rolls:
        yield from roll.holds


def _own_holds(card: CardFacts) -> tuple[HoldFact, ...]:
    """A hold on the card keeps it with nothing on it too; one on its camera is about what is on it."""
    return (*card.holds, *card.camera_holds) if card.files else card.holds


def _holds_that_block(card: CardFacts, present: Sequence[RollFacts], now: datetime) -> Iterable[HoldFact]:
    """Those that have not ended by themselves. One on a roll is about that roll alone."""
    all_of_it = [roll.delivered for roll in present]
    yield from (hold for hold in _own_holds(card) if blocks_clearing(hold, all_of_it, now))
    for roll in present:
        yield from (hold for hold in roll.holds if blocks_clearing(hold, [roll.delivered], now))


def _hold_blocks(card: CardFacts, present: Sequence[RollFacts], rule: Rule, now: datetime) -> Iterable[Block]:
    yield from (Block(BlockKind.HOLD, hold.sentence) for hold in _holds_that_block(card, present, now))
    for roll in present:
        if _is_kept_double(roll, rule):
            words = f"it holds another rendering of {roll.double_of}, and is kept until that is delivered"
            yield Block(BlockKind.HOLD, words)


def rolls_that_may_go(card: CardFacts, rule: Rule, now: datetime) -> frozenset[str]:
    """Tags of rolls on a card whose files may be taken off it one by one: their rule is met and nothing holds them.

    What else is on the card makes no difference: it stays.
    """
    if card.finals or card.package or not _is_here_as_listed(card):
        return frozenset()
    present = _Covered(card, rule, now).present
    if list(_holds_that_block(card, present, now)):
        return frozenset()
    free = (roll for roll in present if judge_roll(roll, rule, now).met and not _is_kept_double(roll, rule))
    return frozenset(roll.tag for roll in free)


def _is_here_as_listed(card: CardFacts) -> bool:
    """In a reader that somebody watches, read, and left alone now."""
    return card.in_reader and card.listed_at is not None and not card.running and not card.unwatched


def _is_kept_double(roll: RollFacts, rule: Rule) -> bool:
    return bool(roll.double_of) and not roll.double_delivered and rule_for(roll, rule).keep_doubles


def _use_blocks(card: CardFacts) -> Iterable[Block]:
    """What speaks against the card itself and not against what is on it."""
    if card.out_of_use:
        yield Block(BlockKind.OUT_OF_USE, card.out_of_use)
    else:
        yield from (Block(BlockKind.HEALTH, doubt) for doubt in card.doubts)
    if is_recalled(card) and card.clearance:
        yield Block(BlockKind.RECALLED, _recalled(card.clearance))


def is_recalled(card: CardFacts) -> bool:
    """It went out as cleared, that was revoked, and nobody has read it here since."""
    cleared = card.clearance
    return cleared is not None and cleared.out_when_revoked and not card.in_reader and not cleared.read_since


def _recalled(clearance: ClearanceFact) -> str:
    who = clearance.handed_to or "the camera team"
    return (
        f"it went out as cleared, and {clearance.revoked_by} revoked that: {clearance.revoked_why}. "
        f"Call {who}, and read it again"
    )


_UNSAVED = frozenset((BlockKind.UNCOVERED, BlockKind.REVOKED, BlockKind.GONE, BlockKind.UNREAD))


class _Covered:
    """What is on a card: covered, waived, not compared yet, in a roll that is short, or in no roll at all.

    A file of a roll that was never read has nothing to be compared with: its roll is short.

    needed: rolls that files rest on; of several that hold the same file one that is met is enough
    present: all rolls of which something is on the card
    """

    def __init__(self, card: CardFacts, rule: Rule, now: datetime) -> None:
        met = frozenset(roll.tag for roll in card.rolls if judge_roll(roll, rule, now).met)
        kinds = {kind: Files() for kind in _Kind}
        needed: set[str] = set()
        present: set[str] = set()
        for known, files in card.known.groups.items():
            kind = _kind(known, met)
            kinds[kind] += files
            present |= known.sure or known.maybe
            needed |= _rests_on(known, kind, met)
        self.strangers, self.unconfirmed = kinds[_Kind.STRANGER], kinds[_Kind.UNCONFIRMED]
        self.how_confirmed = _how_confirmed(card, met)
        self.waived, self.short = kinds[_Kind.WAIVED], kinds[_Kind.SHORT]
        self.needed = tuple(roll for roll in card.rolls if roll.tag in needed)
        self.present = tuple(roll for roll in card.rolls if roll.tag in present)


class _Kind(Enum):
    COVERED, WAIVED, SHORT, UNCONFIRMED, STRANGER = range(5)


def _kind(known: Known, met: frozenset[str]) -> _Kind:
    if known.waived:  # no copy of it is asked for, so that its roll's copies need not hold it
        return _Kind.WAIVED
    if known.sure & met:
        return _Kind.COVERED
    if known.sure or (known.unread and not known.maybe & met):
        return _Kind.SHORT
    return _Kind.UNCONFIRMED if known.maybe else _Kind.STRANGER


def _waits_for_reading(known: Known, met: frozenset[str]) -> bool:
    """A file of a roll that is safe has no fingerprint, as in a ledger that was rebuilt: its ends are no use then."""
    return known.unread and _kind(known, met) is _Kind.UNCONFIRMED


def _how_confirmed(card: CardFacts, met: frozenset[str]) -> str:
    if card.known.where(partial(_waits_for_reading, met=met)).count:
        return "have the whole card compared by content, as nothing but its files themselves can tell"
    return "that is being done"


def _rests_on(known: Known, kind: _Kind, met: frozenset[str]) -> frozenset[str]:
    """The rolls by whose copies a file stands or falls."""
    if kind is _Kind.COVERED:
        return known.sure & met
    return frozenset() if kind is _Kind.WAIVED else known.sure or known.maybe


def signing_blocks(card: CardFacts, rule: Rule, now: datetime, *, since: datetime | None = None) -> tuple[Block, ...]:
    """What else keeps somebody from signing: looks that are too old.

    since: when the signature was asked for; looks must have begun after it, where a reader or a station can make them
    """
    blocks = []
    own = rule_on_card(card, rule)
    if card.in_reader and since and (card.confirmed_at is None or card.confirmed_at < since):
        blocks.append(Block(BlockKind.LISTING, "the card is being read once more"))
    for roll in card.rolls:
        for copy in judge_roll(roll, rule, now).counting:
            if copy.store.online and not _looked_lately(copy, own, now, since):
                blocks.append(Block(BlockKind.LOOK, f"the copy on '{copy.store.name}' is being looked at"))
    return tuple(blocks)


def _looked_lately(copy: CopyFacts, rule: Rule, now: datetime, since: datetime | None) -> bool:
    asked = since is None or (copy.looked_at is not None and copy.looked_at >= since)
    return asked and is_recent(copy.looked_at, rule.looked_within, now)


def survival(counting: Iterable[CopyFacts]) -> Survival:
    """Distinct counting devices minus one, distinct locations minus one."""
    stores = [copy.store for copy in counting]
    return Survival(len(device_groups(stores)) - 1, len({s.location for s in stores}) - 1)


def signatures_missing(rule: Rule, signers: Sequence[str], offloaded_by: Iterable[str]) -> int:
    """How many more people must sign. With two signers, whoever ran the offload may not be the only other one.

    signers, offloaded_by: names of people.
    """
    distinct = set(signers)
    missing = max(0, rule.signers - len(distinct))
    if rule.signers >= 2 and distinct and distinct <= set(offloaded_by):
        missing = max(missing, 1)
    return missing


def shortfalls(counting: Sequence[CopyFacts], rule: Rule) -> list[tuple[BlockKind, int, int]]:
    """The parts of the rule that these copies leave unmet: what it is, how many there are, how many it needs."""
    stores = list({copy.store.name: copy.store for copy in counting}.values())
    numbers = (
        (BlockKind.COPIES, len(stores), rule.copies),
        (BlockKind.DEVICES, len(device_groups(stores)), rule.devices),
        (BlockKind.LOCATIONS, len({store.location for store in stores}), rule.locations),
        (BlockKind.OFFSITE, sum(store.offsite for store in stores), rule.offsite),
        (BlockKind.MEDIA, len({store.medium for store in stores}), rule.media),
    )
    return [(kind, have, need) for kind, have, need in numbers if have < need]


_OF_ITSELF = (BlockKind.COPIES, BlockKind.OFFSITE)
"""Of the other parts one is had wherever there is a copy at all: to say that it is lacking says nothing more."""

_NEEDS = {
    BlockKind.COPIES: "copies that count",
    BlockKind.DEVICES: "separate devices",
    BlockKind.LOCATIONS: "locations",
    BlockKind.OFFSITE: "copies off-site",
    BlockKind.MEDIA: "kinds of media",
}


def _needs(kind: BlockKind, have: int, need: int) -> str:
    return f"{have} of {need} {_NEEDS[kind]}"


def _content_blocks(roll: RollFacts) -> Iterable[Block]:
    if roll.unread:
        words = counted(roll.unread, "file of it was", "files of it were")
        yield Block(BlockKind.UNREAD, f"{words} never read off the card", roll.unread)
    if not roll.files:
        yield Block(BlockKind.NOTHING, "nothing of it was taken")


def _standing(card: CardFacts, rule: Rule, now: datetime, blocks: Sequence[Block], missing: int) -> CardStanding:
    """The first that applies."""
    against = any(block.kind not in _NOT_OF_CONTENT for block in blocks)
    steps = (
        (card.listed_at is None, CardStanding.NEVER_READ),
        (card.running, CardStanding.RUNNING),
        (bool(card.gone), CardStanding.GONE),
        (against, CardStanding.BLOCKED if _is_held(card) or not card.files else CardStanding.UNREAD),
        (bool(card.out_of_use), CardStanding.ASIDE),
    )
    unsafe = next((standing for applies, standing in steps if applies), None)
    return unsafe or _standing_of_safe(card, rule, now, missing)


def _standing_of_safe(card: CardFacts, rule: Rule, now: datetime, missing: int) -> CardStanding:
    """Of a card of which nothing is owed, as far as it was read: whether somebody may go by that now."""
    cleared = _still_speaks(card)
    listed = is_recent(card.listed_at, rule.listing_within, now) and not card.unwatched
    steps = (
        (card.finals, CardStanding.FINALS),
        (card.package, CardStanding.PACKAGE),
        (cleared and _was_handed_back(card), CardStanding.OUT),
        (not listed, CardStanding.OLD),
        (not card.files, CardStanding.EMPTY if card.in_reader else CardStanding.OLD),
        (cleared, CardStanding.CLEARED),
        (bool(card.signed_by) and missing > 0, CardStanding.SIGNED),
    )
    return next((standing for applies, standing in steps if applies), CardStanding.CLEARABLE)


_NOT_OF_CONTENT = frozenset((BlockKind.LISTING, BlockKind.OUT_OF_USE))


def _is_held(card: CardFacts) -> bool:
    """Whether anything of it was ever taken."""
    return any(roll.files for roll in card.rolls)


def _was_handed_back(card: CardFacts) -> bool:
    return not card.in_reader and card.clearance is not None and card.clearance.handed_back_at is not None


def _still_speaks(card: CardFacts) -> bool:
    """A clearance speaks of what was on the card then. Whatever came onto it since needs one of its own."""
    stands = card.clearance is not None and card.clearance.revoked_at is None
    return stands and card.files > 0 and card.known.came == 0


def _listing_blocks(card: CardFacts, rule: Rule, now: datetime) -> list[Block]:
    if card.listed_at is None:
        return [Block(BlockKind.LISTING, "the card has never been read here; put it into a reader")]
    if card.unwatched:
        sentence = "the machine whose reader it was in is away: nobody knows whether it is still there; read it again"
        return [Block(BlockKind.LISTING, sentence)]
    if is_recent(card.listed_at, rule.listing_within, now):
        return []
    age, within = now - card.listed_at, rule.listing_within or timedelta()
    if age < timedelta():
        return [Block(BlockKind.LISTING, "the card was read at a time that lies in the future; read it again")]
    have, need = int(age.total_seconds() // 60), int(within.total_seconds() // 60)
    sentence = f"the card was last read {_duration(have)} ago, and the rule allows {_duration(need)}; read it again"
    return [Block(BlockKind.LISTING, sentence, have, need)]


def _duration(minutes: int) -> str:
    if minutes < 120:
        return f"{minutes} min"
    return f"{minutes // 60} h" if minutes < 48 * 60 else f"{minutes // 1440} days"


def _gone_blocks(card: CardFacts) -> list[Block]:
    if not card.gone:
        return []
    count, paths = len(card.gone), tuple(file.path for file in card.gone)
    words = counted(count, "file that was on this card is", "files that were on this card are")
    return [Block(BlockKind.GONE, f"{words} not on it any more, and in no copy", count, 0, paths)]


def _stranger_blocks(card: CardFacts, cover: _Covered) -> Iterable[Block]:
    since = card.known.where(lambda known: known.came and _kind(known, frozenset()) is _Kind.STRANGER)
    if card.known.cleared and 0 < since.count < card.files:
        words = counted(since.count, "file")
        yield Block(BlockKind.REVOKED, f"{words} came onto it after it was cleared", since.count, 0, since.paths)
    if cover.unconfirmed.count:
        count, paths = cover.unconfirmed.count, cover.unconfirmed.paths
        words = f"{_files_on_it(count)} not compared yet with what was copied; {cover.how_confirmed}"
        yield Block(BlockKind.UNCONFIRMED, words, count, 0, paths)
    if cover.strangers.count:
        count, paths = cover.strangers.count, cover.strangers.paths
        yield Block(BlockKind.UNCOVERED, f"{_files_on_it(count)} in no copy", count, 0, paths)


def _files_on_it(count: int) -> str:
    return counted(count, "file on this card is", "files on this card are")
