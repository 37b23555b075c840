"""A screen at the cart with nobody signed in: it shows everything, does nothing, and asks who acts; and sessions."""

from datetime import timedelta

from django.test import Client, TestCase

from ruggedraft.api.screens import ASKS_WHO, COOKIE, ONLY_ASK
from ruggedraft.crew.acts.shared_screen import MOST_AT_SCREEN, set_pin
from ruggedraft.crew.models import Membership, Pin, PinTry, Role, SharedScreen
from ruggedraft.journal import clock
from ruggedraft.journal.models import JournalEntry
from ruggedraft.productions.models import Production, RedundancyRule

from .operations import ACTS, ASKS
from .world import World, address

HOST = {"host": "localhost"}
PIN = "4071"


class SharedScreens(World, TestCase):
    def setUp(self):
        super().setUp()
        maker = self.client_for(self.sol)
        made = maker.post(address("screens"), {"name": "cart"}, "application/json", headers=HOST)
        self.assertEqual(made.status_code, 200)
        self.screen = Client()
        self.screen.cookies[COOKIE] = maker.cookies[COOKIE].value
        self.maker = maker
        set_pin(self.wren, "wren-password", PIN)

    def look(self, path: str) -> dict:
        return self.screen.get(address(path), headers=HOST).json()

    def act(self, path: str, body: dict | None = None, name: str = "", pin: str = "", method: str = "post"):
        words = {"x-raft-who": name, "x-raft-pin": pin} if name else {}
        return getattr(self.screen, method)(address(path), body or {}, "application/json", headers={**HOST, **words})

    def hold(self, name: str = "", pin: str = ""):
        return self.act("clearing/holds", {"on": "card", "name": "A-01", "reason": "wait"}, name, pin)

    def test_whoever_makes_one_is_signed_out_by_it_and_it_shows_the_state(self):
        self.assertEqual(self.maker.get("/api/session", headers=HOST).json()["screen"], True)
        me = self.look("session")
        self.assertEqual(
            (me["username"], me["name"], [one["slug"] for one in me["productions"]]), ("", "cart", ["heron"])
        )
        self.assertNotIn("set_up", me["productions"][0]["may"])
        for path in ("bench", "tally", "clearing", "stores", "cards", "log", "people", "notes", "shifts", "setup",
                     "news", "days", "camera-reports", "units"):  # fmt: skip
            with self.subTest(path):
                self.assertEqual(self.screen.get(address(path), headers=HOST).status_code, 200)
        self.assertEqual(self.screen.get("/api/stations", headers=HOST).status_code, 200)
        self.assertEqual(self.screen.post("/api/stations/tickets", headers=HOST).status_code, 401)

    def test_it_does_nothing_by_itself_and_shows_no_other_production(self):
        other = Production.objects.create(name="Bittern", first_day=self.production.first_day)
        RedundancyRule.objects.create(production=other)
        before = JournalEntry.objects.count()
        self.assertEqual(self.hold().json()["title"], ASKS_WHO)
        self.assertEqual(self.screen.get(address("../bittern/tally"), headers=HOST).status_code, 404)
        self.assertEqual(self.act("../bittern/clearing/holds", {}, "wren", PIN).status_code, 404)
        self.assertEqual(JournalEntry.objects.count(), before)
        self.assertEqual(Client().get(address("tally"), headers=HOST).status_code, 401)

    def test_what_only_asks_is_asked_with_nobody_named(self):
        """As the table of roles has it: a screen that asked for a PIN to show something would be of no use."""
        asks = {what for what, act in ACTS.items() if act is ASKS}
        self.assertEqual({what.rpartition("/")[2] for what in asks}, ONLY_ASK)
        self.assertEqual({what for what in ACTS if what.rpartition("/")[2] in ONLY_ASK}, asks)
        self.assertEqual(self.act(f"clearing/cards/{self.card.pk}/look").status_code, 200)
        self.assertEqual(self.act("setup/rule/effect", {"copies": 3}).status_code, 200)

    def test_an_act_names_whoever_gave_their_pin_and_nobody_stays_signed_in(self):
        self.assertEqual(self.hold("wren", PIN).status_code, 200)
        self.assertEqual(JournalEntry.objects.filter(act="hold").get().person, self.wren)
        self.assertEqual(self.look("session")["username"], "")
        self.assertEqual(self.hold().status_code, 403, "and the next act asks again")

    def test_a_pin_gives_what_the_role_allows_and_never_the_set_up_or_people(self):
        set_pin(self.pip, "pip-password", PIN)
        self.assertEqual(self.hold("pip", PIN).status_code, 403)
        set_pin(self.sol, "sol-password", PIN)
        refused = self.act("people/invitations", {"role": "supervisor"}, "sol", PIN)
        self.assertIn("Sign in with your name and password", refused.json()["title"])
        for path in ("setup/close", "units/hand-in", "programs"):
            self.assertIn("Sign in with", self.act(path, {}, "sol", PIN).json()["title"], path)

    def test_a_pin_is_locked_after_five_guesses_for_a_quarter_of_an_hour(self):
        for left in (4, 3, 2, 1):
            self.assertIn(f"{left} more tries", self.hold("wren", "0000").json()["title"])
        self.assertIn("it is locked", self.hold("wren", "0000").json()["title"])
        self.assertIn("is locked for a quarter of an hour", self.hold("wren", PIN).json()["title"])
        self.assertEqual(JournalEntry.objects.filter(act="lock pin").count(), 1)
        with clock.at(clock.now() + timedelta(minutes=16)):
            self.assertEqual(self.hold("wren", PIN).status_code, 200)
        self.assertFalse(JournalEntry.objects.filter(act="hold", at__lt=clock.now()).exists())

    def test_guessing_across_people_locks_the_screen(self):
        for n in range(4):
            person = self.person(f"p{n}", Role.WRANGLER)
            set_pin(person, f"p{n}-password", PIN)
            for _ in range(4):
                self.hold(f"p{n}", "0000")
        self.assertEqual(PinTry.objects.filter(right=False).count(), MOST_AT_SCREEN)
        self.assertIn("the screen 'cart' is locked", self.hold("wren", PIN).json()["title"])

    def test_nobody_without_a_pin_or_off_the_crew_acts(self):
        self.assertIn("has no PIN here", self.hold("sol", PIN).json()["title"])
        self.assertIn("has no PIN here", self.hold("nobody", PIN).json()["title"])
        Membership.objects.filter(person=self.wren).update(off_since=clock.now())
        self.assertEqual(self.hold("wren", PIN).status_code, 403)

    def test_a_new_password_by_a_link_ends_the_pin(self):
        secret = self.post(f"people/{self.wren.pk}/password-link", person=self.sol).json()["secret"]
        said = {"secret": secret, "password": "a whole new password"}
        Client().post("/api/session/link", said, "application/json", headers=HOST)
        self.assertIn("has no PIN here", self.hold("wren", PIN).json()["title"])

    def test_two_people_sign_at_one_screen_each_with_their_pin(self):
        self.production.rule.signers = 2
        self.production.rule.save()
        self.offload()
        self.look_at_everything()
        set_pin(self.sol, "sol-password", PIN)
        for name in ("wren", "sol"):
            words = {"tag": "A001", "digest": self.standing()["digest"]}
            path = f"clearing/cards/{self.card.pk}/sign"
            answer = self.act(path, words, name, PIN)
            if answer.json().get("state") == "looking":
                self.look_at_everything()
                answer = self.act(path, words, name, PIN)
            self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.standing()["standing"], "cleared")

    def test_one_that_was_ended_shows_nothing(self):
        screen = SharedScreen.objects.get()
        self.assertEqual(self.post(f"screens/{screen.pk}", person=self.wren, method="delete").status_code, 403)
        self.assertEqual(self.post(f"screens/{screen.pk}", person=self.sol, method="delete").status_code, 200)
        self.assertEqual(self.screen.get(address("tally"), headers=HOST).status_code, 401)
        self.assertIsNone(self.look("session"))

    def test_a_pin_is_of_digits_and_none_of_the_first_that_are_tried(self):
        for pin in ("123", "123456789", "12a4", "0000", "1234", "9876", "٤٠٧١"):
            with self.subTest(pin):
                said = {"password": "pip-password", "pin": pin}
                self.assertEqual(self.post("session/pin", said, self.pip, "put").status_code, 409)
        self.assertEqual(self.post("session/pin", {"password": "no", "pin": PIN}, self.pip, "put").status_code, 409)
        self.assertEqual(
            self.post("session/pin", {"password": "pip-password", "pin": PIN}, self.pip, "put").status_code, 200
        )
        self.assertNotIn(PIN, Pin.objects.get(person=self.pip).hashed)


class Sessions(World, TestCase):
    def sign_in(self, browser: str) -> Client:
        client = Client()
        said = {"username": "wren", "password": "wren-password"}
        self.assertEqual(
            client.post("/api/session", said, "application/json", headers={**HOST, "user-agent": browser}).status_code,
            200,
        )
        return client

    def test_one_sees_where_one_is_signed_in_and_ends_it_elsewhere(self):
        here, phone = self.sign_in("cart browser"), self.sign_in("telephone")
        listed = here.get("/api/session/all", headers=HOST).json()
        self.assertEqual(
            {(one["browser"], one["here"]) for one in listed}, {("cart browser", True), ("telephone", False)}
        )
        self.assertNotIn(phone.session.session_key, str(listed))
        (other,) = [one["name"] for one in listed if not one["here"]]
        self.assertEqual(here.delete(f"/api/session/all/{other}", headers=HOST).status_code, 200)
        self.assertIsNone(phone.get("/api/session", headers=HOST).json())
        self.assertEqual(here.delete(f"/api/session/all/{other}", headers=HOST).status_code, 404)
        third = self.sign_in("another")
        changed = {"old": "wren-password", "new": "a whole new password"}
        here.post("/api/session/password", changed, "application/json", headers=HOST)
        self.assertIsNone(third.get("/api/session", headers=HOST).json())
        told = [one["browser"] for one in here.get("/api/session/all", headers=HOST).json()]
        self.assertEqual(told, ["cart browser"], "a new password ended the other, and it is not said to be there")
        mine = self.client_for(self.sol)
        (still,) = [one["name"] for one in here.get("/api/session/all", headers=HOST).json()]
        self.assertEqual(mine.delete(f"/api/session/all/{still}", headers=HOST).status_code, 404, "nobody else's")
