"""Deliveries: by a link that opens one thing and nothing else, fetched in parts, received, taken back."""

import re
import shutil
import subprocess
from datetime import timedelta
from unittest.mock import patch

import xxhash
from django.test import Client, TestCase, TransactionTestCase

from ruggedraft.core.manifests import verify_list
from ruggedraft.delivering import links
from ruggedraft.delivering.models import ClientLink, Consignment, Fetched
from ruggedraft.journal.clock import now
from ruggedraft.journal.models import JournalEntry
from ruggedraft.reports.papers import make_papers
from ruggedraft.rolls.models import Roll, RollFile
from ruggedraft.standins import hub

from .deciding import ONE, TWO, Deciding

HOST = {"host": "localhost"}


class Deliveries(Deciding):
    def setUp(self):
        super().setUp()
        for where in ("ruggedraft.api.delivering.routes", "ruggedraft.api.accounts.routes"):
            aside = patch(f"{where}.have_papers_made")
            aside.start()
            self.addCleanup(aside.stop)
        links._LIMITS.__init__()
        self.offload()
        self.client_ = Client()

    def deliver(self, status: int = 200, person=None, **words) -> str:
        """The path of the client's page."""
        body = {"tags": ["A001"], "to": "Broadcaster", "way": "link", **words}
        answer = self.post("deliveries", body, person)
        self.assertEqual(answer.status_code, status, answer.content)
        told = answer.json()
        return told["address"].removeprefix("http://localhost") if status == 200 else told["title"]

    def by_link(self, path: str, **headers):
        return self.client_.get(path, headers={**HOST, **headers})

    def rows(self) -> list[dict]:
        return self.get("deliveries")

    def holding(self) -> list[str]:
        """Holds that keep the card from being cleared."""
        return [one["sentence"] for one in self.standing()["blocks"] if "on hold" in one["sentence"]]

    def hold(self, *words, **more):
        answer = super().hold(*words, **more)
        self.assertEqual(answer.status_code, 200, answer.content)


class Put(Deliveries, TestCase):
    def test_a_page_shows_what_was_put_together_and_nothing_else_is_reached_by_it(self):
        page = self.deliver(note="The harbour, day one.")
        answer = self.by_link(page)
        text = answer.content.decode()
        for words in ("Heron", "For Broadcaster", "The harbour, day one.", "A001", ONE, "4 files", "603 kB"):
            self.assertIn(words, text)
        for path in RollFile.objects.values_list("path", flat=True):
            self.assertEqual(text.count("data-file"), 4, path)
        self.assertEqual(answer["Cache-Control"], "private, no-store")
        self.assertNotIn("script", text)
        for other in ("files/A002/x", "files/A001/../../etc/passwd", "files/A001/nothing", "A002/checksums",
                      "A002/account.csv", "A001/account.exe", "pictures/1"):  # fmt: skip
            self.assertEqual(self.by_link(page + other).status_code, 404, other)
        self.assertEqual(self.by_link("/api/productions/heron/tally").status_code, 401)
        self.assertEqual(self.by_link("/api/productions/heron/deliveries").status_code, 401)

    def test_whatever_is_wrong_with_a_link_it_learns_the_same(self):
        page = self.deliver()
        carried = page.split("/")[2]
        same = {self.by_link(f"/d/{guess}/").content for guess in ("x", "x:y", carried[:-1], carried + "a")}
        ClientLink.objects.update(until=now() - timedelta(seconds=1))
        same.add(self.by_link(page).content)
        ClientLink.objects.update(until=now() + timedelta(days=1))
        self.assertEqual(self.by_link(page).status_code, 200)
        self.post(f"deliveries/{self.rows()[0]['id']}", method="delete")
        for path in (page, page + "files/A001/zero", page + "A001/checksums", page + "A001/account.csv"):
            answer = self.by_link(path)
            self.assertEqual(answer.status_code, 404)
            same.add(answer.content)
        without_nonce = {re.sub(rb'nonce="[^"]*"', b"", one) for one in same}
        self.assertEqual(len(without_nonce), 1)

    def test_only_a_digest_of_the_link_is_kept_and_another_key_does_not_sign_it(self):
        carried = self.deliver().split("/")[2]
        kept = ClientLink.objects.get().secret
        self.assertNotIn(kept, carried)
        self.assertNotIn(carried, str(list(JournalEntry.objects.values_list("sentence", "detail"))))
        with patch.object(links, "_SIGNER", links.signing.Signer(key="another", salt=links._SIGNER.salt)):
            self.assertEqual(self.by_link(f"/d/{carried}/").status_code, 404)

    def test_whoever_guesses_is_slowed_down_and_so_is_whoever_asks_too_much(self):
        page = self.deliver()
        seen = [self.by_link(f"/d/guess{n}/").status_code for n in range(40)]
        self.assertEqual((seen[0], seen[-1]), (404, 429))
        self.assertEqual(self.by_link(page).status_code, 200, "who has the link is not punished for it")
        with patch.object(links, "_OPEN", links._Rate(3, 60)):
            self.assertEqual([self.by_link(page).status_code for _ in range(4)][-1], 429)

    def test_a_password_is_asked_for_and_after_ten_wrong_ones_no_other_is_looked_at(self):
        page = self.deliver(password="low-tide")
        self.assertNotIn("A001", self.by_link(page).content.decode())
        self.assertNotIn("A001", self.by_link(page + "A001/checksums").content.decode())
        wrong = self.client_.post(page, {"password": "high-tide"}, headers=HOST)
        self.assertEqual(wrong.status_code, 403)
        right = self.client_.post(page, {"password": "low-tide"}, headers=HOST)
        self.assertEqual(right.status_code, 303)
        self.assertIn("A001", self.by_link(page).content.decode())
        self.client_ = Client()
        for _ in range(10):
            self.client_.post(page, {"password": "x"}, headers=HOST)
        self.assertEqual(self.client_.post(page, {"password": "low-tide"}, headers=HOST).status_code, 403)

    def test_the_cookie_of_one_link_opens_no_other(self):
        first, second = self.deliver(password="low-tide"), self.deliver(password="low-tide")
        self.client_.post(first, {"password": "low-tide"}, headers=HOST)
        one, two = ClientLink.objects.order_by("pk")
        self.client_.cookies[f"raft_link_{two.pk}"] = self.client_.cookies[f"raft_link_{one.pk}"].value
        self.assertNotIn("A001", self.by_link(second).content.decode())

    def test_holds_wait_until_it_was_received_and_not_until_it_was_put_together(self):
        self.hold("roll", "A001", "until the client has it", ends="delivered")
        page = self.deliver()
        self.assertEqual(len(self.holding()), 1)
        self.by_link(page)
        self.assertEqual(len(self.holding()), 1, "opening the page is not receiving it")
        refused = self.client_.post(page, {"name": " "}, headers=HOST)
        self.assertIn("Say who received it", refused.content.decode())
        said = self.client_.post(page, {"name": "Nell <b>Ferry", "checked": "on"}, headers=HOST)
        self.assertIn("Nell &lt;b&gt;Ferry said", said.content.decode())
        self.assertEqual(self.holding(), [])
        (row,) = self.rows()
        self.assertEqual([(r["name"], r["checked"], r["by"]) for r in row["receipts"]], [("Nell <b>Ferry", True, "")])
        self.assertIn(
            "Nell <b>Ferry said on the client's page", str(JournalEntry.objects.get(act="receive delivery").sentence)
        )

    def test_a_page_is_no_place_to_fill_the_journal_from(self):
        page = self.deliver()
        for _ in range(25):
            said = self.client_.post(page, {"name": "Nell"}, headers=HOST)
        self.assertIn("often enough", said.content.decode())
        self.assertEqual(len(self.rows()[0]["receipts"]), 20)

    def test_by_another_way_the_crew_says_that_it_arrived(self):
        self.hold("roll", "A001", "until the client has it", ends="delivered")
        self.deliver(way="drive")
        (row,) = self.rows()
        self.assertEqual((row["link_until"], row["open"], row["files"]), (None, False, 4))
        self.assertEqual(self.post(f"deliveries/{row['id']}/received", {"name": "Nell"}, self.pip).status_code, 403)
        self.assertEqual(self.post(f"deliveries/{row['id']}/received", {"name": "Nell"}).status_code, 200)
        self.assertEqual(self.holding(), [])

    def test_of_chosen_clips_only_those_go_and_their_roll_is_not_delivered_by_that(self):
        self.assertIn("nobody keeps", self.deliver(kept_only=True, status=409))
        mark = {"path": ONE, "kind": "keep"}
        self.assertEqual(self.post("choosing/rolls/A001/marks", mark).status_code, 200)
        page = self.deliver(kept_only=True)
        text = self.by_link(page).content.decode()
        self.assertIn(ONE, text)
        self.assertNotIn(TWO, text)
        self.assertEqual(self.by_link(page + f"files/A001/{TWO}").status_code, 404)
        self.hold("roll", "A001", "until the client has it", ends="delivered")
        self.client_.post(page, {"name": "Nell"}, headers=HOST)
        self.assertEqual(len(self.holding()), 1)

    def test_a_roll_that_went_on_since_is_not_delivered_by_what_was_sent_before(self):
        self.hold("roll", "A001", "until the client has it", ends="delivered")
        page = self.deliver()
        (self.card_folder / "DCIM/100AAAAA/AAAA0003.JPG").write_bytes(b"three")
        self.put_in("A-01")
        self.assertEqual(self.start().status_code, 200)
        self.run_all()
        self.assertNotIn("AAAA0003", self.by_link(page).content.decode())
        self.assertEqual(self.by_link(page + "files/A001/DCIM/100AAAAA/AAAA0003.JPG").status_code, 404)
        self.assertEqual(self.rows()[0]["files"], 4)
        self.client_.post(page, {"name": "Nell"}, headers=HOST)
        self.assertEqual(len(self.holding()), 1, "they have not got what was shot since")

    def papers(self, store: str = "two", person=None):
        return self.post(f"deliveries/{self.rows()[0]['id']}/papers", {"store": store}, person)

    def test_what_lies_beside_the_copies_on_their_own_drive(self):
        """What the READ ME says is done as it says."""
        self.deliver(way="drive")
        self.assertEqual(self.papers().status_code, 200)
        self.assertEqual(make_papers(), 1)
        answer = self.papers()
        home = self.on_drive("two").parent
        names = sorted(path.rpartition("/")[2] for path in answer.json()["paths"])
        self.assertEqual(names, ["A001.READ ME.txt", "A001.account.csv", "A001.account.json", "A001.account.pdf"])
        self.assertTrue((home / "A001.account.pdf").read_bytes().startswith(b"%PDF"))
        text = (home / "A001.READ ME.txt").read_text()
        for words in ("Heron: roll A001", "for Broadcaster by Wren", "4 files, 603,003 bytes, in the folder 'A001'"):
            self.assertIn(words, " ".join(text.split()))
        command = next(line.strip() for line in text.splitlines() if line.strip().startswith("xxhsum"))
        done = subprocess.run(command.split(), cwd=home, capture_output=True, text=True)
        self.assertNotIn("FAILED", done.stdout)
        self.assertIn(f"A001/{TWO}: OK", done.stdout)
        for line in text.splitlines():
            if line.strip().startswith("A001."):
                self.assertTrue((home / line.strip()).is_file(), line)
        self.assertLess(max(map(len, text.splitlines())), 80)
        self.assertIn("are on 'two'", JournalEntry.objects.latest("pk").sentence)

    def test_papers_are_left_only_beside_what_is_whole_there(self):
        self.deliver(way="drive")
        self.refused(self.papers("three"), "A001 is not on 'three', whole and read back")
        self.assertEqual(self.papers(person=self.pip).status_code, 403)
        (self.on_drive("two").parent / "A001.READ ME.txt").write_text("somebody's own")
        self.assertEqual(self.papers().status_code, 200)
        self.assertEqual((self.on_drive("two").parent / "A001.READ ME.txt").read_text(), "somebody's own")
        spoilt = self.on_drive("two") / TWO
        spoilt.write_bytes(b"X" * spoilt.stat().st_size)
        self.check(Roll.objects.get(), "two")
        self.refused(self.papers(), "whole and read back")
        hub.home().joinpath("unplugged").mkdir(exist_ok=True)
        (hub.home() / "drives/one").rename(hub.home() / "unplugged/one")
        self.refused(self.papers("one"), "is not connected")

    def test_only_what_goes_by_a_drive_has_papers_on_one(self):
        self.deliver()
        self.refused(self.papers(), "Only what goes by a drive")

    def test_half_a_card_is_delivered_to_nobody(self):
        RollFile.objects.filter(path="zero").update(checksum="")
        self.assertIn("never read off the card", self.deliver(status=409))

    def test_what_cannot_be_delivered_is_refused(self):
        for words, why in (
            ({"tags": []}, "Say which"), ({"tags": ["Z999"]}, "There is no roll"), ({"to": " "}, "who it is for"),
            ({"days": 0}, "1 to 90"), ({"days": 91}, "1 to 90"),
        ):  # fmt: skip
            self.assertIn(why, self.deliver(status=self._status(words), **words))
        self.assertEqual(Consignment.objects.count(), 0)
        self.deliver(status=403, person=self.pip)

    def _status(self, words: dict) -> int:
        return 404 if "tags" in words else 409

    def test_nothing_is_received_of_what_was_taken_back(self):
        self.deliver(way="drive")
        (row,) = self.rows()
        self.assertEqual(self.post(f"deliveries/{row['id']}", method="delete").status_code, 200)
        self.assertEqual(self.post(f"deliveries/{row['id']}", method="delete").status_code, 409)
        self.assertEqual(self.post(f"deliveries/{row['id']}/received", {"name": "Nell"}).status_code, 409)
        self.assertTrue(self.rows()[0]["withdrawn_at"])

    def test_another_productions_delivery_is_not_there(self):
        self.assertEqual(self.post("deliveries/999999", method="delete").status_code, 404)


class Fetching(Deliveries, TransactionTestCase):
    def fetched(self, path: str, **headers) -> tuple[int, bytes, dict]:
        answer = self.by_link(path, **headers)
        body = b"".join(answer) if answer.streaming else answer.content
        return answer.status_code, body, answer.headers

    def test_a_file_is_fetched_in_two_halves_and_is_what_was_shot(self):
        page = self.deliver()
        address = f"{page}files/A001/{TWO}"
        status, first, headers = self.fetched(address, range="bytes=0-299999")
        self.assertEqual((status, len(first), headers["Content-Range"]), (206, 300_000, "bytes 0-299999/600000"))
        self.assertEqual(self.rows()[0]["fetched"], 0, "half of it went out")
        tag = headers["ETag"]
        status, second, _ = self.fetched(address, range="bytes=300000-", if_range=tag)
        self.assertEqual(status, 206)
        row = RollFile.objects.get(path=TWO)
        self.assertEqual(xxhash.xxh3_128_hexdigest(first + second), row.checksum)
        self.assertIn(f"xxh128={row.checksum}", headers["X-Checksum"])
        self.assertEqual(self.rows()[0]["fetched"], 1)
        self.assertEqual(Fetched.objects.count(), 2)
        self.assertEqual(JournalEntry.objects.filter(act="fetch").count(), 2)
        for asked, status in (("bytes=600000-", 416), ("bytes=x", 200), ("bytes=0-1,3-4", 200)):
            self.assertEqual(self.fetched(address, range=asked)[0], status, asked)
        status, whole, _ = self.fetched(address, range="bytes=5-", if_range='"other"')
        self.assertEqual((status, len(whole)), (200, 600_000), "it is another file: from its beginning")

    def test_names_of_any_kind_are_fetched_and_checked_by_the_common_program(self):
        page = self.deliver()
        text = self.by_link(page).content.decode()
        home = self.base / "client"
        for address in re.findall(r'href="(files/[^"]+)"', text):
            status, _, headers = self.fetched(page + address)
            self.assertEqual(status, 200, address)
            self.assertIn("attachment", headers["Content-Disposition"])
        listed = self.by_link(page + "A001/checksums").content
        folder = next((hub.home() / "drives" / "one").rglob("A001"))
        shutil.copytree(folder, home / "A001")
        (home / "list").write_bytes(listed)
        self.assertEqual(verify_list(home / "list", asked="xxh128").findings, [])
        plain = b"".join(line for line in listed.splitlines(keepends=True) if not line.startswith(b"\\"))
        (home / "plain").write_bytes(plain)
        subprocess.run(["xxhsum", "-c", "plain"], cwd=home, check=True, capture_output=True)
        self.assertEqual(self.rows()[0]["fetched"], 4)

    def test_the_accounts_are_those_of_then(self):
        page = self.deliver()
        self.assertEqual(self.fetched(page + "A001/account.pdf")[0], 404, "it is not on paper yet")
        make_papers()
        self.assertTrue(self.fetched(page + "A001/account.pdf")[1].startswith(b"%PDF"))
        before = self.fetched(page + "A001/account.csv")[1]
        self.hold("roll", "A001", "later")
        self.assertEqual(self.fetched(page + "A001/account.csv")[1], before)
        self.assertIn("http://localhost/d/", self.fetched(page + "A001/addresses")[1].decode())

    def test_while_no_drive_is_connected_it_says_so_and_nothing_is_noted_as_sent(self):
        page = self.deliver()
        with patch("ruggedraft.client_page.sending.copies_here", return_value=()):
            status, body, _ = self.fetched(f"{page}files/A001/{TWO}")
        self.assertEqual((status, Fetched.objects.count()), (503, 0))
        self.assertIn("not connected", body.decode())

    def test_a_file_that_is_another_size_by_now_is_not_sent_from_that_copy(self):
        page = self.deliver()
        next((hub.home() / "drives" / "one").rglob("AAAA0002.JPG")).write_bytes(b"two")
        status, body, _ = self.fetched(f"{page}files/A001/{TWO}")
        self.assertEqual((status, len(body)), (200, 600_000), "from the other copy")
