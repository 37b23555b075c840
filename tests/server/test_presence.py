"""Who shows a production now: as long as their stream lasts, told to its crew alone."""

import asyncio
from datetime import timedelta
from unittest.mock import patch
from uuid import uuid4

from asgiref.sync import async_to_sync, sync_to_async
from django.test import RequestFactory, TransactionTestCase

from ruggedraft.crew.acts.shared_screen import make_screen
from ruggedraft.crew.models import Membership
from ruggedraft.live import stream
from ruggedraft.live.models import Presence
from ruggedraft.live.presence import GONE_AFTER, here_now, note_gone, note_here

from .world import World


class WhoIsHere(World, TransactionTestCase):
    def here(self, person=None) -> list[tuple[str, str, int]]:
        return [(one["name"], one["role"], one["browsers"]) for one in self.get("people/here", person)]

    def note(self, person=None, screen="", production=None):
        made = uuid4()
        note_here(made, production or self.production.pk, person and person.pk, screen)
        return made

    def test_everybody_once_and_shared_screens_by_their_name(self):
        first = self.note(self.sol)
        self.note(self.wren)
        self.note(self.sol)
        self.note(screen="cart")
        self.note(self.pip, production=self.production.pk + 1)
        self.assertEqual(
            self.here(), [("Sol", "supervisor", 2), ("Wren", "wrangler", 1), ("cart", "", 1)], "and nobody elsewhere"
        )
        note_gone(first)
        self.assertIn(("Sol", "supervisor", 1), self.here())

    def test_whoever_was_not_seen_lately_or_is_off_the_crew_is_not_here(self):
        old, _ = self.note(self.sol), self.note(self.wren)
        Presence.objects.filter(stream=old).update(seen_at=Presence.objects.get(stream=old).seen_at - GONE_AFTER)
        self.assertEqual([one[0] for one in self.here()], ["Wren"])
        note_here(old, self.production.pk, self.sol.pk, "")
        self.assertEqual(len(here_now(self.production.pk)), 2, "it was only asleep")
        Presence.objects.filter(stream=old).update(seen_at=Presence.objects.get(stream=old).seen_at - timedelta(days=1))
        self.note(self.pip)
        self.assertFalse(Presence.objects.filter(stream=old).exists(), "what died is cleared away")
        Membership.objects.filter(person=self.wren).update(off_since=Presence.objects.first().seen_at)
        self.assertEqual([one[0] for one in self.here(self.sol)], ["Pip"])

    def listen(self, request, of: str) -> tuple[list[str], list[str]]:
        """Names during a stream, and once it was given up."""
        names = sync_to_async(lambda: [one[0] for one in self.here(self.sol)])

        async def through() -> tuple[list[str], list[str]]:
            let_in = stream._session(request) if hasattr(request, "session") else stream._screen(request)
            events = stream._stream(let_in, of)
            await anext(events)
            waiting = asyncio.ensure_future(anext(events))
            for _ in range(100):
                if during := await names():
                    break
                await asyncio.sleep(0.02)
            waiting.cancel()
            await asyncio.gather(waiting, return_exceptions=True)
            await events.aclose()
            await asyncio.gather(*stream._goodbyes)
            return during, await names()

        with patch.object(stream._Fanout, "_listen", lambda self: asyncio.sleep(0)):
            return async_to_sync(through)()

    def test_a_stream_says_so_while_it_lasts_and_of_ones_own_production_alone(self):
        request = RequestFactory().get("/api/live")
        request.session = self.client_for(self.wren).session
        self.assertEqual(self.listen(request, "heron"), (["Wren"], []))
        self.assertEqual(self.listen(request, "bittern"), ([], []))

    def test_so_does_a_shared_screens(self):
        request = RequestFactory().get("/api/live")
        request.user = type("Nobody", (), {"is_authenticated": False})()
        request.COOKIES["raft_screen"] = make_screen(self.person("lea", "lead"), self.production.pk, "cart")
        self.assertEqual(self.listen(request, "heron"), (["cart"], []))
