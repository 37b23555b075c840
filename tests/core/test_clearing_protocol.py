"""Every state that the clearing protocol can reach, explored to its end: none has a card cleared in error.

The protocol as people and machines follow it, with whatever can come between two steps; docs/protocol.md says which act
of the application each step stands for. One card, one roll of two files, two stores, two people who must both sign. The
model's judge is written from the rules alone and shares nothing with the application's.

At least two copies before anything is erased: common practice, no published source.
"""

import os
from collections import deque
from collections.abc import Iterator
from typing import NamedTuple
from unittest import TestCase, skipIf

STORES, FILES, SIGNERS = (0, 1), (0, 1), (0, 1)
NEW, OTHER, TORN = 7, 8, 9


class State(NamedTuple):
    """What is so, and what the ledger says. A file's content is a number, 0 before anything happened; None: not there

    TORN is what a run that died leaves under a file's name: only reading it tells it from the file.

    card: content of each file on the card. here: whether it is in a reader. good: what lies on each store, by file
    listed: what the last listing of the card saw; None: it was not listed since it was put in
    taken: the roll's content. known: of each store, whether all that was read there agrees, by the last evidence
    work: ("offload", the card as the run found it), or
        ("check", store, what it read, whether a look found a fault since)
    wish: what the person who wants to sign was shown. looked: of each store, whether it was looked at since then
    listed_since: the same of the card. signed: (person, what was signed). cleared: what was signed by all
    out: it left its reader as cleared
    unseen: of each store, whether its copy was damaged since it was last looked at
    came_after: a copy was damaged or lost after what the clearance rests on
    shots, faults, words: how many more of these may happen; words are holds, waivers and clearances taken back
    """

    card: tuple = (0, 0)
    here: bool = True
    good: tuple = ((None, None), (None, None))
    listed: tuple | None = None
    taken: tuple | None = None
    known: tuple = (False, False)
    lost: tuple = (False, False)
    work: tuple | None = None
    waived: tuple = (None, None)
    hold: bool = False
    wish: tuple | None = None
    looked: tuple = (False, False)
    listed_since: bool = False
    signed: frozenset = frozenset()
    cleared: tuple | None = None
    out: bool = False
    unseen: tuple = (False, False)
    came_after: bool = False
    shots: int = 0
    faults: int = 0
    words: int = 0


class Mistakes(NamedTuple):
    """That an application could make: with each of them the explorer has to find a way to something wrong."""

    signs_without_a_look: bool = False
    signs_what_was_not_shown: bool = False
    clears_with_one_signature_of_another_state: bool = False
    mends_by_a_reading_that_began_before: bool = False
    claims_what_a_crash_left: bool = False
    waives_by_name: bool = False
    forgets_holds: bool = False
    counts_what_is_lost: bool = False
    believes_the_listing_before: bool = False


RIGHT = Mistakes()


def counting(s: State, m: Mistakes) -> tuple:
    return tuple(store for store in STORES if s.known[store] and (m.counts_what_is_lost or not s.lost[store]))


def shown(s: State, m: Mistakes) -> tuple:
    """What somebody signs for."""
    return s.listed, s.taken, counting(s, m), s.waived


def is_covered(s: State, file: int, m: Mistakes) -> bool:
    here = s.listed[file]
    waived = s.waived[file] is not None and (m.waives_by_name or s.waived[file] == here)
    return here is None or waived or (s.taken[file] == here and len(counting(s, m)) == len(STORES))


def is_clearable(s: State, m: Mistakes) -> bool:
    """By what the ledger says alone."""
    if s.listed is None or s.taken is None or (s.work and s.work[0] == "offload"):
        return False
    return (m.forgets_holds or not s.hold) and all(is_covered(s, file, m) for file in FILES)


def is_told_clear(s: State, m: Mistakes) -> bool:
    """What the screen says of a card that nobody has taken out since."""
    return not s.out and s.cleared is not None and s.cleared[0] == s.listed and is_clearable(s, m)


def is_wrong(s: State, m: Mistakes) -> bool:
    """Cleared without both having signed for exactly that.

    Told clear, or out as cleared: with a hold, with another card than the one that was listed, or with a file that
    is not on both stores and was not waived as it is; but for damage that came after what it was cleared on."""
    told = is_told_clear(s, m)
    if s.cleared and not all((person, s.cleared) in s.signed for person in SIGNERS):
        return True
    if told and (s.hold or (s.here and s.card != s.listed)):
        return True
    if not told and not s.out:
        return False
    return not s.came_after and not all(_is_safe(s, file) for file in FILES)


def _is_safe(s: State, file: int) -> bool:
    here = s.listed[file] if s.listed else None
    on = [store for store in STORES if s.good[store][file] == here and not s.lost[store]]
    return here is None or s.waived[file] == here or len(on) == len(STORES)


def put(items: tuple, index: int, value: object) -> tuple:
    return (*items[:index], value, *items[index + 1 :])


Steps = Iterator[tuple[str, State]]


def steps(s: State, m: Mistakes) -> Steps:
    yield from card_steps(s, m)
    yield from work_steps(s, m)
    yield from signing_steps(s, m)
    yield from word_steps(s)
    yield from fault_steps(s)


def card_steps(s: State, m: Mistakes) -> Steps:
    if s.here:
        yield "list the card", s._replace(listed=s.card, listed_since=True)
        yield "take it out", s._replace(here=False, out=is_told_clear(s, m), work=None, listed_since=False)
        return
    before = s.listed if m.believes_the_listing_before else None
    yield "put it in", s._replace(here=True, listed=before, out=False, listed_since=False)
    if s.shots:  # a card that is in no reader may be with a camera
        for name, card in (("shoot", (s.card[0], NEW)), ("shoot over", (OTHER, s.card[1])), ("format", (None, None))):
            yield name, s._replace(card=card, shots=s.shots - 1)


def work_steps(s: State, m: Mistakes) -> Steps:
    """A run begins, and is noted at its end; whatever dies in between has claimed nothing."""
    if s.work is None:
        if s.here and s.listed is not None and s.taken != s.listed:
            yield "start offload", s._replace(work=("offload", s.card), taken=s.listed, known=(False, False))
        for store in STORES:
            if s.taken is not None and not s.lost[store]:
                yield "start check", s._replace(work=("check", store, s.good[store], False))
        return
    if s.work[0] == "offload":
        if s.here and s.card == s.work[1]:
            written = tuple(s.good[store] if s.lost[store] else s.card for store in STORES)
            known = tuple(not s.lost[store] for store in STORES)
            yield "finish offload", s._replace(work=None, good=written, known=known, unseen=(False, False))
        known = (True, True) if m.claims_what_a_crash_left else s.known
        torn = tuple(s.good[store] if s.lost[store] else (TORN, TORN) for store in STORES)
        yield "crash", s._replace(work=None, known=known, good=torn)
        return
    _, store, read, overtaken = s.work
    agrees = read == s.taken and (not overtaken or m.mends_by_a_reading_that_began_before)
    unseen = s.unseen if read != s.good[store] else put(s.unseen, store, False)
    yield "finish check", s._replace(work=None, known=put(s.known, store, agrees), unseen=unseen)
    yield "crash", s._replace(work=None)


def signing_steps(s: State, m: Mistakes) -> Steps:
    if s.wish is None:
        if is_clearable(s, m) and s.cleared is None:
            yield "want to sign", s._replace(wish=shown(s, m), looked=(False, False), listed_since=False)
        return
    yield "leave it", s._replace(wish=None)
    for store in STORES:
        if not s.looked[store] and not s.lost[store]:
            yield "look at a copy", look(s, store)
    was_looked = all(s.looked[store] for store in counting(s, m)) and (s.listed_since or not s.here)
    may = was_looked or m.signs_without_a_look
    if not may or not (s.wish == shown(s, m) or m.signs_what_was_not_shown):
        return
    if is_clearable(s, m) or m.signs_what_was_not_shown:
        for person in SIGNERS:
            yield "sign", sign(s, person, m)


def look(s: State, store: int) -> State:
    """Names, sizes and times of a copy; what is not there is not counted, whatever a check says that began before."""
    is_whole = all(there in (file, TORN) for there, file in zip(s.good[store], s.taken, strict=True))
    work = s.work
    if work and work[0] == "check" and work[1] == store and not is_whole:
        work = (*work[:3], True)
    return s._replace(
        looked=put(s.looked, store, True), known=put(s.known, store, s.known[store] and is_whole), work=work,
        unseen=put(s.unseen, store, False),
    )  # fmt: skip


def sign(s: State, person: int, m: Mistakes) -> State:
    signed = s.signed | {(person, s.wish)}
    mine = {who for who, what in signed if what == s.wish or m.clears_with_one_signature_of_another_state}
    is_cleared = len(mine) == len(SIGNERS)
    later = any(s.looked[store] and s.unseen[store] for store in STORES)  # damaged after the look that this rests on
    cleared = shown(s, m) if is_cleared else None
    return s._replace(signed=signed, wish=None, cleared=cleared, came_after=is_cleared and later)


def word_steps(s: State) -> Steps:
    """What people say."""
    if s.hold:
        yield "lift the hold", s._replace(hold=False)
    if not s.words:
        return
    s = s._replace(words=s.words - 1)
    if not s.hold:
        yield "hold", s._replace(hold=True)
    if s.cleared is not None:
        yield "revoke", s._replace(cleared=None, signed=frozenset(), out=False)
    for file in FILES:
        if s.listed is not None and s.listed[file] is not None and s.waived[file] != s.listed[file]:
            yield "waive", s._replace(waived=put(s.waived, file, s.listed[file]))


def fault_steps(s: State) -> Steps:
    if not s.faults:
        return
    s = s._replace(came_after=s.cleared is not None)
    for store in STORES:
        if not s.lost[store]:
            yield "report a loss", s._replace(lost=put(s.lost, store, True), faults=s.faults - 1)
        for file in FILES:
            if s.good[store][file] is not None:
                good = put(s.good, store, put(s.good[store], file, None))
                yield "a file vanishes", s._replace(good=good, faults=s.faults - 1, unseen=put(s.unseen, store, True))


def explore(m: Mistakes = RIGHT, **budget: int) -> tuple[int, list[str]]:
    """How many states there are; and the shortest way to a wrong one, empty if there is none.

    budget: how many shots, faults and words there may be
    """
    first = State(**budget)
    came: dict[State, tuple[str, State] | None] = {first: None}
    waiting = deque([first])
    while waiting:
        here = waiting.popleft()
        if is_wrong(here, m):
            return len(came), way_to(here, came)
        for name, there in steps(here, m):
            if there not in came:
                came[there] = name, here
                waiting.append(there)
    return len(came), []


def way_to(state: State, came: dict[State, tuple[str, State] | None]) -> list[str]:
    names: list[str] = []
    while (before := came[state]) is not None:
        name, state = before
        names.append(name)
    return names[::-1]


LONG, QUICK = bool(os.environ.get("RAFT_LONG")), bool(os.environ.get("RAFT_QUICK"))
PAIRS = ({"faults": 1, "words": 1}, {"shots": 1, "faults": 1}, {"shots": 1, "words": 1})
BUDGETS = ({"shots": 1, "faults": 1, "words": 1},) if LONG else PAIRS[:1] if QUICK else PAIRS


class ClearingProtocol(TestCase):
    """The whole of it is explored in the long form; else with two of the three kinds of things that may happen."""

    def test_no_state_has_a_card_cleared_in_error(self):
        for budget in BUDGETS:
            with self.subTest(**budget):
                states, way = explore(RIGHT, **budget)
                self.assertEqual(way, [], f"after {states:,} states")
                self.assertGreater(states, 10_000)

    def test_a_card_gets_cleared_and_out_at_all(self):
        """A model in which nothing happens would have nothing wrong in it."""
        _, way = explore(RIGHT._replace(forgets_holds=True), words=1)
        self.assertIn("finish offload", way)
        self.assertIn("sign", way)

    @skipIf(QUICK, "takes half a minute")
    def test_each_mistake_is_found(self):
        for mistake in Mistakes._fields:
            with self.subTest(mistake):
                _, way = explore(RIGHT._replace(**{mistake: True}), shots=1, faults=1, words=1)
                self.assertTrue(way, "nobody noticed")
