"""Rules that are stricter or looser for a camera, a plan or a roll; doubles, dropped material, clips looked at."""

from django.test import TestCase

from ruggedraft.clearing.cases import case
from ruggedraft.clearing.roll_cases import overview
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Plan, Production, RuleChange
from ruggedraft.rolls.models import ClipOpening, Roll, RollFile
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import Deciding
from .world import SHOT


class Ruling(Deciding):
    def ask(self, kind: str, name: str, parts: dict | None, person=None, reason: str = "so"):
        words = {"on": {"kind": kind, "name": name}, "parts": parts, "reason": reason}
        return self.post("setup/rule/exceptions", words, person or self.sol, method="put")

    def rule(self, person=None, **parts):
        return self.post("setup/rule", {**parts, "reason": "so"}, person or self.sol, method="patch")

    def states(self) -> dict[str, str]:
        """From the overview, the list and the card alike."""
        fresh = Production.objects.select_related("rule").get(pk=self.production.pk)
        known = overview(fresh, places_of_all(), clock.now()).states
        said = {Roll.objects.get(pk=pk).tag: state.value for pk, state in known.items()}
        self.assertEqual({roll["tag"]: roll["state"] for roll in self.get("tally")["rolls"]}, said)
        return said


class Exceptions(Ruling, TestCase):
    def test_the_one_furthest_down_is_what_is_asked(self):
        self.offload()
        self.assertEqual(self.states(), {"A001": "safe"})
        for kind, name, copies, state in (
            ("plan", "all", 3, "short"),
            ("camera", "A", 2, "safe"),
            ("roll", "A001", 3, "short"),
        ):
            with self.subTest(kind):
                self.assertEqual(self.ask(kind, name, {"copies": copies, "devices": copies}).status_code, 200)
                self.assertEqual(self.states(), {"A001": state})
                self.assertEqual(self.standing()["standing"], "ready to sign" if state == "safe" else "not clear")
                self.assertEqual(case(self.card).standing.value, self.standing()["standing"])
        self.assertEqual(self.get("tally/rolls/A001")["asked"], "3 copies on 3 devices, each read back")
        self.assertEqual(self.get("tally/rolls/A001")["roll"]["needed_copies"], 3)
        self.assertEqual(len(self.get("setup")["rule"]["exceptions"]), 3)
        for kind, name in (("roll", "A001"), ("camera", "A"), ("plan", "all")):
            self.ask(kind, name, None)
        self.assertEqual((self.states(), self.get("setup")["rule"]["exceptions"]), ({"A001": "safe"}, []))

    def test_a_plan_that_was_given_another_name_is_told_by_the_one_it_has_now(self):
        self.ask("plan", "all", {"copies": 3})
        self.assertEqual(self.change_plan(name="everything"), 200)
        told = self.get("setup")["rule"]["exceptions"]
        self.assertEqual([(one["kind"], one["name"]) for one in told], [("plan", "everything")])
        self.assertIn("plan all", self.get("setup/rule/changes")[0]["sentence"], "history says what was said then")
        self.assertEqual(self.ask("plan", told[0]["name"], None).status_code, 200)
        self.assertEqual(self.get("setup")["rule"]["exceptions"], [])

    def test_it_is_about_its_camera_alone(self):
        self.offload()
        other = self.production.cameras.create(letter="B", name="Boom", kind="cinema", plan=self.plan)
        self.ask("camera", "B", {"copies": 3, "devices": 3})
        self.assertEqual(self.states(), {"A001": "safe"})
        self.camera = other
        card, _ = self.new_card("B-01", {"DCIM/100AAAAA/BBBB0001.JPG": b"new"})
        self.put_in("B-01", "slot-2")
        self.offload(card)
        self.assertEqual(self.states(), {"A001": "safe", "B001": "short"})
        self.assertEqual(self.standing(card)["standing"], "not clear")

    def test_a_card_given_to_a_camera_with_a_looser_rule_is_not_clear_by_that(self):
        self.drives["two"].device.losses.all()
        self.plan.stores.set([self.drives["one"]])
        self.offload()
        self.assertEqual(self.standing()["standing"], "not clear")
        self.production.cameras.create(letter="B", name="Boom", kind="cinema", plan=self.plan)
        self.ask("camera", "B", {"copies": 1, "devices": 1})
        self.post(f"clearing/cards/{self.card.pk}/camera", {"production": "heron", "camera": "B"}, method="put")
        self.assertEqual(self.standing()["camera"]["letter"], "B")
        self.assertEqual(self.standing()["standing"], "not clear", "its roll is still camera A's")

    def test_signers_of_the_strictest_are_asked_for(self):
        self.offload()
        self.ask("roll", "A001", {"signers": 2})
        self.assertFalse(self.sign().json()["cleared"])
        self.assertTrue(self.sign(self.sol).json()["cleared"])

    def test_what_it_says_it_would_do_is_what_it_does(self):
        self.offload()
        words = {"on": {"kind": "camera", "name": "A"}, "parts": {"copies": 3, "devices": 3}}
        told = self.post("setup/rule/exceptions/effect", words, self.sol).json()
        self.assertEqual((told["falls"], told["rises"]), (["A001"], []))
        self.assertEqual(told["cards"], [{"label": "A-01", "before": "ready to sign", "after": "not clear"}])
        self.assertEqual(told["sentence"], "3 copies on 3 devices, each read back")
        self.assertEqual(self.states(), {"A001": "safe"}, "nothing is saved by asking")
        self.ask("camera", "A", {"copies": 3, "devices": 3})
        self.assertEqual(self.states(), {"A001": "short"})

    def test_it_is_refused_without_a_reason_for_nothing_and_without_the_role(self):
        self.refused(self.ask("camera", "A", {"copies": 3}, reason=" "), "Say why")
        self.refused(self.ask("camera", "A", None), "Nothing of the rule would change")
        self.refused(self.ask("camera", "A", {"copies": 0}), "no number")
        self.assertEqual(self.ask("camera", "Z", {"copies": 3}).status_code, 404)
        self.assertEqual(self.ask("roll", "Z001", {"copies": 3}).status_code, 404)
        self.assertEqual(self.ask("camera", "A", {"copies": 3}, self.wren).status_code, 403)

    def test_another_production_like_it_asks_the_same_of_its_own_cameras_and_plans(self):
        self.offload()
        for kind, name in (("camera", "A"), ("plan", "all"), ("roll", "A001")):
            self.ask(kind, name, {"copies": 3})
        words = {"name": "Other", "time_zone": "UTC", "first_day": "2026-06-01"}
        self.assertEqual(self.post("setup/productions", words, self.sol).status_code, 200)
        made = Production.objects.select_related("rule").get(name="Other")
        kept = [(one["on"], one["of"]) for one in made.rule.exceptions]
        self.assertEqual(kept, [("camera", made.cameras.get().pk), ("plan", made.plans.get().pk)])
        self.assertEqual(made.rule.ruled().of(made.cameras.get()).copies, 3)

    def test_the_history_says_what_was_asked_from_when_on_and_by_whom(self):
        self.rule(copies=3)
        self.ask("camera", "A", {"copies": 1})
        told = self.get("setup/rule/changes")
        self.assertEqual([one["by"] for one in told], ["Sol", "Sol"])
        self.assertIn("3 copies", told[0]["sentence"])
        self.assertEqual(RuleChange.objects.latest("pk").rule["exceptions"][0]["parts"], {"copies": 1})
        self.assertIn("camera A", JournalEntry.objects.filter(act="change rule").latest("pk").sentence)


class LookedAt(Ruling, TestCase):
    def setUp(self):
        super().setUp()
        self.stills(4)
        self.roll = self.offload()

    def open(self, path: str, person=None):
        return self.post(f"tally/rolls/{self.roll.tag}/openings", {"path": path}, person).status_code

    def share(self) -> float:
        lists = roll_standings([self.roll.pk])[self.roll.pk].facts.looked_at
        self.assertEqual(roll_standings([self.roll.pk], in_full=True)[self.roll.pk].facts.looked_at, lists)
        return lists

    def clips(self) -> list[str]:
        return list(RollFile.objects.filter(is_clip=True).order_by("path").values_list("path", flat=True))

    def test_a_share_of_the_clips_is_counted_from_openings(self):
        self.rule(looked_at_percent=50)
        clips = self.clips()
        self.assertEqual((len(clips), self.share()), (4, 0.0))
        self.assertIn("needs 50 % of its clips looked at, 0 % are", self.standing()["sentence"])
        self.assertEqual(self.states(), {"A001": "short"})
        self.open(clips[0], self.pip)
        self.open(clips[0], self.sol)
        self.assertEqual(self.share(), 0.25, "a clip that two people opened is one clip")
        self.open(clips[1])
        self.assertEqual((self.share(), self.states()), (0.5, {"A001": "safe"}))
        self.assertEqual(self.standing()["standing"], "ready to sign")
        detail = self.get("tally/rolls/A001")
        self.assertEqual((detail["clips"], detail["opened"]), (4, 2))

    def test_what_is_no_clip_of_the_roll_cannot_be_opened(self):
        self.assertEqual(self.open("DCIM/nothing.JPG"), 404)
        self.assertFalse(ClipOpening.objects.exists())

    def test_a_waived_clip_need_not_be_looked_at(self):
        self.rule(looked_at_percent=100)
        clips = self.clips()
        for path in clips[1:]:
            self.open(path)
        self.assertEqual(self.share(), 0.75)
        self.post(f"clearing/cards/{self.card.pk}/waive", {"path": clips[0], "reason": "broken"})
        self.assertEqual(self.share(), 1.0)


class Doubles(Ruling, TestCase):
    def setUp(self):
        super().setUp()
        self.stills(4)
        self.offload()
        self.double, folder = self.new_card("A-02", {})
        make.add_stills(folder, prefix="SKR_", first=1, count=4, start=SHOT, kinds=["DNG"])
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.offload(self.double)

    def test_the_second_rendering_is_kept_until_the_first_was_delivered(self):
        self.assertEqual(self.standing()["standing"], "ready to sign")
        self.assertIn("another rendering of A001", self.standing(self.double)["sentence"])
        self.assertEqual(case(self.double).standing.value, "not clear")
        self.assertEqual(self.get("tally/rolls/A002")["double_of"], "A001")
        self.post("tally/deliveries", {"tags": ["A001"], "to": "the picture editor"})
        self.assertEqual(self.standing(self.double)["standing"], "ready to sign")

    def test_a_rule_may_let_it_go(self):
        self.rule(keep_doubles=False)
        self.assertEqual(self.standing(self.double)["standing"], "ready to sign")


class Chosen(Ruling, TestCase):
    def setUp(self):
        super().setUp()
        self.stills(4)
        self.plan.stores.set(self.drives.values())
        self.offload()

    def drop(self, *paths: str, reason: str = "out of focus", person=None):
        return self.post("tally/rolls/A001/drops", {"paths": list(paths), "reason": reason}, person)

    def paths(self) -> list[str]:
        return list(RollFile.objects.order_by("path").values_list("path", flat=True))

    def test_what_was_dropped_needs_no_copies_and_stands_in_the_name_of_who_dropped_it(self):
        first = self.paths()[0]
        for store in ("one", "two", "three"):
            next((hub.home() / "drives" / store).rglob("*0001.JPG")).unlink()
        self.look_at_everything()
        self.assertEqual(self.states(), {"A001": "short"})
        self.refused(self.drop(first), "asks for copies of everything")
        self.rule(chosen_only=True)
        self.assertEqual(self.drop(first).status_code, 200)
        self.assertEqual(self.states(), {"A001": "safe"})
        self.assertIn("1 was waived by name and may be lost", self.standing()["sentence"])
        (waiver,) = self.get("tally/rolls/A001")["waivers"]
        self.assertEqual((waiver["path"], waiver["by"], waiver["reason"]), (first, "Wren", "out of focus"))

    def test_it_is_refused_without_reason_role_or_file_and_twice(self):
        self.rule(chosen_only=True)
        first = self.paths()[0]
        self.refused(self.drop(first, reason=""), "Say why")
        self.refused(self.drop("nothing"), "There is no nothing")
        self.assertEqual(self.drop(first, person=self.pip).status_code, 403)
        self.drop(first)
        self.refused(self.drop(first), "already")


class Plans(Ruling, TestCase):
    def test_a_plan_s_exception_follows_the_camera_to_its_new_plan(self):
        self.offload()
        strict = Plan.objects.create(production=self.production, name="strict")
        strict.stores.set(self.drives.values())
        self.ask("plan", "strict", {"copies": 3, "devices": 3})
        self.assertEqual(self.states(), {"A001": "safe"})
        self.camera.plan = strict
        self.camera.save()
        self.assertEqual(self.states(), {"A001": "short"})
