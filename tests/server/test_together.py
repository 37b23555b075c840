"""Many who ask at once cost two answers, and none of them is older than its question."""

import threading
import time
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.test import TestCase
from django.utils import timezone

from ruggedraft.intake.models import Insertion
from ruggedraft.journal import clock
from ruggedraft.live.together import Together

from .world import World

API = Path(settings.ROOT) / "src" / "ruggedraft" / "api"


class TogetherOnes(TestCase):
    def setUp(self):
        self.together, self.begun, self.go_on = Together(), [], threading.Event()

    def work(self) -> float:
        self.begun.append(time.monotonic())
        if len(self.begun) == 1:
            self.go_on.wait(10)
        return self.begun[-1]

    def ask(self, told: list[tuple[float, object]]) -> None:
        at = time.monotonic()
        try:
            told.append((at, self.together.ask("the bench", self.work)))
        except ValueError as error:
            told.append((at, error))

    def all_at_once(self, count: int) -> list[tuple[float, object]]:
        """The first is being worked out until all others have asked."""
        told = list[tuple[float, object]]()
        threads = [threading.Thread(target=self.ask, args=(told,)) for _ in range(count)]
        for thread in threads:
            thread.start()
            while not self.begun:
                time.sleep(0.001)
        time.sleep(0.1)
        self.go_on.set()
        for thread in threads:
            thread.join(10)
        return told

    def test_thirty_cost_two(self):
        told = self.all_at_once(30)
        self.assertEqual((len(told), len(self.begun)), (30, 2))
        for asked, begun in told:
            self.assertLessEqual(asked, begun, "what was true before one asked is no answer")
        self.ask(told)
        self.assertEqual(len(self.begun), 3, "nothing is remembered")

    def test_who_asked_before_an_answer_was_begun_gets_it_though_it_is_over(self):
        """Of several things that are asked at once, some wait for others."""
        self.go_on.set()
        early = time.monotonic()
        time.sleep(0.01)
        told: list[tuple[float, object]] = []
        self.ask(told)
        late = time.monotonic()
        self.assertEqual(self.together.ask("the bench", self.work, early), told[0][1])
        self.assertEqual(len(self.begun), 1)
        self.assertGreater(self.together.ask("the bench", self.work, late), late)
        self.assertGreater(self.together.ask("the bench", self.work), self.begun[1], "nothing is remembered")
        self.assertEqual(len(self.begun), 3)

    def test_who_asked_before_an_answer_was_begun_waits_for_it(self):
        early, told = time.monotonic(), []
        time.sleep(0.01)
        thread = threading.Thread(target=self.ask, args=(told,))
        thread.start()
        while not self.begun:
            time.sleep(0.001)
        threading.Timer(0.1, self.go_on.set).start()
        self.assertEqual(self.together.ask("the bench", self.work, early), self.begun[0])
        thread.join(10)
        self.assertEqual(len(self.begun), 1)

    def test_no_answer_is_kept_for_long(self):
        self.go_on.set()
        early = time.monotonic()
        time.sleep(0.01)
        self.ask([])
        with patch("ruggedraft.live.together._KEPT_S", 0.0):
            self.together.ask("the tally", lambda: 7)
        self.assertEqual(self.together.ask("the bench", self.work, early), self.begun[1])

    def test_an_error_is_not_kept(self):
        early = time.monotonic()
        time.sleep(0.01)
        self.go_on.set()
        with self.assertRaises(ValueError):
            self.together.ask("the bench", self.fails)
        self.assertEqual(self.together.ask("the bench", lambda: 7, early), 7)

    def test_an_error_is_everybodys_and_ends_with_them(self):
        with patch.object(self, "work", side_effect=self.fails):
            told = self.all_at_once(5)
        self.assertEqual({type(answer) for _, answer in told}, {ValueError})
        self.assertEqual(self.together.ask("the bench", lambda: 7), 7)

    def fails(self) -> None:
        self.begun.append(time.monotonic())
        self.go_on.wait(10)
        raise ValueError("gone")

    def test_other_questions_do_not_wait(self):
        threading.Thread(target=self.ask, args=([],)).start()
        while not self.begun:
            time.sleep(0.001)
        self.assertEqual(self.together.ask("the tally", lambda: 7), 7)
        self.go_on.set()


class SharedAnswers(World, TestCase):
    def test_who_may_not_see_is_refused_though_others_are_answered(self):
        stranger = self.person("fen", "wrangler")
        stranger.memberships.all().delete()
        self.assertEqual(self.get("bench")["production"], "Heron")
        self.assertNotIn("slots", self.get("bench", stranger))

    def test_what_is_shared_is_the_same_for_everybody(self):
        """Each question that is answered together, so that none comes to look at who asks."""
        self.offload()
        stay = Insertion.objects.get(removed_at=None).pk
        questions = [
            "bench", "bench/queue", "bench/rigs", f"bench/insertions/{stay}/contents",
            f"bench/insertions/{stay}/clips", "clearing", "waterline", "setup",
            "stores", "days", "trends", "shifts/now", "tally/rolls/A001", "tally/rolls/A001/files",
            "footage/rolls/A001/clips", "choosing/rolls/A001", "people/here", "stations", "deliveries",
            "deliveries/emblem", "sets",
        ]  # fmt: skip
        moment = timezone.now()
        marked = sum(path.read_text().count("@asked_together\n") for path in API.rglob("*.py"))
        self.assertEqual(marked, len(questions))
        with patch("ruggedraft.live.together._asking.ask", side_effect=lambda key, work, asked: work()) as asked:
            for question in questions:
                with self.subTest(question), clock.at(moment):
                    mine, another = self.get(question), self.get(question, self.sol)
                    self.assertNotIn("title", mine)
                    self.assertEqual(mine, another)
        self.assertEqual(asked.call_count, 2 * len(questions))
