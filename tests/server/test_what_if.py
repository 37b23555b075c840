"""What a loss would do is what it does when it happens; and what is offered against it helps."""

from django.test import TestCase

from ruggedraft.kit.models import Location
from ruggedraft.offloads.feeding import carry_out as carry_out_feed
from ruggedraft.offloads.models import Feed

from .deciding import Deciding


class WhatIf(Deciding, TestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        card, _ = self.new_card("A-02", {"DCIM/100AAAAA/AAAA0009.JPG": b"only on one"})
        self.put_in("A-02", "slot-2")
        self.plan.stores.set([self.drives["one"]])
        self.offload(card)

    def what_if(self, of: str, name: str) -> dict:
        return self.get(f"stores/what-if?of={of}&name={name}")

    def test_a_drive_that_dies_takes_with_it_what_is_nowhere_else(self):
        told = self.what_if("device", "one")
        self.assertEqual((told["gone"], told["below"], told["stores"]), (1, 1, ["one"]))
        self.assertEqual([(roll["tag"], roll["gone"]) for roll in told["rolls"]], [("A002", True), ("A001", False)])
        self.assertEqual(told["bytes_to_copy"], self.get("tally/rolls/A001")["roll"]["bytes"])
        self.assertEqual(set(told["room"]), {"two", "three"})
        self.post("stores/one/lost", {"reason": "overboard"})
        states = {roll["tag"]: roll["blocks"][0]["have"] for roll in self.get("tally")["rolls"]}
        self.assertEqual(states, {"A001": 1, "A002": 0}, "what it said is what happened")

    def test_what_is_offered_now_makes_the_loss_harmless(self):
        told = self.what_if("device", "one")
        for roll in told["rolls"]:
            for step in roll["remedy"]:
                self.assertNotEqual(step["store"], "one")
                answer = self.post(f"bench/rolls/{step['roll_id']}/bring", {"store": step["store"]})
                self.assertEqual(answer.status_code, 200, answer.content)
                carry_out_feed(Feed.objects.latest("pk").pk)
        after = self.what_if("device", "one")
        self.assertEqual((after["gone"], after["below"]), (0, 0))

    def test_two_names_on_one_disk_die_at_once(self):
        """As the judge counts them: an array that turns out to stand on the disk beneath another store."""
        array, disk = self.drives["two"], self.drives["one"]
        array.identities = [*array.identities, *disk.identities]
        array.save(update_fields=["identities"])
        self.assertEqual(self.get("tally/rolls/A001")["roll"]["state"], "short", "one device in all")
        told = self.what_if("device", "two")
        self.assertEqual((told["stores"], told["gone"]), (["one", "two"], 2))

    def test_a_place_that_burns_takes_every_device_there(self):
        told = self.what_if("place", "cart")
        self.assertEqual((told["gone"], told["below"], told["room"]), (2, 0, {}))
        self.assertEqual([roll["remedy"] for roll in told["rolls"]], [[], []], "nothing elsewhere is connected")
        self.post("stores/two/place", {"place": "office", "offsite": True}, self.sol, method="put")
        self.assertEqual(self.what_if("place", "cart")["gone"], 1)
        self.assertTrue(Location.objects.get(name="office").offsite)

    def test_a_person_takes_what_is_in_the_bag(self):
        self.assertEqual(self.what_if("person", "pip")["status"], 404)
        self.assertEqual(self.post("stores/one/carrier", {"username": "pip"}, method="put").status_code, 200)
        self.assertEqual(self.what_if("person", "pip")["stores"], ["one"])
        one = next(store for store in self.get("stores") if store["name"] == "one")
        self.assertEqual((one["carried_by"], one["carrier"]), ("pip", "Pip"))
        self.assertEqual(self.post("stores/one/carrier", {"username": ""}, self.pip, "put").status_code, 200)
        self.assertEqual(self.what_if("person", "pip")["status"], 404)

    def test_the_production_s_figure_is_that_of_its_weakest_roll(self):
        tally = self.get("tally")
        self.assertEqual((tally["survives_devices"], tally["survives_locations"]), (0, 0))
        self.post("stores/one/lost", {"reason": "overboard"})
        self.assertEqual(self.get("tally")["survives_devices"], -1, "no copy of A002 counts")

    def test_a_name_that_nothing_has_is_told_so(self):
        self.assertEqual(self.what_if("device", "nothing")["status"], 404)
