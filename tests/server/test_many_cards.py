"""Several cards at once: the queue, readers by themselves, rigs, and how long it will take."""

from datetime import timedelta
from unittest.mock import patch

from django.db import connection
from django.test import TestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from ruggedraft.clearing import unattended
from ruggedraft.intake.acts.read_headers import read_headers
from ruggedraft.intake.models import Insertion
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera
from ruggedraft.runs.queue import open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub
from ruggedraft.standins.card_maker import traps

from .deciding import Deciding
from .world import SHOT


class Queue(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.cards = [self.card]
        for n in (2, 3):
            card, _ = self.new_card(f"A-0{n}", {f"{n}.MOV": bytes(n)})
            self.put_in(card.label, f"slot-{n}")
            self.cards.append(card)
        for card in self.cards:
            self.assertEqual(self.start(card).status_code, 200)

    def runs(self) -> list[dict]:
        return self.get("bench/queue")[0]["runs"]

    def order(self) -> list[str]:
        return [run["tag"] for run in self.runs()]

    def act(self, tag: str, what: str) -> int:
        return self.post(f"runs/{Offload.objects.get(roll__tag=tag).pk}/{what}").status_code

    def test_cards_wait_in_order_and_say_when_they_are_free(self):
        self.assertEqual(self.order(), ["A001", "A002", "A003"])
        self.assertTrue(all(run["free_in_s"] is not None for run in self.runs()))

    def test_the_order_can_be_changed_and_the_next_run_follows_it(self):
        ids = {run["tag"]: run["id"] for run in self.runs()}
        wanted = [ids["A003"], ids["A001"], ids["A002"]]
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted}, self.pip, method="put").status_code, 403)
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted[:2]}, method="put").status_code, 409)
        self.assertEqual(self.post("bench/queue/cart", {"ids": wanted}, method="put").status_code, 200)
        self.assertEqual(self.order(), ["A003", "A001", "A002"])
        carry_out_first(run_id=ids["A001"])
        self.assertEqual(set(Offload.objects.exclude(finished_at=None).values_list("roll__tag", flat=True)), {"A003"})

    def test_a_paused_card_is_passed_over_and_loses_nothing(self):
        self.assertEqual(self.act("A001", "pause"), 200)
        self.run_all()
        self.assertEqual(self.order(), ["A001"])
        self.assertIsNone(self.runs()[0]["free_in_s"])
        self.assertEqual(self.standing(self.card)["standing"], "being offloaded")
        self.assertEqual(self.act("A001", "resume"), 200)
        self.run_all()
        self.assertEqual(self.standing(self.card)["standing"], "ready to sign")

    def test_a_run_let_go_on_before_it_came_to_a_stop_is_not_forgotten(self):
        """Pause, and go on at once: the worker that comes for it finds it taken, by an engine that is stopping."""
        first = open_runs(self.station).first()
        waiting = ProcrastinateJob.objects.filter(args={"run_id": first.pk}, status="todo")

        def stops(run):
            self.act("A001", "pause")
            self.act("A001", "resume")
            with connection.cursor() as cursor:  # the worker that came found it taken, and its job is done
                cursor.execute(
                    "UPDATE procrastinate_jobs SET status = 'succeeded' WHERE args->>'run_id' = %s", [f"{run.pk}"]
                )

        with patch("ruggedraft.runs.tasks._carry_out", stops):
            carry_out_first(run_id=first.pk)
        self.assertEqual(waiting.count(), 1, "another comes after it")
        self.run_all()
        self.assertEqual(self.standing(self.card)["standing"], "ready to sign")

    def test_a_run_paused_half_way_can_be_put_in_another_place(self):
        first = Offload.objects.get(roll__tag="A001")
        Offload.objects.filter(pk=first.pk).update(started_at=first.asked_at)
        self.act("A001", "pause")
        ids = [run["id"] for run in self.runs()]
        self.assertEqual(self.post("bench/queue/cart", {"ids": ids[::-1]}, method="put").status_code, 200)
        self.assertEqual(self.order(), ["A003", "A002", "A001"])

    def test_a_paused_card_can_be_cancelled_and_offloaded_again(self):
        self.act("A001", "pause")
        self.act("A001", "cancel")
        self.run_all()
        self.assertEqual(self.order(), [])
        self.assertNotIn(self.standing(self.card)["standing"], ("ready to sign", "cleared"))
        self.assertEqual(self.start(self.card).status_code, 200)
        self.run_all()
        self.assertEqual(self.standing(self.card)["standing"], "ready to sign")

    def test_a_worker_that_comes_for_nothing_does_nothing(self):
        self.run_all()
        before = Offload.objects.values_list("pk", "finished_at")
        carry_out_first(run_id=Offload.objects.first().pk)
        self.assertEqual(list(Offload.objects.values_list("pk", "finished_at")), list(before))


class Estimates(Deciding, TestCase):
    def test_a_run_is_judged_by_what_this_reader_and_these_stores_have_shown(self):
        self.assertIsNone(self.get("bench")["slots"][0]["proposal"]["estimated_s"])
        self.offload()
        began = Offload.objects.get().started_at
        Offload.objects.update(read_bytes=50_000_000, finished_at=began + timedelta(seconds=5))
        make.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0009.JPG", bytes(20_000_000), SHOT)
        self.put_in("A-01")
        proposal = self.get("bench")["slots"][0]["proposal"]
        self.assertAlmostEqual(proposal["estimated_s"], 20_603_003 / 10_000_000, delta=0.2)
        self.offload()
        self.assertAlmostEqual(Offload.objects.latest("id").estimated_s, proposal["estimated_s"], delta=0.01)


class Unattended(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        unattended._judged.clear()
        slot = self.get("bench")["slots"][1]
        self.assertEqual(
            self.post(f"bench/readers/{slot['reader_id']}/unattended", {"on": True}, self.pip).status_code, 403
        )
        self.assertEqual(self.post(f"bench/readers/{slot['reader_id']}/unattended", {"on": True}).status_code, 200)
        self.other, self.folder = self.new_card("A-02", {})

    def waits_for(self) -> list[str]:
        return self.get("bench")["slots"][1]["waits_for"]

    def glance(self) -> list[Offload]:
        unattended._judged.clear()
        return unattended.take_up_unattended(self.station)

    def test_a_card_without_a_question_goes_by_itself_once(self):
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        (started,) = self.glance()
        self.assertEqual((started.card.label, started.person), ("A-02", self.wren))
        self.assertEqual((self.glance(), self.waits_for()), ([], []))
        self.run_all()
        self.assertEqual(self.glance(), [])
        self.assertEqual(self.standing(self.other)["standing"], "ready to sign")

    def test_a_card_in_another_reader_waits_for_somebody(self):
        self.assertEqual(self.glance(), [])
        self.assertEqual(Offload.objects.count(), 0)

    def test_whatever_is_in_doubt_waits_with_its_question(self):
        cases = {
            "Its layout is none that a camera writes": lambda: make.add_file(self.folder, "odds/a.jpg", b"x", SHOT),
            "names 1 recording that is not here": lambda: traps.lose_an_indexed_clip(self.folder, SHOT),
            "inside of a card": lambda: (
                make.add_file(self.folder, "CLIP/C0001.MP4", b"x", SHOT)
                and make.add_file(self.folder, "THMBNL/C0001T01.JPG", b"x", SHOT)
            ),
        }
        for words, make_it in cases.items():
            with self.subTest(words):
                make.format_card(self.folder)
                make_it()
                self.put_in("A-02", "slot-2")
                self.assertEqual(self.glance(), [])
                self.assertIn(words, " ".join(self.waits_for()))

    def test_a_reader_given_a_plan_leaves_cards_of_other_plans_waiting(self):
        reader = self.get("bench")["slots"][1]["reader_id"]
        self.post("setup/plans", {"name": "Other", "folder": "{roll}", "stores": ["one", "two"]})
        self.assertEqual(
            self.post(f"bench/readers/{reader}/unattended", {"on": True, "plan": "Other"}).status_code, 200
        )
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        self.assertEqual(self.glance(), [])
        self.assertIn("This reader is for the plan 'Other'", " ".join(self.waits_for()))
        self.post(f"bench/readers/{reader}/unattended", {"on": True, "plan": "all"})
        self.assertEqual(len(self.glance()), 1)

    def test_an_unknown_card_and_one_that_does_not_fit_wait_too(self):
        make.make_card(hub.home(), make.CardSheet("SNX", "?", "SD", 1))
        self.put_in("SNX", "slot-2")
        self.assertEqual((self.glance(), self.waits_for()), ([], ["It is not settled which card this is."]))
        self.plan.stores.set([self.drives["one"]])
        make.add_stills(self.folder, prefix="SKR_", first=1, count=1, start=SHOT)
        self.put_in("A-02", "slot-2")
        self.assertEqual(self.glance(), [])
        self.assertIn("A first copy, on one store alone: the rule asks for 2", " ".join(self.waits_for()))


class Rigs(Deciding, TestCase):
    SHOTS = ((0, 4.0), (60, 5.0), (150, 3.0))

    def setUp(self):
        super().setUp()
        self.members = {}
        for n, letter in enumerate(("R1", "R2", "R3"), 1):
            self.camera = Camera.objects.create(
                production=self.production, letter=letter, name="Limpet", kind="action", plan=self.plan
            )
            card, folder = self.new_card(f"{letter}-01", {})
            shots = [*self.SHOTS, *([(100, 2.0)] if letter == "R3" else [])]
            times = sorted((SHOT + timedelta(seconds=at + 5 * n), long) for at, long in shots)
            make.add_rig_clips(folder, shots=times)
            self.members[letter] = card
        self.post("setup/rigs", {"name": "Hull", "cameras": ["R1", "R2", "R3"], "first_shot": 7})
        hub.remove("slot-1")
        for n, card in enumerate(self.members.values(), 1):
            self.put_in(card.label, f"slot-{n}")
        for stay in Insertion.objects.filter(removed_at=None):
            read_headers(stay.listings.latest())

    def test_the_clip_too_many_is_named_before_copying_and_starting_asks(self):
        (rig,) = self.get("bench/rigs")
        self.assertEqual(rig["odd"], ["R3 has a 2-second clip, LMPT0003, that no other camera has."])
        self.assertEqual([len(row["clips"]) for row in rig["rows"]], [3, 3, 4])
        self.assertEqual([clip["shot"] for clip in rig["rows"][2]["clips"]], [1, 2, None, 3])
        asked = self.start(self.members["R3"])
        self.assertEqual((asked.status_code, "no other camera has" in asked.json()["title"]), (409, True))
        self.assertEqual(self.start(self.members["R3"], uneven=True).status_code, 200)

    def test_leaving_it_out_settles_the_question(self):
        kept = [f"DCIM/100LIMPT/LMPT000{n}.MP4" for n in (1, 2, 4)]
        self.assertEqual(self.start(self.members["R3"], picked=kept).status_code, 200)
        self.run_all()
        self.assertEqual(self.standing(self.members["R3"])["left_in_all"], 2)

    def test_a_folder_a_shot_numbered_on_and_shots_taken_before_keep_their_numbers(self):
        self.change_plan(names="{roll}/{shot:3}_{camera}_{name}", folder="{date}")
        for letter in ("R1", "R2"):
            self.assertEqual(self.start(self.members[letter]).status_code, 200)
        self.run_all()
        clips = [name for name in self.on_store() if name.endswith("MP4") and "R1-001" in name]
        self.assertEqual([name.rpartition("/")[2] for name in clips],
                         ["007_R1_LMPT0001.MP4", "008_R1_LMPT0002.MP4", "009_R1_LMPT0003.MP4"])  # fmt: skip
        kept = [f"DCIM/100LIMPT/LMPT000{n}.MP4" for n in (1, 2, 4)]
        choice = self.post(f"bench/cards/{self.members['R3'].pk}/choice", {"picked": kept}).json()
        self.assertEqual(
            [one["kept_as"] for one in choice["names"]["names"] if one["path"].endswith("MP4")],
            [f"R3-001/00{shot}_R3_LMPT000{n}.MP4" for shot, n in ((7, 1), (8, 2), (9, 4))],
        )
