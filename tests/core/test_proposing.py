"""What an offload of a card would be, and whether it may start: from plain facts."""

from dataclasses import replace
from datetime import UTC, date, datetime
from unittest import TestCase

from ruggedraft.core.cards import CardDescription, Circumstances, Held, Holding, describe
from ruggedraft.core.errors import ActRefused
from ruggedraft.core.naming import EXT, NamingPlan
from ruggedraft.core.proposing import (
    LastRoll,
    Naming,
    RollNumbers,
    Situation,
    Startable,
    StoreNow,
    choose,
    goes_on,
    make_offer,
    question,
)
from ruggedraft.core.redundancy import FileFact, Rule, StoreFacts
from ruggedraft.core.sources import Entry, EntryKind, Listing
from ruggedraft.core.taking import EVERYTHING, Take

NOW = datetime(2026, 5, 14, 18, tzinfo=UTC)
DAY = date(2026, 5, 14)
ONE, TWO = FileFact("DCIM/1.JPG", 1000, 5, "f1"), FileFact("DCIM/2.JPG", 2000, 6, "f2")
PLAN = Naming(NamingPlan("{production}/{date}/{roll}", "", 1), {"production": "Heron"}, mend=False)


def store(name: str, *held: FileFact, file_system: str = EXT.name, **words) -> StoreNow:
    facts = StoreFacts(name, frozenset([name]), "cart", "disk", **{"online": True, "free": 10**9, **words})
    return StoreNow(facts, file_system, {file.path: file for file in held})


def numbers(*taken: str, last: int | None = None, first: int = 1) -> RollNumbers:
    return RollNumbers("A", 3, first, last, lambda tag: tag in taken)


SITUATION = Situation(
    "A-01", "slot 1", [ONE, TWO], 2, read_in_this_stay=True, inner=False, gone=(), last=None, numbers=numbers(),
    day=DAY, naming=PLAN, stores=[store("one"), store("two")], rule=Rule(copies=2, devices=2, locations=1),
)  # fmt: skip


def never(naming: Naming):
    raise AssertionError("nothing has to be chosen")


class Questions(TestCase):
    def test_what_has_to_be_settled_first(self):
        for changed, words in (
            ({}, ""),
            ({"listed": None}, "has not been read yet"),
            ({"read_in_this_stay": False}, "is in slot 1 and has not been read there yet"),
            ({"slot": "", "read_in_this_stay": False}, ""),
            ({"inner": True}, "shows a folder inside card A-01"),
            ({"gone": [ONE]}, "1 file that was on card A-01 is not on it any more and in no copy, DCIM/1.JPG: say"),
            ({"gone": [ONE, TWO]}, "2 files that were"),
            ({"files": 0}, "There is no file on card A-01"),
        ):
            said = question("A-01", replace(SITUATION, **changed))
            self.assertEqual((bool(said), words in said), (bool(words), True), said)
        self.assertIn("belongs to no camera", question("A-01", None))


class Offers(TestCase):
    def test_a_new_card_opens_the_next_free_roll_and_goes_to_every_store(self):
        offer = make_offer(replace(SITUATION, numbers=numbers("A005", last=4)), EVERYTHING, never)
        self.assertEqual(
            (offer.tag, offer.number, offer.goes_on, offer.folder), ("A006", 6, False, "Heron/2026-05-14/A006")
        )
        self.assertEqual([(d.files, d.bytes) for d in offer.demands], [(2, 3000), (2, 3000)])
        self.assertEqual((offer.startable, offer.held_files, offer.going_bytes), (Startable.READY, 0, 3000))

    def test_numbers_begin_where_the_plan_says(self):
        self.assertEqual(numbers(first=7).next(), (7, "A007"))
        self.assertEqual(numbers(last=3, first=7).next(), (7, "A007"))
        self.assertEqual(numbers(last=9, first=7).next(), (10, "A010"))

    def test_a_roll_that_goes_on_keeps_its_tag_and_day_and_asks_only_for_what_is_missing(self):
        now = replace(
            SITUATION, last=LastRoll("A001", 1, date(2026, 5, 13)), stores=[store("one", ONE, TWO), store("two", ONE)]
        )
        offer = make_offer(now, EVERYTHING, never)
        self.assertEqual((offer.tag, offer.folder, offer.goes_on), ("A001", "Heron/2026-05-13/A001", True))
        self.assertEqual([d.files for d in offer.demands], [0, 1])
        self.assertEqual((offer.startable, offer.held_files), (Startable.READY, 1))

    def test_everything_held_everywhere_is_nothing_to_do_unless_a_store_is_lost(self):
        held = [store("one", ONE, TWO), store("two", ONE, TWO)]
        now = replace(SITUATION, last=LastRoll("A001", 1, DAY), stores=held)
        self.assertIs(make_offer(now, EVERYTHING, never).startable, Startable.ALL_HELD)
        lost = replace(now, stores=[held[0], store("two", ONE, TWO, lost=True)])
        self.assertIs(make_offer(lost, EVERYTHING, never).startable, Startable.REFUSED)

    def test_another_content_under_a_name_is_not_held(self):
        other = replace(SITUATION, stores=[store("one", ONE._replace(fingerprint="other"))])
        self.assertEqual([d.files for d in make_offer(other, EVERYTHING, never).demands], [2])
        older = replace(SITUATION, stores=[store("one", ONE._replace(fingerprint=""))])
        self.assertEqual([d.files for d in make_offer(older, EVERYTHING, never).demands], [1], "nothing says otherwise")

    def test_what_speaks_against_it(self):
        for stores, words in (
            ([], "None of these stores counts"),
            ([store("one"), store("two", free=10)], "too small"),
            ([store("one"), store("two", online=False)], "not connected"),
        ):
            offer = make_offer(replace(SITUATION, stores=stores), EVERYTHING, never)
            self.assertIs(offer.startable, Startable.REFUSED)
            self.assertIn(words, " ".join(one.sentence for one in offer.refusals))

    def test_a_first_copy_to_one_drive_alone_may_start_and_is_said_to_be_one(self):
        offer = make_offer(replace(SITUATION, stores=[store("one")]), EVERYTHING, never)
        self.assertIs(offer.startable, Startable.READY)
        self.assertIn("A first copy, on one store alone: the rule asks for 2", offer.short[0].sentence)
        both = make_offer(replace(SITUATION, stores=[store("one"), store("two")]), EVERYTHING, never)
        self.assertEqual(both.short, ())

    def test_links_are_seen_and_go_nowhere(self):
        now = replace(SITUATION, listed=[ONE, FileFact("link", -1, 0)], files=1)
        offer = make_offer(now, EVERYTHING, never)
        self.assertEqual((offer.going_files, offer.going_bytes), (1, 1000))

    def test_a_plan_that_cannot_be_used_is_refused_with_its_reason(self):
        naming = replace(PLAN, plan=NamingPlan("{nonsense}", "", 1))
        with self.assertRaisesRegex(ActRefused, "The plan cannot be used: "):
            make_offer(replace(SITUATION, naming=naming), EVERYTHING, never)


PATHS = ("DCIM/100AAAAA/1?.JPG", "DCIM/101AAAAA/1?.JPG")
"""Two pictures of one name in two folders; no FAT volume can hold it."""


class Choices(TestCase):
    def described(self) -> CardDescription:
        entries = tuple(Entry(path, EntryKind.FILE, n, n * 10**9) for n, path in enumerate(PATHS, 1))
        return describe(Listing(entries), Circumstances(UTC, NOW), {}, {})

    def choose(self, naming: Naming, wanted: Take = EVERYTHING, file_systems=(EXT.name,)):
        described = self.described()
        held = {entry.path: Held(Holding.NEW, "") for clip in described.clips for entry in clip.entries}
        return choose(described, held, wanted, naming.of_roll("A001", DAY), {}, file_systems, UTC)

    def offer(self, names: str, wanted: Take = EVERYTHING, **words):
        naming = replace(PLAN, plan=NamingPlan("{roll}", names, 1), **words)
        listed = [FileFact(path, n, n * 10**9) for n, path in enumerate(PATHS, 1)]
        now = replace(SITUATION, naming=naming, listed=listed)
        return make_offer(now, wanted, lambda naming: self.choose(naming, wanted))

    def test_names_given_twice_are_refused_with_the_first(self):
        offer = self.offer("{roll}_{name}")
        self.assertIn("1 name would be given twice, 'A001_1-.JPG': add", offer.refusals[0].sentence)
        self.assertEqual(self.offer("{roll}_{name}_{number}").refusals, ())

    def test_only_what_is_chosen_goes_and_the_rest_is_left_by_name(self):
        offer = self.offer("", Take(picked=PATHS[:1]))
        self.assertEqual((offer.going_files, [entry.path for entry in offer.choice.left]), (1, [PATHS[1]]))
        nothing = self.offer("", Take(picked=()))
        self.assertIs(nothing.startable, Startable.NOTHING_CHOSEN)
        self.assertIn("nothing to offload", nothing.refusals[0].sentence)

    def test_names_that_a_store_cannot_hold_are_mended_if_the_plan_says_so(self):
        naming = replace(PLAN, plan=NamingPlan("{roll}", "", 1))
        plain = self.choose(naming, file_systems=["exFAT"])
        self.assertEqual((len(plain.problems), plain.kept_as[PATHS[0]]), (2, PATHS[0]))
        mended = self.choose(replace(naming, mend=True), file_systems=["exFAT"])
        self.assertNotIn("?", mended.kept_as[PATHS[0]])
        self.assertEqual(self.choose(naming).problems, ())

    def test_a_name_that_does_not_fit_is_refused_where_nothing_is_mended(self):
        listed = [FileFact(path, 1, 1) for path in PATHS]
        now = replace(SITUATION, listed=listed, stores=[store("one", file_system="exFAT")])
        offer = make_offer(now, EVERYTHING, lambda naming: self.choose(naming, file_systems=["exFAT"]))
        self.assertIn("2 names do not fit on exFAT, 'DCIM/100AAAAA/1?.JPG' first", offer.refusals[-1].sentence)


class GoingOn(TestCase):
    def test_a_roll_goes_on_while_its_files_are_on_the_card(self):
        for content, listed, serials, on in (
            ([ONE], [ONE, TWO], ("", ""), True),
            ([ONE], [TWO], ("", ""), False),
            ([], [TWO], ("", ""), True),
            ([ONE], [ONE._replace(fingerprint="other"), TWO], ("", ""), False),
            ([ONE], [ONE._replace(fingerprint=""), TWO], ("", ""), True),
            ([ONE], [ONE, TWO], ("AB", "AB"), True),
            ([ONE], [ONE, TWO], ("AB", "CD"), False),
            ([ONE], [ONE, TWO], ("AB", ""), True),
        ):
            was, now = serials
            self.assertEqual(goes_on(content, listed, roll_serial=was, card_serial=now), on, (content, listed, serials))
