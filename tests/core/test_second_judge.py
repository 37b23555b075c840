"""A second judge, written naively from the rules and nothing else, agrees with the first on random cases."""

import itertools
import os
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.redundancy import (
    CardFacts,
    ClearanceFact,
    CopyFacts,
    FileFact,
    HoldEnd,
    HoldFact,
    RollFacts,
    Rule,
    StepKind,
    StoreFacts,
    WaiverFact,
    bytes_short,
    judge_card,
    judge_roll,
    what_would_it_take,
)

NOW = datetime(2026, 5, 14, 12, tzinfo=UTC)
CASES = 20_000 if os.environ.get("RAFT_LONG") else 60 if os.environ.get("RAFT_QUICK") else 300
HOUR = 3600 * 10**9

ages = st.sampled_from([None, -1, 0, 5, 40])  # days; -1 lies in the future
stores = st.builds(
    StoreFacts, name=st.sampled_from("abcd"), devices=st.frozensets(st.sampled_from("1234"), min_size=1, max_size=2),
    location=st.sampled_from(["cart", "office"]), medium=st.sampled_from(["ssd", "disk"]), offsite=st.booleans(),
    counts=st.booleans(), lost=st.booleans(), online=st.booleans(), free=st.sampled_from([0, 100]),
)  # fmt: skip


@st.composite
def copies(draw):
    days, level = draw(ages), draw(st.sampled_from(list(Evidence)))
    at = None if days is None else NOW - timedelta(days=days)
    held, missing = draw(st.integers(0, 2)), draw(st.integers(0, 1))
    return CopyFacts(
        draw(stores), tuple(at if one <= level else None for one in Evidence), held, held * 10, missing, missing * 10
    )


files = st.builds(
    FileFact, path=st.sampled_from(["x", "y"]), size=st.sampled_from([-1, 1]),
    modified_ns=st.sampled_from([0, HOUR, 7]), fingerprint=st.sampled_from(["", "p", "q"]),
)  # fmt: skip
rules = st.builds(
    Rule, copies=st.integers(1, 3), devices=st.integers(1, 3), locations=st.integers(1, 2), offsite=st.integers(0, 1),
    media=st.integers(1, 2), level=st.sampled_from(list(Evidence)),
    fresh=st.sampled_from([None, timedelta(days=30)]), shelf=st.sampled_from([None, timedelta(days=3)]),
    listing_within=st.sampled_from([None, timedelta(hours=1)]), signers=st.integers(1, 2),
    looked_at=st.sampled_from([0.0, 0.0, 0.5]), keep_doubles=st.booleans(),
)  # fmt: skip


holds = st.builds(
    HoldFact, reason=st.just("wait"), by=st.just("Sol"), on=st.sampled_from(["", "camera A"]),
    ends=st.sampled_from(list(HoldEnd)),
    until=st.sampled_from([None, NOW - timedelta(days=1), NOW, NOW + timedelta(days=1)]),
)  # fmt: skip
few_holds = st.sampled_from([0, 0, 0, 1, 2]).flatmap(lambda most: st.lists(holds, min_size=most, max_size=most))
rare = st.integers(0, 5).map(lambda n: n == 0)


@st.composite
def rolls(draw, tag="A1"):
    by_store = {copy.store.name: copy for copy in draw(st.lists(copies(), max_size=4))}
    content = draw(st.frozensets(files.filter(lambda file: file.size > 0), max_size=3))
    count = draw(st.integers(0, 3))
    return RollFacts(
        tag,
        content,
        tuple(by_store.values()),
        tuple(draw(few_holds)),
        looked_at=draw(st.sampled_from([0.0, 0.5, 1.0])),
        files=count,
        bytes=count * 10,
        unread=draw(st.sampled_from([0, 0, 1])),
        delivered=draw(st.booleans()),
        double_of="B1" if draw(rare) else "",
        double_delivered=draw(st.booleans()),
        own_rule=draw(rules) if draw(rare) else None,
    )


@st.composite
def cards(draw):
    found = tuple(draw(rolls(tag)) for tag in draw(st.sampled_from([(), ("A1",), ("A1",), ("A1", "A2")])))
    entries = tuple(draw(st.lists(files, max_size=3, unique_by=lambda file: file.path)))
    listed = draw(st.sampled_from([None, NOW, NOW - timedelta(hours=2), NOW + timedelta(minutes=1)]))
    given_back = draw(st.sampled_from([None, NOW]))
    revoked = draw(st.sampled_from([None, None, NOW, NOW - timedelta(hours=3)]))
    clearance = draw(st.sampled_from([None, ClearanceFact(NOW, frozenset(entries), given_back, revoked_at=revoked,
                                                    out_when_revoked=bool(revoked) and draw(st.booleans()),
                                                    read_since=draw(st.booleans())),
                                      ClearanceFact(NOW, frozenset(entries[:1]), given_back)]))  # fmt: skip
    waivers = tuple(WaiverFact(file, "no", "Sol") for file in draw(st.lists(files, max_size=1)))
    return CardFacts(
        "A", entries, listed, found, waivers, tuple(draw(st.lists(files, max_size=1))), listed, draw(st.booleans()),
        draw(st.sampled_from([False, False, True])), clearance, tuple(draw(st.sampled_from([(), ("w",), ("w", "s")]))),
        ("w",), unwatched=draw(st.booleans()), holds=tuple(draw(few_holds)), camera_holds=tuple(draw(few_holds)),
        out_of_use="quarantined" if draw(rare) else "", doubts=("slow",) if draw(rare) else (),
        own_rule=draw(rules) if draw(rare) else None, finals=draw(rare), package=draw(rare),
    )  # fmt: skip


# The second judge: plain sentences of the rules, no structure shared with the first


def counting(roll, rule):
    found = []
    for copy in roll.copies:
        at = copy.proven[rule.level]
        age = None if at is None else NOW - at
        old = (
            age is None
            or (rule.fresh is not None and not timedelta(0) <= age <= rule.fresh)
            or (not copy.store.online and rule.shelf is not None and not timedelta(0) <= age <= rule.shelf)
        )
        if copy.files and not copy.missing_files and not old and copy.store.counts and not copy.store.lost:
            found.append(copy)
    return found


def number_of_devices(stores):
    """As many as there are islands: stores are neighbours if they share a device."""
    left, islands = list(stores), 0
    while left:
        islands += 1
        reached = [left.pop()]
        while reached:
            here = reached.pop()
            near = [other for other in left if other.devices & here.devices]
            left = [other for other in left if other not in near]
            reached += near
    return islands


def enough(roll, rule, good=None):
    found = [copy.store for copy in (counting(roll, rule) if good is None else good)]
    return (
        len(found) >= rule.copies
        and number_of_devices(found) >= rule.devices
        and len({store.location for store in found}) >= rule.locations
        and len([store for store in found if store.offsite]) >= rule.offsite
        and len({store.medium for store in found}) >= rule.media
    )


def asked_of(roll, rule):
    return roll.own_rule or rule


def safe(roll, rule):
    rule = asked_of(roll, rule)
    return bool(roll.files) and not roll.unread and roll.looked_at >= rule.looked_at and enough(roll, rule)


def still_holds(hold, rolls):
    if hold.ends is HoldEnd.SECOND_SIGNATURE:
        return False
    if hold.ends is HoldEnd.DATE and hold.until is not None and hold.until <= NOW:
        return False
    return not (hold.ends is HoldEnd.DELIVERED and rolls and all(roll.delivered for roll in rolls))


def kept(card, rule, here):
    """Whether something but its copies keeps the card. here: rolls of which something is on it"""
    told = [(hold, here) for hold in card.holds]
    if card.entries:
        told += [(hold, here) for hold in card.camera_holds]
    told += [(hold, [roll]) for roll in here for hold in roll.holds]
    if any(still_holds(hold, rolls) for hold, rolls in told):
        return True
    if any(roll.double_of and not roll.double_delivered and asked_of(roll, rule).keep_doubles for roll in here):
        return True
    return bool(card.doubts) and not card.out_of_use


def recalled(card):
    """It left as cleared, and nobody has read it here since that was taken back."""
    cleared = card.clearance
    return bool(cleared) and cleared.out_when_revoked and not cleared.read_since and not card.in_reader


def strictest(card, rule):
    """The rule of the card itself: how many sign, and how old a listing may be."""
    rules = [card.own_rule or rule] + [asked_of(roll, rule) for roll in card.rolls]
    holds = [*card.holds, *(card.camera_holds if card.entries else ()), *(h for r in card.rolls for h in r.holds)]
    second = any(hold.ends is HoldEnd.SECOND_SIGNATURE for hold in holds)
    limits = [one.listing_within for one in rules if one.listing_within is not None]
    signers = max([one.signers for one in rules] + ([2] if second else []))
    return replace(rule, signers=signers, listing_within=min(limits) if limits else None)


def like(one, other):
    apart = abs(one.modified_ns - other.modified_ns)
    return one.path == other.path and one.size == other.size and (apart == 0 or apart % (900 * 10**9) == 0)


def sure(one, other):
    return like(one, other) and one.fingerprint == other.fingerprint != ""


def waived_by(entry, file):
    return like(entry, file) and entry.fingerprint == file.fingerprint


def speaks_against(card, rule):
    """Whether anything on the card is neither safe nor waived, or is on hold, or nothing was offloaded."""
    rests_on = set()
    for entry in card.entries:
        homes = {roll.tag for roll in card.rolls if any(sure(entry, file) for file in roll.content)}
        perhaps = {roll.tag for roll in card.rolls if any(perhaps_the_same(entry, file) for file in roll.content)}
        rests_on |= homes | perhaps
        waived = any(waived_by(entry, waiver.file) for waiver in card.waivers)
        if not waived and not any(roll.tag in homes and safe(roll, rule) for roll in card.rolls):
            return True
    here = [roll for roll in card.rolls if roll.tag in rests_on]
    return kept(card, rule, here) or recalled(card) or bool(card.entries and not rests_on)


def perhaps_the_same(entry, file):
    return like(entry, file) and not (entry.fingerprint and file.fingerprint)


def standing(card, rule):
    reasons, rule = speaks_against(card, rule), strictest(card, rule)
    old = (
        card.listed_at is None
        or card.unwatched
        or (rule.listing_within is not None and not timedelta(0) <= NOW - card.listed_at <= rule.listing_within)
    )
    speaks = (
        card.clearance
        and not card.clearance.revoked_at
        and card.entries
        and all(
            any(sure(entry, file) or waived_by(entry, file) for file in card.clearance.entries)
            for entry in card.entries
        )
    )
    people = set(card.signed_by)
    lacking = max(0, rule.signers - len(people), 1 if rule.signers > 1 and people and people <= set(card.ran) else 0)
    out = speaks and not reasons and not card.in_reader and card.clearance.handed_back_at
    answers = (
        (card.listed_at is None, "never read"),
        (card.running, "being offloaded"),
        (card.gone, "files gone"),
        (card.out_of_use and not reasons, "out of use"),
        (card.finals and not reasons, "set of finals"),
        (card.package and not reasons, "package"),
        (out, "handed back"),
        (reasons and (not card.entries or any(roll.files for roll in card.rolls)), "not clear"),
        (reasons, "not offloaded"),
        (old or (not card.entries and not card.in_reader), "not read since"),
        (not card.entries, "empty"),
        (speaks, "cleared"),
        (people and lacking, "waiting for a signature"),
        (True, "ready to sign"),
    )
    return next(answer for holds, answer in answers if holds)


class SecondJudge(TestCase):
    @settings(max_examples=CASES, deadline=None)
    @given(rolls(), rules)
    def test_of_rolls(self, roll, rule):
        verdict = judge_roll(roll, rule, NOW)
        self.assertEqual(list(verdict.counting), counting(roll, asked_of(roll, rule)))
        self.assertEqual(verdict.met, safe(roll, rule))

    @settings(max_examples=CASES, deadline=None)
    @given(cards(), rules)
    def test_of_cards(self, card, rule):
        self.assertEqual(judge_card(card, rule, NOW).standing.value, standing(card, rule))


class Exhaustive(TestCase):
    """Remedies and bytes short against every way there is."""

    @settings(max_examples=CASES // 4, deadline=None)
    @given(rolls(), st.lists(stores, max_size=4, unique_by=lambda store: store.name), rules)
    def test_no_way_is_cheaper_than_the_one_that_is_named(self, roll, places, rule):
        found = what_would_it_take(roll, places, rule, NOW)
        rule, best = asked_of(roll, rule), None
        there = {copy.store.name: copy for copy in roll.copies if copy.files}
        able = [copy for copy in there.values() if copy not in counting(roll, rule) and copy.store.counts
                and not copy.store.lost and copy.store.online and copy.store.free >= copy.missing_bytes]  # fmt: skip
        free = [
            s for s in places if s.name not in there and s.counts and not s.lost and s.online and s.free >= roll.bytes
        ]
        steps = [("old", copy) for copy in able] + [("new", place) for place in free]
        for size in range(len(steps) + 1):
            for chosen in itertools.combinations(steps, size):
                good = counting(roll, rule) + [one if kind == "old" else CopyFacts(one) for kind, one in chosen]
                if enough(roll, rule, good):
                    new = [one for kind, one in chosen if kind == "new"]
                    moved = sum(one.missing_bytes for kind, one in chosen if kind == "old") + roll.bytes * len(new)
                    cost = (len(new), moved, size)
                    best = cost if best is None else min(best, cost)
        if roll.unread or not roll.files:
            best = None
        self.assertEqual(found is None, best is None)
        if found:
            new = [step for step in found.steps if step.act is StepKind.COPY]
            self.assertEqual((len(new), sum(step.bytes for step in found.steps), len(found.steps)), best)

    @settings(max_examples=CASES // 4, deadline=None)
    @given(rolls(), rules)
    def test_bytes_short_is_the_least_over_all_that_could_be_mended(self, roll, rule):
        rule = asked_of(roll, rule)
        good = counting(roll, rule)
        able = [c for c in roll.copies if c not in good and c.files and c.store.counts and not c.store.lost]
        costs = []
        for size in range(len(able) + 1):
            for chosen in itertools.combinations(able, size):
                have, new = good + list(chosen), 0
                while not enough(roll, rule, have):  # one more store, as good as could be wished for
                    new += 1
                    place = StoreFacts(f"new{new}", frozenset({f"new{new}"}), f"new{new}", f"new{new}", offsite=True)
                    have = [*have, CopyFacts(place)]
                costs.append(sum(copy.missing_bytes for copy in chosen) + new * roll.bytes)
        self.assertEqual(bytes_short(roll, rule, NOW), min(costs))

    def test_the_judges_can_disagree(self):
        """A check that cannot fail would be no check."""
        roll = RollFacts("A", frozenset(), (), files=1)
        self.assertNotEqual(safe(replace(roll, copies=()), Rule()), True)
        self.assertTrue(safe(roll, Rule(copies=0, devices=0, locations=0, media=0)))
