"""What hangs holds up whoever waits for it so long and no longer, and is not asked twice at once."""

import threading
import time
from unittest import TestCase

from ruggedraft.core.apart import Apart, NotAnswering


class Hanging(TestCase):
    def setUp(self):
        self.apart, self.goes_on, self.asked = Apart(), threading.Event(), 0
        self.addCleanup(self.goes_on.set)

    def hang(self) -> str:
        self.asked += 1
        self.goes_on.wait(30)
        return f"answer {self.asked}"

    def test_an_answer_and_an_error_come_back_as_if_asked_here(self):
        self.assertEqual(self.apart.ask("a", lambda: 7, 1), 7)
        with self.assertRaisesRegex(OSError, "gone"):
            self.apart.ask("a", self._fail, 1)
        self.assertEqual(self.apart.ask("a", lambda: 8, 1), 8)

    def _fail(self):
        raise OSError("gone")

    def test_what_hangs_is_asked_once_waited_for_once_and_its_late_answer_is_taken(self):
        threads = threading.active_count()
        began = time.monotonic()
        for _ in range(20):
            with self.assertRaises(NotAnswering):
                self.apart.ask("drive", self.hang, 0.2)
        self.assertLess(time.monotonic() - began, 2)
        self.assertEqual((self.asked, threading.active_count() - threads), (1, 1))
        self.assertEqual(self.apart.ask("another drive", lambda: "there", 1), "there")
        self.goes_on.set()
        self.assertEqual(self.apart.ask("drive", self.hang, 5), "answer 1")
        self.assertEqual(self.apart.ask("drive", self.hang, 5), "answer 2")

    def test_two_who_ask_at_once_share_the_answer(self):
        answers: list[str] = []
        asking = [
            threading.Thread(target=lambda: answers.append(self.apart.ask("drive", self.hang, 10))) for _ in range(2)
        ]
        for one in asking:
            one.start()
        time.sleep(0.2)
        self.goes_on.set()
        for one in asking:
            one.join()
        self.assertEqual(answers[0], "answer 1")
        self.assertEqual(len(answers), 2)
