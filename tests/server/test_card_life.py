"""A card's life: every state follows from what happened; its record, its health, its place in the list."""

from datetime import timedelta
from unittest.mock import patch
from urllib.parse import quote

from django.test import TestCase

from ruggedraft.clearing.cases import case
from ruggedraft.core.errors import SourceUnreadable
from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.journal import clock
from ruggedraft.offloads.models import Offload
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .deciding import Deciding
from .world import SHOT


class Living(Deciding):
    def card_now(self, label: str = "A-01") -> dict:
        """From the list and from the card's page alike."""
        listed = next(one for one in self.get("cards")["cards"] if one["label"] == label)
        self.assertEqual(self.get(f"cards/{label}")["card"], listed)
        return listed

    def of_card(self, act: str, **words):
        return self.post(f"clearing/cards/{self.card.pk}/{act}", words)

    def out(self) -> None:
        hub.remove("slot-1")
        look(self.station)


class Life(Living, TestCase):
    def test_from_new_to_handed_back_to_formatted_and_round_again(self):
        new = Card.objects.create(label="A-07", kind="SD", camera=self.camera)
        self.assertEqual(self.card_now("A-07")["life"], "new")
        self.assertEqual(self.card_now("A-07")["whereabouts"], "never in a reader here")
        new.delete()
        seen = [(self.card_now()["life"], self.card_now()["whereabouts"])]
        self.out()
        seen.append((self.card_now()["life"], self.card_now()["whereabouts"]))
        self.put_in("A-01")
        self.offload()
        self.hold("card", "A-01", "wait")
        seen.append(self.card_now()["life"])
        self.post(f"clearing/holds/{self.standing()['holds'][0]['id']}", method="delete")
        self.sign()
        seen.append(self.card_now()["life"])
        self.out()
        seen.append((self.card_now()["life"], self.card_now()["whereabouts"]))
        self.of_card("hand-back", to="Kit Marsh")
        seen.append(self.card_now()["whereabouts"])
        self.put_in("A-01")
        self.out()
        seen.append(self.card_now()["whereabouts"])
        self.of_card("hand-back", to="Juno Vale")
        seen.append(self.card_now()["whereabouts"])
        self.refused(self.of_card("hand-back", to="Kit Marsh"), "handed back already")
        self.assertEqual(self.standing()["handed_to"], "Juno Vale")
        make.format_card(self.card_folder)
        self.put_in("A-01")
        seen.append(self.card_now()["life"])
        self.out()
        seen.append((self.card_now()["life"], self.card_now()["whereabouts"]))
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0099.JPG", b"the next day", SHOT + timedelta(days=1))
        self.put_in("A-01")
        seen.append(self.card_now()["life"])
        self.offload()
        self.assertEqual(seen, [
            ("in a reader", "in slot 1"), ("waiting", "last in slot 1"), "held", "cleared",
            ("handed back", "with camera A"), "with Kit Marsh", "with camera A", "with Juno Vale", "formatted",
            ("with the camera", "with camera A"), "in a reader",
        ])  # fmt: skip
        now = self.card_now()
        self.assertEqual((now["cycles"], now["errors"]), (2, 0))
        detail = self.get("cards/a-01")
        self.assertEqual([roll["tag"] for roll in detail["rolls"]], ["A002", "A001"])
        self.assertEqual([roll["cleared"] for roll in detail["rolls"]], [False, True])
        said = [event["sentence"] for event in detail["events"]]
        self.assertIn("Card A-01 was handed back to Kit Marsh.", said)
        self.assertIn("Card A-01 was handed back to Juno Vale.", said)

    def test_it_comes_back_with_its_cleared_roll_or_with_something_new_beside_it(self):
        self.offload()
        self.sign()
        self.out()
        self.put_in("A-01")
        self.assertIn("is here again as it was", self.standing()["sentence"])
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0050.JPG", b"new beside it", SHOT)
        self.put_in("A-01")
        self.assertIn("1 file came onto it after it was cleared", self.standing()["sentence"])
        self.assertFalse(self.standing()["may_go_back"])

    def test_the_list_is_sought_by_text_camera_and_state(self):
        for n in range(2, 5):
            self.new_card(f"A-0{n}", {})
        self.offload()
        find = lambda **words: [  # noqa: E731
            one["label"] for one in self.get("cards?" + "&".join(f"{k}={v}" for k, v in words.items()))["cards"]
        ]
        self.assertEqual(find(), ["A-01", "A-02", "A-03", "A-04"])
        self.assertEqual((find(text="a-03"), find(text="a001")), (["A-03"], ["A-01"]))
        self.assertEqual(find(life="new"), ["A-02", "A-03", "A-04"])
        self.assertEqual((find(camera="B"), find(text="nothing")), ([], []))
        self.assertEqual(self.get("cards")["counts"]["new"], 3)

    def test_a_long_list_is_told_page_by_page(self):
        for n in range(2, 80):
            Card.objects.create(label=f"A-{n:02}", camera=self.camera)
        page = self.get("cards")
        rest = self.get(f"cards?after={page['after']}")
        labels = [one["label"] for one in (*page["cards"], *rest["cards"])]
        self.assertEqual((labels, rest["after"]), ([f"A-{n:02}" for n in range(1, 80)], None))
        self.assertEqual(self.get("cards/Z-99")["status"], 404)

    def test_a_label_is_whatever_is_written_on_the_card(self):
        for label in ("A/07", "A 7?", "A-07#2"):
            Card.objects.create(label=label, camera=self.camera)
            self.assertEqual(self.get(f"cards/{quote(label, safe='')}")["card"]["label"], label)
            body = {"tag": "A001", "count": 1, "digest": ""}
            self.refused(self.post(f"cards/{quote(label, safe='')}/removal", body), "does not allow files")


class Health(Living, TestCase):
    def errors_once(self):
        """The card gives an error the first time a file is opened, and the file the next time."""
        real, failed = hub.PacedSource.open, set()

        def shaky(source, path):
            if path.endswith("AAAA0002.JPG") and path not in failed:
                failed.add(path)
                raise SourceUnreadable("it could not be read off the card (Input/output error)")
            return real(source, path)

        return patch.object(hub.PacedSource, "open", shaky)

    def trust(self, reason: str, seen: list[str] | None = None):
        return self.of_card("trust", reason=reason, seen=self.standing()["doubts"] if seen is None else seen)

    def test_a_card_that_gave_errors_is_proposed_for_quarantine_and_not_offered_for_hand_back(self):
        with self.errors_once():
            self.offload()
        self.assertEqual(self.get("tally")["rolls"][0]["state"], "safe", "its copies are good")
        self.assertEqual(Offload.objects.get().card_errors, 1)
        self.assertIn("it gave read errors in 1 file", self.standing()["sentence"])
        self.refused(self.sign(), "read errors")
        self.assertEqual(self.of_card("aside", kind="quarantined", reason="read errors").status_code, 200)
        self.assertEqual((self.standing()["standing"], self.card_now()["life"]), ("out of use", "quarantined"))
        self.assertEqual(case(self.card).standing.value, "out of use")
        self.assertFalse(self.standing()["may_go_back"])
        self.refused(self.sign(), "out of use")
        make.format_card(self.card_folder)
        self.put_in("A-01")
        self.assertEqual((self.standing()["standing"], self.standing()["may_go_back"]), ("out of use", False))

    def test_somebody_may_answer_for_it_and_new_errors_ask_again(self):
        with self.errors_once():
            self.offload()
        self.refused(self.trust(""), "Say why")
        self.assertEqual(self.trust("the contact was dirty").status_code, 200)
        self.assertEqual(self.standing()["standing"], "ready to sign")
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three", SHOT)
        self.put_in("A-01")
        with self.errors_once():
            self.offload()
        self.assertIn("read errors", self.standing()["sentence"])
        self.assertEqual(self.card_now()["errors"], 2)

    def test_nobody_answers_for_what_they_were_not_shown(self):
        self.refused(self.trust("all good"), "Nothing that its runs say")
        with self.errors_once():
            self.offload()
        shown = self.standing()["doubts"]
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three", SHOT)
        self.put_in("A-01")
        with self.errors_once():
            self.offload()
        self.refused(self.trust("the contact was dirty", shown), "read errors in 2 files")
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0004.JPG", b"four", SHOT)
        self.put_in("A-01")
        self.assertEqual(self.start().status_code, 200)
        self.assertEqual(self.trust("the contact was dirty").status_code, 200, "a run is on its way")
        with self.errors_once():
            self.run_all()
        self.assertEqual(len(self.standing()["doubts"]), 1, "the run that was on its way is answered for by nobody")

    def test_using_a_card_again_answers_for_nothing_that_its_runs_say(self):
        self.of_card("aside", kind="quarantined", reason="its door sticks")
        with self.errors_once():
            self.offload()
        self.post(f"clearing/cards/{self.card.pk}/aside?why=door+mended", method="delete")
        self.assertEqual(len(self.standing()["doubts"]), 1)
        self.assertFalse(self.standing()["may_go_back"])

    def test_what_was_answered_for_is_every_run_until_then_whatever_clocks_say(self):
        with self.errors_once():
            self.offload()
        Offload.objects.update(finished_at=clock.now() + timedelta(days=3))
        self.assertEqual(self.trust("the contact was dirty").status_code, 200)
        self.assertEqual(self.standing()["doubts"], [])
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three", SHOT)
        self.put_in("A-01")
        with self.errors_once():
            self.offload()
        Offload.objects.filter(pk=Offload.objects.latest("pk").pk).update(finished_at=clock.now() - timedelta(days=3))
        self.assertEqual(len(self.standing()["doubts"]), 1)

    def test_a_quarantined_card_that_owes_something_is_not_clear_first(self):
        self.of_card("aside", kind="quarantined", reason="its door sticks")
        self.assertEqual(self.standing()["standing"], "not offloaded")
        self.offload()
        self.assertEqual(self.standing()["standing"], "out of use")
        self.post(f"clearing/cards/{self.card.pk}/aside?why=door+mended", method="delete")
        self.assertEqual(self.standing()["standing"], "ready to sign")

    def test_retired_is_for_good_unless_a_supervisor_says_otherwise(self):
        self.of_card("aside", kind="quarantined", reason="slow")
        self.assertEqual(self.of_card("aside", kind="retired", reason="dead").status_code, 200)
        self.refused(self.of_card("aside", kind="quarantined", reason="no"), "retired already")
        self.assertEqual(self.card_now()["life"], "retired")
        where = f"clearing/cards/{self.card.pk}/aside?why=no"
        self.assertEqual(self.post(where, method="delete").status_code, 403)
        self.assertEqual(self.post(where, person=self.sol, method="delete").status_code, 200)
        self.refused(self.post(where, person=self.sol, method="delete"), "is in use")

    def test_a_card_pulled_in_the_middle_is_none_the_worse(self):
        given = [0]

        def pull(source, count):
            given[0] += count
            if given[0] > 100_000:
                hub.remove("slot-1")

        with patch.object(hub.PacedSource, "wait_for", pull):
            self.offload()
        look(self.station)
        self.assertEqual(Offload.objects.get().card_errors, 0)
        self.assertEqual(self.standing()["doubts"], [])

    def test_a_card_that_slows_down_is_proposed_too(self):
        self.offload()
        run = Offload.objects.get()
        for n, seconds in enumerate((1, 1, 1, 5, 5)):
            row = Offload.objects.create(
                subject=f"then {n}", roll=run.roll, station=run.station, person=run.person, asked_at=run.asked_at,
                started_at=run.asked_at, finished_at=run.asked_at + timedelta(seconds=seconds), end="well",
                card=run.card, algorithm=run.algorithm, read_bytes=100_000_000, kind="offload", queue="cards",
            )  # fmt: skip
            slow = any("become slow" in doubt for doubt in self.standing()["doubts"])
            self.assertEqual(slow, n == 4, f"after {n + 1}: {row.pk}")
        self.assertEqual(self.card_now()["rate"], 20_000_000.0)
        self.assertEqual(self.card_now()["best_rate"], 100_000_000.0)
