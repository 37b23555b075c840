"""Two machines on a network: `./raft start` on one, on the other a station that joins it; and cables that are cut."""

import time
from unittest import skipUnless

from .machine import can_pretend
from .raft_case import RaftCase

AS_PROVEN = {"Brick": "verified", "Shuttle": "verified", "Tin": "weak"}
"""exFAT by FUSE keeps what it was given in memory: it cannot be read back past that, and is not said to have been."""


@skipUnless(can_pretend(), "needs root, loop devices and namespaces")
class TwoMachines(RaftCase):
    def test_a_second_station_joins_works_is_cut_off_comes_back_and_is_turned_away(self):
        self.second = self.machine("second")
        hull = self.cart.disk("Hull", "ext4", 64, serial="HULL-1")
        hull.mount()
        kinds = {"Brick": ("btrfs", 128), "Shuttle": ("xfs", 320), "Tin": ("exfat", 64)}
        self.drives = [self.second.disk(name, kind, size, serial=f"{name}-1") for name, (kind, size) in kinds.items()]
        for drive in self.drives:
            drive.mount()
        started = self.raft("start", self.cart, "start", "--own", "--listen", self.cart.address, "--stations")
        self.begin(started, [hull])
        self.a_ticket_for_another_server_tells_it_nothing()
        self.it_joins()
        self.its_drives_become_stores()
        self.it_offloads_what_is_in_its_reader()
        self.cut_off_its_slot_says_so_and_what_it_was_doing_goes_on_when_it_is_back()
        self.turned_away_it_does_nothing_more()

    def ticket(self) -> str:
        return str(self.client.ask("POST", "/api/stations/tickets")["ticket"])

    def a_ticket_for_another_server_tells_it_nothing(self) -> None:
        secret, _, _ = self.ticket().partition(".")
        forged = f"{secret}.{'0' * 64}"
        said = self.raft("forged", self.second, "station", "second", "--join", self.cart.address, forged)
        self.said(said, r"(is not the server that made this ticket)")
        self.assertEqual(self.running.pop("forged").wait(30), 2)

    def it_joins(self) -> None:
        ticket = self.ticket()
        said = self.raft("second", self.second, "station", "second", "--join", f"{self.cart.address}:8640", ticket)
        self.said(said, r"(joined \S+)")
        self.until(lambda: self.stations().get("second", {}).get("running"), "the station is there")
        again = self.raft("again", self.second, "station", "third", "--join", self.cart.address, ticket)
        self.said(again, r"(was used or has expired)")
        self.assertEqual(self.running.pop("again").wait(30), 2)
        self.assertEqual(set(self.stations()), {"cart", "second"})

    def its_drives_become_stores(self) -> None:
        for name in ("Brick", "Shuttle", "Tin"):
            seen = self.until(lambda name=name: self.volume("second", name), f"{name} is told of")
            self.assertTrue(seen["usable"], seen)
            said = {"station": "second", "path": seen["path"], "name": name, "medium": "ssd", "place": "second cart"}
            self.client.ask("POST", f"{self.here}/stores", said)
        with self.assertRaisesRegex(AssertionError, "already"):
            self.client.ask("POST", f"{self.here}/stores", said | {"name": "Twice"})
        stores = {one["name"]: one for one in self.client.ask("GET", f"{self.here}/stores")}
        self.assertEqual(set(stores), {"Hull", "Brick", "Shuttle", "Tin"})
        self.until(lambda: all(one["online"] for one in self.client.ask("GET", f"{self.here}/stores")), "all are there")
        plan = self.client.ask("GET", f"{self.here}/setup")["plans"][0]
        number = plan.pop("id")
        self.client.ask("PUT", f"{self.here}/setup/plans/{number}", plan | {"stores": ["Brick", "Shuttle", "Tin"]})

    def it_offloads_what_is_in_its_reader(self) -> None:
        card = self.second.disk("Card", "exfat", 64, serial="READER-1")
        self.fill(self.second, card, "HERN", 3)
        card.put_into_reader()
        card.mount()
        slot = self.introduce("A-01", "second")
        self.offload(slot)
        run = self.until(lambda: self.finished("A-01"), "it is offloaded")
        self.assertEqual({one["store"]: one["state"] for one in run["stores"]}, AS_PROVEN, run)
        for drive in self.drives:
            self.outside_check(self.second, drive)
        card.unmount()

    def cut_off_its_slot_says_so_and_what_it_was_doing_goes_on_when_it_is_back(self) -> None:
        card = self.second.disk("Next", "exfat", 64, serial="READER-2")
        self.fill(self.second, card, "GULL", 4)
        card.put_into_reader()
        card.mount()
        slot = self.introduce("A-02", "second")
        self.wire.cut(self.second.address)
        self.offload(slot)
        self.until(lambda: not self.stations()["second"]["running"], "its being away is noticed")
        away = self.stations()["second"]
        self.assertIsNotNone(away["seen_at"], "since when is known")
        run = self.slot("A-02")["offload"]
        self.assertIsNone(run["finished_at"], "nothing is claimed of a station that nobody hears of")
        self.assertNotIn("verified", {one["state"] for one in run["stores"]})
        self.wire.mend(self.second.address)
        self.until(lambda: self.stations()["second"]["running"], "it is back by itself")
        run = self.until(lambda: self.finished("A-02"), "and goes on")
        self.assertEqual({one["store"]: one["state"] for one in run["stores"]}, AS_PROVEN, run)

    def turned_away_it_does_nothing_more(self) -> None:
        self.client.ask("DELETE", "/api/stations/second")
        self.until(lambda: not self.stations()["second"]["running"], "it is gone")
        time.sleep(3)
        self.assertFalse(self.stations()["second"]["running"])
        self.assertTrue(self.stations()["second"]["turned_away"])
