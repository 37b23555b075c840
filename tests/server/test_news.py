"""News that matters: told once, in the ways that somebody chose, escalated, and signed for other programs."""

import json
import threading
from datetime import timedelta
from http.server import BaseHTTPRequestHandler, HTTPServer

from django.core import mail
from django.test import TestCase, override_settings
from standardwebhooks.webhooks import Webhook

from ruggedraft.crew.models import Membership, Person
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.news.models import Hook, News, NewsChoice, NewsRules, Sending
from ruggedraft.news.sending import said_to_programs, send_due
from ruggedraft.news.telling import escalate, tell_news
from ruggedraft.productions.models import Plan
from ruggedraft.rolls.acts.report_loss import report_loss

from .world import World


class Program:
    """Another program: it keeps what it is sent, and answers what it is told to."""

    def __init__(self, test, answers=()):
        self.heard, self.answers = [], list(answers)
        outer = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self):
                body = self.rfile.read(int(self.headers["Content-Length"]))
                outer.heard.append(({name.lower(): value for name, value in self.headers.items()}, body))
                status, headers, said = outer.answers.pop(0) if outer.answers else (204, {}, b"")
                self.send_response(status)
                for name, value in headers.items():
                    self.send_header(name, value)
                self.send_header("Content-Length", str(len(said)))
                self.end_headers()
                self.wfile.write(said)

            def log_message(self, *words):
                pass

        self.server = HTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=self.server.serve_forever, daemon=True).start()
        test.addCleanup(self.server.server_close)
        test.addCleanup(self.server.shutdown)
        self.address = f"http://127.0.0.1:{self.server.server_port}/news"


@override_settings(STORE_KEY="a key of the tests", EMAIL_BACKEND="django.core.mail.backends.locmem.EmailBackend")
class Telling(World, TestCase):
    def setUp(self):
        super().setUp()
        tell_news(self.production)

    def choose(self, person, ways: list[str], kinds=("trouble",), quiet=(0, 0)):
        said = {
            "choices": dict.fromkeys(kinds, ways), "quiet_from": quiet[0], "quiet_until": quiet[1],
            "email": f"{person.username}@crew.example",
        }  # fmt: skip
        self.assertEqual(self.post("news/mine", said, person, "put").status_code, 200)

    def lose(self):
        report_loss(self.wren, self.drives["three"].device, "fell overboard")

    def told(self, person=None) -> list[dict]:
        return self.get("news", person)["news"]

    def test_it_is_told_once_and_is_over_once_it_is_over(self):
        self.lose()
        for _ in range(3):
            tell_news(self.production)
        (one,) = self.told()
        self.assertEqual((one["kind"], one["grave"], one["over"]), ("trouble", True, False))
        self.assertEqual(one["sentence"], "'three' was reported lost by Wren: fell overboard")
        self.post("stores/three/found")
        tell_news(self.production)
        (one,) = self.told()
        self.assertTrue(one["over"])
        self.lose()
        tell_news(self.production)
        self.assertEqual(len(self.told()), 2, "it was lost once more")

    def test_what_was_there_when_telling_began_is_sent_to_nobody(self):
        NewsRules.objects.all().delete()
        self.choose(self.pip, ["e-mail"])
        self.lose()
        tell_news(self.production)
        send_due()
        self.assertEqual((self.told(), mail.outbox), ([], []))

    def test_every_kind_is_told_of_what_happened(self):
        self.production.rule.signers = 2
        self.production.rule.save()
        roll = self.offload()
        self.sign()
        tell_news(self.production)
        kinds = {one["kind"]: one["sentence"] for one in self.told()}
        self.assertEqual(
            kinds["roll verified"], "A001 is verified. Its rule asks for 2 copies on 2 devices, each read back."
        )
        self.assertEqual(kinds["second signature"], "Card A-01 was signed by Wren, and wants 1 signature more.")
        self.sign(self.sol)
        self.drives["one"].sightings.update(free=10, total=1000)
        spoilt = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        spoilt.chmod(0o644)
        spoilt.write_bytes(b"X" * spoilt.stat().st_size)
        self.check(roll, "two")
        tell_news(self.production)
        kinds = {one["kind"]: one for one in self.told()}
        self.assertEqual(kinds["card free"]["sentence"], "Card A-01 was cleared: it may go back to camera A.")
        self.assertIn("A001 is below the line: ", kinds["below the line"]["sentence"])
        self.assertIn("1 does not", kinds["check failed"]["sentence"])
        self.assertEqual(kinds["nearly full"]["subject"], "one")
        self.assertTrue(kinds["roll verified"]["over"] and kinds["second signature"]["over"])

    def test_mail_goes_to_those_who_chose_it_once_and_not_in_their_quiet_hours(self):
        self.choose(self.pip, ["e-mail"])
        hour = now().hour
        self.choose(self.sol, ["e-mail"], quiet=(hour, (hour + 2) % 24))
        self.choose(self.wren, ["sound"])
        self.lose()
        for _ in range(2):
            tell_news(self.production)
            send_due()
        self.assertEqual([one.to for one in mail.outbox], [["pip@crew.example"]])
        self.assertEqual(mail.outbox[0].subject, "Heron: trouble, three")
        self.assertIn("fell overboard", mail.outbox[0].body)
        due = Sending.objects.get(person=self.sol).due_at
        self.assertGreater(due, now())
        Sending.objects.filter(person=self.sol).update(due_at=now())
        send_due()
        self.assertEqual(mail.outbox[-1].to, ["sol@crew.example"])

    def test_what_is_over_before_it_was_sent_is_not_sent(self):
        hour = now().hour
        self.choose(self.pip, ["e-mail"], quiet=(hour, (hour + 2) % 24))
        self.lose()
        tell_news(self.production)
        self.post("stores/three/found")
        tell_news(self.production)
        Sending.objects.update(due_at=now())
        send_due()
        self.assertEqual(mail.outbox, [])

    def test_grave_news_that_nobody_has_seen_goes_to_the_supervisor_once_whatever_the_hour(self):
        hour = now().hour
        self.choose(self.sol, [], quiet=(hour, (hour + 2) % 24))
        self.lose()
        tell_news(self.production)
        self.assertEqual(escalate(self.production), [])
        News.objects.update(at=now() - timedelta(minutes=16))
        self.assertEqual(len(escalate(self.production)), 1)
        self.assertEqual(escalate(self.production), [])
        send_due()
        self.assertEqual([(one.to, one.subject) for one in mail.outbox], [
            (["sol@crew.example"], "Heron: Nobody has seen this yet: trouble, three"),
        ])  # fmt: skip
        self.assertTrue(self.told()[0]["escalated"])

    def test_what_somebody_has_seen_is_not_escalated(self):
        self.choose(self.sol, [])
        self.lose()
        tell_news(self.production)
        (one,) = self.told()
        self.assertEqual(self.post("news/seen", {"ids": [one["id"]]}, self.pip).status_code, 200)
        self.assertEqual(self.post("news/seen", {"ids": [one["id"]]}, self.wren).status_code, 200)
        News.objects.update(at=now() - timedelta(hours=2))
        self.assertEqual(escalate(self.production), [])
        self.assertEqual(self.told()[0]["seen_by"], "Pip", "the first who said so")
        self.assertEqual(self.post("news/seen", {"ids": [10**9]}).status_code, 409)

    def test_whoever_is_off_the_crew_or_sees_no_work_is_told_nothing(self):
        moss = self.person("moss", "client")
        for person in (self.pip, moss):
            Person.objects.filter(pk=person.pk).update(email=f"{person.username}@crew.example")
        self.choose(self.pip, ["e-mail"])
        NewsChoice.objects.create(person=moss, production=self.production, choices={"trouble": ["e-mail"]})
        Membership.objects.filter(person=self.pip).update(off_since=now())
        self.lose()
        tell_news(self.production)
        send_due()
        self.assertEqual(mail.outbox, [])

    def test_a_program_is_told_signed_and_with_a_rolls_folders_and_lists(self):
        program = Program(self)
        said = {"name": "asset store", "address": program.address, "kinds": ["roll verified"]}
        secret = self.post("programs", said, self.sol).json()["secret"]
        self.offload()
        for _ in range(2):
            tell_news(self.production)
            send_due()
        ((headers, body),) = program.heard
        told = Webhook(secret).verify(body, headers)
        self.assertEqual((told["type"], told["data"]["roll"]["tag"]), ("roll_verified", "A001"))
        copies = {one["store"]: one for one in told["data"]["roll"]["copies"]}
        self.assertEqual(copies["one"]["folder"], "Heron/2026-05-14/A001")
        for name, copy in copies.items():
            root = self.on_drive(name).parents[2]
            self.assertTrue((root / copy["folder"]).is_dir())
            self.assertTrue(copy["lists"] and all((root / path).is_file() for path in copy["lists"]), copy)
        self.assertNotIn(secret, json.dumps(self.get("news", self.sol)))
        self.assertNotIn(secret.encode(), bytes(Hook.objects.get().sealed))

    def test_a_program_of_one_plan_is_told_of_its_rolls_alone(self):
        mine, other = Program(self), Program(self)
        plan = Plan.objects.create(production=self.production, name="sound")
        plan.stores.set(self.plan.stores.all())
        kinds = ["roll verified", "trouble"]
        for program, of in ((mine, "all"), (other, "sound")):
            said = {"name": of, "address": program.address, "kinds": kinds, "plan": of}
            self.assertEqual(self.post("programs", said, self.sol).status_code, 200)
        self.assertEqual(self.post("programs", {**said, "plan": "none"}, self.sol).status_code, 409)
        self.assertEqual([one["plan"] for one in self.get("news", self.sol)["programs"]], ["all", "sound"])
        self.offload()
        tell_news(self.production)
        send_due()
        ((_, body),) = mine.heard
        self.assertIn("DCIM/100AAAAA/AAAA0001.JPG", json.loads(body)["data"]["roll"]["clips"])
        self.assertEqual(other.heard, [])

    def test_no_program_is_told_that_a_roll_is_verified_once_it_is_not(self):
        program = Program(self, [(500, {}, b"")])
        said = {"name": "n", "address": program.address, "kinds": ["roll verified"]}
        self.post("programs", said, self.sol)
        self.offload()
        tell_news(self.production)
        send_due()
        report_loss(self.wren, self.drives["two"].device, "fell overboard")
        tell_news(self.production)
        Sending.objects.filter(due_at__isnull=False).update(due_at=now())
        send_due()
        self.assertEqual(len(program.heard), 1, "the try that failed, before it was lost")
        self.assertEqual(Sending.objects.get().trouble, "it was over before it was sent")

    def test_no_program_hears_of_a_roll_that_came_apart_a_moment_ago_nor_of_copies_that_do_not_count(self):
        program = Program(self)
        self.post("programs", {"name": "n", "address": program.address, "kinds": ["roll verified"]}, self.sol)
        roll = self.offload()
        tell_news(self.production)
        report_loss(self.wren, self.drives["three"].device, "fell overboard")
        told = said_to_programs(News.objects.get(kind="roll verified"))
        self.assertEqual({one["store"] for one in told["data"]["roll"]["copies"]}, {"one", "two"})
        spoilt = self.on_drive("two") / "DCIM/100AAAAA/AAAA0001.JPG"
        spoilt.chmod(0o644)
        spoilt.write_bytes(b"X" * spoilt.stat().st_size)
        self.check(roll, "two")
        send_due()
        self.assertEqual(program.heard, [], "that it is over was not even noted yet")

    def test_a_rule_that_was_loosened_meanwhile_is_not_said_to_be_met_as_it_was(self):
        program = Program(self)
        self.post("programs", {"name": "n", "address": program.address, "kinds": ["roll verified"]}, self.sol)
        self.offload()
        tell_news(self.production)
        loosened = self.post("setup/rule", {"copies": 1, "devices": 1, "reason": "a test"}, self.sol, "patch")
        self.assertEqual(loosened.status_code, 200)
        send_due()
        ((_, body),) = program.heard
        said = "A001 is verified. Its rule asks for 1 copy on 1 device, read back."
        self.assertEqual(json.loads(body)["data"]["sentence"], said)

    def test_it_is_tried_again_and_given_up_and_an_answer_is_believed_nothing(self):
        """A redirect leads nowhere, whatever it says in its body."""
        forged = b'{"data": {"roll": {"state": "verified"}}, "clear": true}'
        program = Program(self, [(500, {}, b""), (302, {"Location": "http://127.0.0.1:1/"}, forged), (200, {}, forged)])
        self.post("programs", {"name": "n", "address": program.address, "kinds": ["trouble"]}, self.sol)
        self.lose()
        tell_news(self.production)
        for _ in range(3):
            Sending.objects.filter(due_at__isnull=False).update(due_at=now())
            send_due()
        self.assertEqual(len(program.heard), 3)
        self.assertEqual(len({headers["webhook-id"] for headers, _ in program.heard}), 1)
        one = Sending.objects.get()
        self.assertEqual((one.tries, one.trouble, one.due_at), (2, "", None))
        self.assertEqual(self.get("clearing")["cards"][0]["standing"], "not offloaded")

    def test_a_program_that_is_gone_or_never_answers_is_given_up_and_journalled(self):
        program = Program(self, [(410, {}, b"")])
        self.post("programs", {"name": "gone", "address": program.address, "kinds": ["trouble"]}, self.sol)
        silent = {"name": "silent", "address": "http://127.0.0.1:1/", "kinds": ["trouble"]}
        self.post("programs", silent, self.sol)
        self.lose()
        tell_news(self.production)
        for _ in range(9):
            Sending.objects.filter(due_at__isnull=False).update(due_at=now())
            send_due()
        self.assertEqual(len(program.heard), 1)
        given_up = list(JournalEntry.objects.filter(act="news not sent").values_list("sentence", flat=True))
        self.assertEqual(len(given_up), 2)
        self.assertIn("it answers that it is gone (410)", " ".join(given_up))
        self.assertIn("could not be sent to program 'silent'", " ".join(given_up))
        troubles = {one["name"]: one["trouble"] for one in self.get("news", self.sol)["programs"]}
        self.assertTrue(all(troubles.values()))
        self.assertEqual(self.post(f"programs/{Hook.objects.first().pk}", {}, self.sol, "delete").status_code, 200)
        self.assertEqual([one["name"] for one in self.get("news", self.sol)["programs"]], ["silent"])

    def test_what_cannot_be_chosen_is_refused(self):
        for change in ({"quiet_from": 24}, {"quiet_until": -1}, {"email": "no address"}):
            said = {"choices": {}, "quiet_from": 0, "quiet_until": 0, "email": "", **change}
            self.assertEqual(self.post("news/mine", said, self.pip, "put").status_code, 409, change)
        for address in ("ftp://x/", "https://user:pw@x/", "nowhere", "http://", "http://x:99999/", "http://a b/"):
            said = {"name": "n", "address": address, "kinds": ["trouble"]}
            self.assertEqual(self.post("programs", said, self.sol).status_code, 409, address)
        self.assertEqual(self.post("programs/escalation", {"minutes": 0}, self.sol, "put").status_code, 409)
        self.assertEqual(self.post("programs/escalation", {"minutes": None}, self.sol, "put").status_code, 200)
        self.lose()
        tell_news(self.production)
        News.objects.update(at=now() - timedelta(days=2))
        self.assertEqual(escalate(self.production), [])
