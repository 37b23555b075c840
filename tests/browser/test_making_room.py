"""Months later a drive is full: what the rule does not need leaves it, and comes back, by keyboard."""

from datetime import timedelta

from selenium.webdriver.common.keys import Keys

from ruggedraft.journal.clock import now
from ruggedraft.rolls.acts.say_delivered import say_delivered
from ruggedraft.rolls.models import Delivery
from ruggedraft.stores.models import Store
from tests.server.world import FILES

from .case import BrowserCase


class MakingRoom(BrowserCase):
    def test_room_is_made_and_undone(self):
        self.plan.stores.set(Store.objects.filter(name__in=("one", "two", "three")))
        roll = self.offload()
        say_delivered(self.wren, self.production, [roll.tag], "the client")
        Delivery.objects.update(at=now() - timedelta(days=400))
        there = self.on_drive("three", roll)
        sol = self.browser("sol")
        sol.press("d")
        sol.tab_to("[data-make-room=three]")
        sol.press(Keys.ENTER)
        sol.see("[data-room-roll=A001]", f"{len(FILES)} files")
        self.assertEqual(sol.violations(), [])
        sol.tab_to("[data-choose=A001] input")
        sol.press(Keys.SPACE)
        sol.tab_to("[data-take-off]", f"Take {len(FILES)} files off")
        sol.press(Keys.ENTER)
        sol.see("[data-room-run=A001] [data-outcome]", "each read back on another store first")
        self.assertFalse(there.exists())
        sol.see("[data-none]", "Nothing there may go.")
        self.assertEqual(sol.violations(), [])
        sol.go("/heron/tally/A001")
        sol.see("main", f"{len(FILES)} files taken off to make room")
        self.assertFalse(sol.all("[data-fault]"), "nothing is wrong with it")
        sol.go("/heron/room?store=three")
        sol.tab_to("[data-back=A001]", "Bring it back")
        sol.press(Keys.ENTER)
        sol.see("[data-room-roll=A001]", f"{len(FILES)} files")
        for path in FILES:
            self.assertEqual((there / path).read_bytes(), (self.card_folder / path).read_bytes())
        self.assertEqual(sol.console_errors(), [])

    def test_whoever_may_not_is_told_so_and_sees_why_rolls_stay(self):
        roll = self.offload()
        say_delivered(self.wren, self.production, [roll.tag], "the client")
        wren = self.browser("wren")
        wren.go("/heron/room?store=one")
        wren.see("[data-none]", "Nothing there may go.")
        self.assertEqual(wren.violations(), [])
        Delivery.objects.update(at=now() - timedelta(days=400))
        wren.go("/heron/room?store=one")
        wren.see("[data-staying] [data-reason]", "its rule is not met without this copy: 1 of 2 copies that count")
