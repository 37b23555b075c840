"""Views that somebody keeps, and what changed since they last looked."""

from django.test import TestCase

from ruggedraft.clearing.acts.revoke_clearance import revoke_clearance
from ruggedraft.intake.watching import look
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.standins import hub

from .world import World


class Views(World, TestCase):
    def keep(self, name: str, sought: dict, person=None):
        return self.post("tally/views", {"name": name, "sought": sought}, person)

    def test_everybody_keeps_their_own(self):
        moss = self.person("moss", "client")
        self.assertEqual(self.keep("tonight", {"day": "today", "camera": "A"}).status_code, 200)
        self.assertEqual(self.keep("tonight", {"day": "today", "state": "short"}).status_code, 200)
        self.assertEqual(self.keep("mine", {"on": "one"}, moss).status_code, 200)
        (one,) = self.get("tally/views")
        self.assertEqual((one["name"], one["sought"]["day"], one["sought"]["state"]), ("tonight", "today", "short"))
        self.assertEqual(one["sought"]["camera"], "", "one of the same name was replaced")
        self.assertEqual([one["name"] for one in self.get("tally/views", moss)], ["mine"])
        self.assertEqual(self.post(f"tally/views/{one['id']}", person=moss, method="delete").status_code, 404)
        self.assertEqual(self.post(f"tally/views/{one['id']}", method="delete").status_code, 200)
        self.assertEqual(self.get("tally/views"), [])

    def test_what_cannot_be_kept_is_refused(self):
        for name, sought in ((" ", {"camera": "A"}), ("x" * 61, {"camera": "A"}), ("all", {}), ("all", {"camera": ""})):
            self.assertEqual(self.keep(name, sought).status_code, 409, (name, sought))
        for n in range(20):
            self.keep(f"view {n}", {"camera": "A"})
        self.assertEqual(self.keep("one more", {"camera": "A"}).status_code, 409)
        self.assertEqual(self.keep("view 3", {"camera": "B"}).status_code, 200)

    def test_what_find_is_asked_is_kept_apart(self):
        sought = {"text": "fog", "camera": "A"}
        for question in ({"text": ""}, {}):
            self.assertEqual(self.post("find/views", {"name": "fog", "sought": question}).status_code, 409)
        self.assertEqual(self.post("find/views", {"name": "fog", "sought": sought}).status_code, 200)
        self.keep("fog", {"camera": "B"})
        (one,) = self.get("find/views")
        self.assertEqual((one["name"], one["sought"]["text"], one["sought"]["camera"]), ("fog", "fog", "A"))
        self.assertEqual([view["sought"]["camera"] for view in self.get("tally/views")], ["B"])
        self.assertEqual(self.get("find/views", self.sol), [])
        self.assertEqual(self.post(f"find/views/{one['id']}", person=self.sol, method="delete").status_code, 404)
        self.assertEqual(self.post(f"find/views/{one['id']}", method="delete").status_code, 200)
        self.assertEqual((self.get("find/views"), len(self.get("tally/views"))), ([], 1))

    def test_today_is_whichever_day_it_is(self):
        self.offload()
        self.assertEqual(self.get("tally?day=today")["in_all"], 0, "it was shot in May")
        self.assertEqual(self.get("tally?day=2026-05-14")["in_all"], 1)


class SinceLastLook(World, TestCase):
    def since(self, person=None) -> dict:
        said = self.get("tally/since", person)
        rolls = {one["tag"]: one["became"] for one in said["rolls"]}
        return {**said, "rolls": rolls, "states": {one["tag"]: one["state"] for one in said["rolls"]}}

    def looked(self, said: dict, person=None) -> None:
        shown = {"rolls": said["states"], "clearance": said["clearance"], "revocation": said["revocation"]}
        self.assertEqual(self.post("tally/looked", shown, person).status_code, 200)

    def test_what_happened_is_told_until_one_says_that_one_has_seen_it(self):
        self.assertIsNone(self.since()["at"])
        self.looked(self.since())
        self.assertEqual(self.since()["rolls"], {})
        self.offload()
        self.assertEqual(self.since()["rolls"], {"A001": "new"})
        self.sign()
        told = self.since()
        self.assertEqual((told["rolls"], told["cleared"]), ({"A001": "new"}, ["A-01"]))
        self.looked(told)
        told = self.since()
        self.assertEqual((told["rolls"], told["cleared"], told["called_back"]), ({}, [], []))
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        told = self.since()
        self.assertEqual(told["rolls"], {"A001": "fell below the line"})
        self.assertEqual([one["tag"] for one in self.get("tally?changed=true")["rolls"]], ["A001"])
        revoke_clearance(self.wren, self.card, "a drive is gone")
        self.assertEqual(self.since()["called_back"], ["A-01"])
        self.assertIsNone(self.since(self.pip)["at"], "everybody looks for themselves")

    def test_what_comes_between_showing_and_saying_so_is_told_all_the_same(self):
        self.looked(self.since())
        self.offload()
        told = self.since()
        card, _ = self.new_card("A-02", {"1.MOV": b"1"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.offload(card)
        self.sign()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        self.looked(told)
        told = self.since()
        self.assertEqual(told["rolls"], {"A001": "fell below the line", "A002": "new"})
        self.assertEqual(told["cleared"], ["A-01"])

    def test_nobody_says_that_they_saw_what_is_not_there_yet(self):
        self.looked(self.since())
        ahead = {"rolls": {"A001": "safe"}, "clearance": 10**9, "revocation": 10**9}
        self.assertEqual(self.post("tally/looked", ahead).status_code, 200)
        self.offload()
        self.sign()
        told = self.since()
        self.assertEqual((told["rolls"], told["cleared"]), ({"A001": "new"}, ["A-01"]))
