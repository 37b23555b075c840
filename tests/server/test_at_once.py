"""Several questions in one request are answered as each would have been by itself."""

import json
from unittest.mock import patch
from urllib.parse import quote

from asgiref.sync import async_to_sync
from django.http import StreamingHttpResponse
from django.test import TestCase
from django.urls import resolve

from ruggedraft.crew.models import Role
from ruggedraft.project.at_once import MOST

from .world import World

P = "/api/productions/heron"


class AtOnce(World, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()

    def by_itself(self, address, person):
        answer = self._same_client(person).get(address, headers={"host": "localhost"})
        return answer.status_code, answer.content

    def at_once(self, person, *addresses):
        query = "&".join(f"of={quote(one, safe='')}" for one in addresses)
        client = self.client if person is None else self._same_client(person)
        answer = client.get(f"/api/at-once?{query}", headers={"host": "localhost"})
        self.assertIsInstance(answer, StreamingHttpResponse)
        lines = b"".join(async_to_sync(_read)(answer)).splitlines()
        return [(one["status"], one["body"]) for one in map(json.loads, lines)]

    def test_each_is_answered_as_it_would_have_been_by_itself_and_in_the_order_asked(self):
        asked = [
            f"{P}/waterline",
            f"{P}/tally",
            f"{P}/bench",
            f"{P}/setup",
            f"{P}/log?before=9&limit=3",
            "/api/stations",
        ]
        asked += [f"{P}/tally/rolls/B999", f"{P}/tally/rolls/A%20%00", f"{P}/log?before=%ff", "/api/nothing"]
        for role in (Role.SUPERVISOR, Role.CLIENT):
            person = self.person(f"one-{role}", role)
            together = self.at_once(person, *asked)
            self.assertEqual(len(together), len(asked))
            for address, (status, body) in zip(asked, together, strict=True):
                with self.subTest(address, role=role):
                    alone, content = self.by_itself(address, person)
                    self.assertEqual(status, alone)
                    self.assertEqual(_lasting(body), _lasting(json.loads(content)))

    def test_what_is_asked_for_in_particular_is_answered_in_particular(self):
        files = f"{P}/tally/rolls/A001/files"
        last = self.get("tally/rolls/A001/files")["files"][-1]["path"]
        (_, all_), (_, rest), (status, none) = self.at_once(
            self.wren, files, f"{files}?after={quote(last)}", f"{P}/upkeep/onward?store=three&of=all&of=more"
        )
        self.assertEqual((len(all_["files"]) > 1, rest["files"]), (True, []))
        alone, content = self.by_itself(f"{P}/upkeep/onward?store=three&of=all&of=more", self.wren)
        self.assertEqual((status, none), (alone, json.loads(content)))

    def test_nothing_is_answered_to_nobody(self):
        for status, _ in self.at_once(None, f"{P}/bench", "/api/stations", f"{P}/tally"):
            self.assertEqual(status, 401)

    def test_only_questions_of_the_api_with_json_for_an_answer(self):
        refused = {"/api/live": 404, "/api/at-once?of=/api/session": 404, "/": 404, "//elsewhere/api": 404, "api": 404}
        refused |= {"/api/%6cive": 404, "/api/%61t-once?of=/api/session": 404, "": 404}
        answers = self.at_once(self.wren, *refused)
        self.assertEqual([status for status, _ in answers], list(refused.values()))
        ((status, _),) = self.at_once(self.wren, f"{P}/bench/cards/{self.card.pk}/offload")
        self.assertEqual(status, 405)
        day = f"{P}/days/2026-05-14/account.csv"
        if self.by_itself(day, self.wren)[0] == 200:
            self.assertEqual(self.at_once(self.wren, day)[0][0], 406)

    def test_what_breaks_is_of_one_question(self):
        def breaks(path):
            if path.endswith("log"):
                raise RuntimeError("broken")
            return resolve(path)

        with patch("ruggedraft.project.at_once.resolve", breaks):
            self._same_client(self.wren).raise_request_exception = False
            answers = self.at_once(self.wren, f"{P}/bench", f"{P}/log", f"{P}/tally")
        self.assertEqual([status for status, _ in answers], [200, 500, 200])

    def test_so_many_and_no_more(self):
        client = self._same_client(self.wren)
        query = "&".join("of=/api/session" for _ in range(MOST + 1))
        self.assertEqual(client.get(f"/api/at-once?{query}", headers={"host": "localhost"}).status_code, 422)
        self.assertEqual(client.post("/api/at-once?of=/api/session", headers={"host": "localhost"}).status_code, 405)


async def _read(answer):
    return [one async for one in answer.streaming_content]


def _lasting(body):
    """Without what is of the moment in which it was answered."""
    if isinstance(body, dict):
        return {key: _lasting(one) for key, one in body.items() if key not in ("at", "now", "as_of")}
    return [_lasting(one) for one in body] if isinstance(body, list) else body
