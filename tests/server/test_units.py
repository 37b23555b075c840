"""A unit away: its own numbers, its own ledger, and what it did taken in later without proving more here than there."""

import hashlib
import hmac
import json
import uuid

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.db.models import F, Value
from django.db.models.functions import Concat
from django.test import TestCase

from ruggedraft.clearing.models import Clearance, ClearedElsewhere
from ruggedraft.clearing.roll_cases import roll_case
from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Membership, Role
from ruggedraft.intake.models import Card, CardSerial, Insertion
from ruggedraft.intake.watching import look
from ruggedraft.journal.models import JournalEntry
from ruggedraft.kit.models import DeviceLoss
from ruggedraft.offloads.proposal import propose
from ruggedraft.productions.models import Camera, Plan, Production, UnitAway
from ruggedraft.rolls.acts.report_loss import report_loss
from ruggedraft.rolls.models import Copy, Reading, Roll, RollFile, Take
from ruggedraft.standins import card_maker, hub
from ruggedraft.stores.models import Store
from ruggedraft.units.acts.begin_as_unit import begin_as_unit, set_up_of
from ruggedraft.units.acts.join_unit import join_unit
from ruggedraft.units.acts.send_unit import end_unit, send_unit
from ruggedraft.units.lines import LINE, UnitSetUp
from ruggedraft.units.models import UnitEntry, UnitRow
from ruggedraft.units.queries import secret_of

from .world import SHOT, World


def sealed(lines, head, secret: str) -> bytes:
    """As a unit with this secret would write these lines."""
    body = b"".join(one.model_dump_json(by_alias=True).encode() + b"\n" for one in (head, *lines))
    digest = hashlib.sha256(body).hexdigest()
    seal = hmac.new(bytes.fromhex(secret), body, "sha256").hexdigest()
    end = {"kind": "end", "lines": len(lines) + 1, "sha256": digest, "hmac": seal}
    return body + json.dumps(end).encode() + b"\n"


class Units(World, TestCase):
    def setUp(self):
        super().setUp()
        self.unit = send_unit(self.sol, self.production, "North", {"A": (501, 510)})
        self.secret = secret_of(self.unit).hex()

    def away(self, work, *more, drives=("shuttle", "spare")) -> list[bytes]:
        """What a unit hands in after some work, and after more. It has a ledger of its own, and none of it is here."""
        handed = []
        said = UnitSetUp.model_validate_json(set_up_of(self.sol, self.production, self.unit.pk).model_dump_json())
        clients = dict(self.clients)
        with transaction.atomic():
            kept = self.production, self.card, self.camera, self.plan, self.drives
            Production.objects.update(uuid=uuid.uuid4(), name="Old", slug="old")
            Card.objects.update(label=Concat(Value("X"), F("label")))
            CardSerial.objects.all().delete()
            old = Production.objects.get()
            self.production = begin_as_unit(self.sol, old, said)
            self.production.shared_stores.clear()
            Membership.objects.create(person=self.wren, production=self.production, role=Role.WRANGLER)
            self.camera = Camera.objects.get(production=self.production, letter="A")
            self.drives = {name: self.drive(name) for name in drives}
            self.plan = Plan.objects.get(production=self.production)
            self.plan.stores.set(self.drives.values())
            self.card = Card.objects.get(label="A-01")
            hub.remove("slot-1")
            look(self.station)
            hub.insert("A-01", "slot-1")
            look(self.station)
            for act in (work, *more):
                act()
                handed.append(self.post("units/hand-in", person=self.sol).content)
            self.stood = {roll.tag: self.stands(roll.tag) for roll in Roll.objects.filter(production=self.production)}
            transaction.set_rollback(True)
            self.production, self.card, self.camera, self.plan, self.drives = kept
        self.clients = clients
        hub.remove("slot-1")
        look(self.station)
        return handed

    def stands(self, tag: str):
        """What is judged of a roll, by the names that both ledgers have."""
        case = roll_case(self.production, tag)
        if case is None:
            return None
        facts = case.standing.facts
        copies = [(one.store.name, one.level, one.read_at, one.files, one.missing_files, one.broken_files)
                  for one in facts.copies]  # fmt: skip
        return case.state, facts.files, facts.bytes, facts.unread, facts.waived, sorted(copies)

    def join(self, data: bytes):
        return join_unit(self.sol, Production.objects.select_related("rule").get(pk=self.production.pk), data)

    def rows(self) -> dict[str, int]:
        kinds = (Roll, Take, RollFile, Copy, Reading, Store, Card, ClearedElsewhere, UnitEntry, UnitRow, DeviceLoss)
        return {kind.__name__: kind.objects.count() for kind in kinds}

    def sign_off(self):
        self.offload()
        self.assertEqual(self.sign(tag="A501").status_code, 200)

    def test_what_a_unit_did_stands_here_as_it_stood_there(self):
        (data,) = self.away(self.sign_off)
        joined = self.join(data)
        self.assertEqual((joined.rolls, joined.copies, joined.conflicts), (1, 2, []))
        self.assertEqual(self.stands("A501"), self.stood["A501"])
        roll = Roll.objects.get(tag="A501")
        self.assertEqual(roll.card, self.card, "the card of that label and serial")
        self.assertEqual(Take.objects.get(roll=roll).person.shown_name, "Wren (North)")
        self.assertFalse(Take.objects.get(roll=roll).person.is_active)
        self.assertEqual(list(roll.files.order_by("path").values_list("path", "size")), sorted(
            (file.path, file.size) for file in roll.files.all()
        ))  # fmt: skip

    def test_the_same_file_twice_changes_nothing(self):
        (data,) = self.away(self.sign_off)
        self.join(data)
        before, stood = self.rows(), self.stands("A501")
        again = self.join(data)
        self.assertEqual((again.rolls, again.copies, again.conflicts), (0, 0, []))
        self.assertEqual((self.rows(), self.stands("A501")), (before, stood))
        self.assertIn("nothing was new", JournalEntry.objects.filter(act="join unit").latest("pk").sentence)

    def test_its_clearance_clears_nothing_here_and_says_that_the_card_may_be_erased(self):
        (data,) = self.away(self.sign_off)
        self.join(data)
        self.assertEqual(Clearance.objects.count(), 0)
        kept = ClearedElsewhere.objects.get()
        self.assertEqual((kept.unit, kept.card, kept.evidence["signatures"][0]["name"]), ("North", "A-01", "Wren"))
        self.assertNotEqual(self.standing()["standing"], "cleared")
        report_loss(self.wren, Store.objects.get(name="spare").device, "fell overboard")
        self.assertEqual(roll_case(self.production, "A501").state, "below the line")
        self.assertIn("A501", self.get("waterline")["rolls_below"])

    def test_its_journal_stays_verifiable(self):
        (data,) = self.away(self.sign_off)
        self.join(data)
        acts = [row.row["act"] for row in UnitEntry.objects.order_by("number")]
        self.assertLessEqual({"start offload", "sign", "clear", "hand in"}, set(acts))
        sent = [LINE.validate_json(line) for line in data.splitlines()]
        entry = next(one for one in sent if one.kind == "entry" and one.act == "clear")
        entry.sentence = "Somebody else's card was cleared."
        before = self.rows()
        with self.assertRaisesRegex(ActRefused, f"handed in another journal before: entry {entry.id} is not the same"):
            entry.seal = "0" * 64
            self.join(sealed(sent[1:-1], sent[0], self.secret))
        UnitEntry.objects.all().delete()
        with self.assertRaisesRegex(ActRefused, f"Entry {entry.id} of the journal of unit North is not as it was"):
            self.join(sealed(sent[1:-1], sent[0], self.secret))
        self.assertEqual(self.rows(), {**before, "UnitEntry": 0})

    def test_a_ledger_that_was_put_back_to_an_earlier_state_is_told_and_nothing_of_it_is_mixed(self):
        """Its ids are given anew: the roll of one is not the roll of the other."""
        (data,) = self.away(self.offload)
        self.join(data)
        before, stood = self.rows(), self.stands("A501")
        (other,) = self.away(self.sign_off, drives=("third", "fourth"))
        with self.assertRaisesRegex(ActRefused, "put back to an earlier state, or somebody rewrote it"):
            self.join(other)
        self.assertEqual((self.rows(), self.stands("A501")), (before, stood))

    def test_a_file_that_is_another_now_is_refused(self):
        (data,) = self.away(self.offload)
        self.join(data)
        RollFile.objects.filter(roll__tag="A501", path="zero").update(checksum="f" * 32)
        with self.assertRaisesRegex(ActRefused, "zero is not the file that unit North handed in before"):
            self.join(data)

    def test_what_is_not_the_units_or_not_whole_is_refused_journalled_and_changes_nothing(self):
        (data,) = self.away(self.offload)
        lines = [LINE.validate_json(line) for line in data.splitlines()]
        head, rest = lines[0], lines[1:-1]
        before, secret = self.rows(), self.secret
        forged = sealed(rest, head, "ab" * 32)
        other = sealed(rest, head.model_copy(update={"production": uuid.uuid4(), "production_name": "Stork"}), secret)
        stranger = sealed(rest, head.model_copy(update={"unit": uuid.uuid4(), "unit_name": "South"}), secret)
        newer = data.replace(b'"version":1', b'"version":2', 1)
        for bad, words in (
            (b"", "cut off"), (b"a,b\n1,2\n3,4\n", "none that a unit writes"), (data[:-40], "cut off"),
            (data[: data.rindex(b"\n", 0, -1) + 1], "its end is missing"),
            (data.replace(b'"agreed_files":4', b'"agreed_files":5', 1), "its checksum does not agree"),
            (forged, "its seal is not the unit's"), (other, "of the production Stork"),
            (stranger, "No unit that was sent out here is called South"), (newer, "of a newer version"),
        ):  # fmt: skip
            with self.assertRaisesRegex(ActRefused, words):
                self.join(bad)
            self.assertIn("wanted to take in what a unit handed in", JournalEntry.objects.latest("pk").sentence)
        self.assertEqual(self.rows(), before)

    def test_numbers_are_kept_for_it_and_this_ledgers_own_go_on_as_before(self):
        (data,) = self.away(self.offload)
        self.join(data)
        card, _ = self.new_card("A-02", {"x": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        self.assertEqual(propose(card).tag, "A001")
        UnitAway.objects.create(
            production=self.production, name="South", numbers={"A": [1, 20]}, by=self.sol,
            at=self.unit.at,
        )  # fmt: skip
        self.assertEqual(propose(card).tag, "A021")
        end_unit(self.sol, self.production, UnitAway.objects.get(name="South").pk)
        self.assertEqual(propose(card).tag, "A001")
        for numbers, words in (
            ({"A": (505, 600)}, "are kept for unit North"), ({"Z": (1, 2)}, "no camera Z"),
            ({"A": (9, 3)}, "9 to 3 do not"), ({}, "Say of which cameras"),
        ):  # fmt: skip
            with self.assertRaisesRegex(ActRefused, words):
                send_unit(self.sol, self.production, "West", numbers)
        with self.assertRaisesRegex(ActRefused, "A501 is there already"):
            end_unit(self.sol, self.production, self.unit.pk)
            send_unit(self.sol, self.production, "East", {"A": (501, 510)})

    def test_one_tag_of_two_rolls_is_named_and_neither_is_overwritten(self):
        (data,) = self.away(self.offload)
        card, _ = self.new_card("A-02", {"x": b"x"})
        hub.insert("A-02", "slot-2")
        look(self.station)
        here = self.offload(card)
        Roll.objects.filter(pk=here.pk).update(tag="A501", number=501)
        stood = self.stands("A501")
        joined = self.join(data)
        self.assertEqual((joined.rolls, joined.copies), (0, 0))
        self.assertEqual(
            joined.conflicts,
            ["A501 is two rolls: 1 file of card A-02 here, 4 files at unit North. Nothing of theirs was taken in."],
        )
        self.assertEqual(self.stands("A501"), stood)

    def test_a_card_in_two_places_and_two_cards_of_one_label_are_named(self):
        (data,) = self.away(self.offload)
        hub.insert("A-01", "slot-2")
        look(self.station)
        joined = self.join(data)
        self.assertEqual(joined.conflicts, [
            "Card A-01 is in slot 2 here, and in slot 1 as unit North knows: it is in one place.",
        ])  # fmt: skip
        self.assertEqual(joined.rolls, 1)

    def test_two_cards_of_one_label_are_not_mixed(self):
        (data,) = self.away(self.offload)
        Insertion.objects.all().update(card=None)
        self.card.serials.all().delete()
        self.card.serials.create(serial="another")
        joined = self.join(data)
        self.assertEqual(joined.rolls, 0)
        self.assertIn("Card A-01 is another card here", joined.conflicts[0])
        self.assertIn("Roll A501 is of a card that was not taken in: nor was the roll.", joined.conflicts)

    def check_again(self):
        self.check(Roll.objects.get(tag="A501", production=self.production), "shuttle")

    def test_what_is_found_broken_here_is_not_healed_by_what_the_unit_read_before(self):
        first, second = self.away(self.offload, self.check_again)
        self.join(first)
        spoilt = hub.home() / "drives" / "shuttle" / "Heron" / "2026-05-14" / "A501" / "DCIM/100AAAAA/AAAA0001.JPG"
        spoilt.write_bytes(b"X" * spoilt.stat().st_size)
        look(self.station)
        self.check(Roll.objects.get(tag="A501"), "shuttle")
        broken = self.stands("A501")
        self.assertEqual(broken[0], "short")
        joined = self.join(second)
        self.assertEqual(self.stands("A501"), broken)
        self.assertIn("A501 on 'shuttle' was read here too", joined.conflicts[0])

    def spoil_and_check(self):
        spoilt = hub.home() / "drives" / "shuttle" / "Heron" / "2026-05-14" / "A501" / "DCIM/100AAAAA/AAAA0001.JPG"
        self.good = spoilt.read_bytes()
        spoilt.chmod(0o644)
        spoilt.write_bytes(b"X" * spoilt.stat().st_size)
        self.check_again()
        spoilt.write_bytes(self.good)

    def test_what_the_unit_found_broken_is_broken_here_though_it_was_good_here(self):
        first, second = self.away(self.offload, self.spoil_and_check)
        self.join(first)
        look(self.station)
        self.check(Roll.objects.get(tag="A501"), "shuttle")
        self.assertEqual(self.stands("A501")[0], "safe")
        self.join(second)
        self.assertEqual(self.stands("A501")[0], "short")
        self.check(Roll.objects.get(tag="A501"), "shuttle")
        self.assertEqual(self.stands("A501")[0], "safe")

    def lose(self):
        report_loss(self.sol, self.drives["shuttle"].device, "left in the van")

    def test_what_was_lost_there_is_lost_here(self):
        first, second = self.away(self.offload, self.lose)
        self.join(first)
        self.assertEqual(self.stands("A501")[0], "safe")
        self.join(second)
        self.assertEqual(self.stands("A501")[0], "short")
        self.assertEqual(DeviceLoss.objects.get().reason, "unit North: left in the van")

    def test_a_drive_that_was_lost_here_meanwhile_proves_nothing_by_what_the_unit_read(self):
        """Nobody can tell whether it read that before or after."""
        first, second = self.away(self.offload, self.check_again)
        self.join(first)
        report_loss(self.wren, Store.objects.get(name="shuttle").device, "not in its case")
        last = Reading.objects.latest("pk").pk
        DeviceLoss.objects.update(found_at=F("reported_at"), found_by=self.sol, found_after=last)
        self.assertEqual(self.stands("A501")[0], "short")
        self.join(second)
        self.assertEqual(self.stands("A501")[0], "short")

    def go_on(self):
        card_maker.add_file(self.card_folder, "DCIM/100AAAAA/AAAA0003.JPG", b"three" * 99, SHOT)
        hub.remove("slot-1")
        look(self.station)
        hub.insert("A-01", "slot-1")
        look(self.station)
        self.offload()

    def test_a_roll_that_went_on_there_goes_on_here(self):
        first, second = self.away(self.offload, self.go_on)
        self.join(first)
        self.join(second)
        self.assertEqual(self.stands("A501"), self.stood["A501"])
        self.assertEqual(Roll.objects.get(tag="A501").files.count(), 5)

    def test_a_roll_that_went_on_here_too_takes_no_more_of_the_units(self):
        """What the unit read of all of its roll says nothing of what came to it here."""
        first, second = self.away(self.offload, self.go_on)
        self.join(first)
        roll = Roll.objects.get(tag="A501")
        take = Take.objects.create(roll=roll, listing=None, person=self.wren, at=self.unit.at)
        RollFile.objects.create(roll=roll, take=take, path="DCIM/other.JPG", size=3, modified_ns=1, checksum="abc")
        self.assertEqual(self.stands("A501")[0], "short")
        joined = self.join(second)
        self.assertEqual(self.stands("A501")[0], "short")
        self.assertIn("A501 went on here: what unit North did with it since is not taken in.", joined.conflicts)

    def test_a_set_up_that_cannot_be_begun_with_changes_nothing(self):
        said = set_up_of(self.sol, self.production, self.unit.pk).model_dump(mode="json")
        other = {**said, "production": str(uuid.uuid4()), "name": "Stork", "cards": []}
        for change, status, words in (
            (said, 409, "Heron is in this ledger already"),
            ({**other, "name": "heron"}, 409, "another production heron"),
            ({**other, "cards": said["cards"]}, 409, "Card A-01 is in this ledger already"),
            ({**other, "cameras": []}, 409, "a camera that is not in it"),
            ({**other, "version": 2}, 409, "newer version"),
            ({**other, "time_zone": "Nowhere/None"}, 409, "Nowhere/None"),
            ({**other, "secret": "ab"}, 422, "secret"),
            ({**other, "day_starts_at": 99}, 422, "day starts at"), ({"hello": 1}, 422, "is missing"),
        ):  # fmt: skip
            answer = self.post("units/begin", change, self.sol)
            self.assertEqual(answer.status_code, status, answer.content)
            self.assertIn(words, answer.json()["title"])
        self.assertEqual(Production.objects.count(), 1)
        self.assertEqual(self.post("units/begin", other, self.sol).status_code, 200)

    def test_through_the_api(self):
        (data,) = self.away(self.offload)
        client = self._same_client(self.sol)
        path = "/api/productions/heron/units/joins"
        answer = client.post(path, {"file": SimpleUploadedFile("n.jsonl", data)}, headers={"host": "localhost"})
        self.assertEqual(answer.status_code, 200, answer.content)
        told = self.get("units", self.sol)
        self.assertEqual([(one["name"], one["numbers"]) for one in told["units"]], [("North", {"A": [501, 510]})])
        self.assertEqual([(one["rolls"], one["copies"]) for one in told["joins"]], [(1, 2)])
        self.assertEqual(self.post("units/hand-in", person=self.sol).status_code, 409, "this ledger is no unit's")
        self.assertNotIn(self.secret, json.dumps(told))

    def test_the_schemas_in_the_docs_are_those_of_the_lines(self):
        for name, schema in (
            ("unit.schema.json", LINE.json_schema()), ("unit-set-up.schema.json", UnitSetUp.model_json_schema()),
        ):  # fmt: skip
            self.assertEqual(json.loads((settings.ROOT / "docs" / name).read_text()), schema, name)
