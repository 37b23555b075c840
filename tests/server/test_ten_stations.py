"""Ten stations on one ledger, a hundred runs at once; one is killed, one is cut off from the database for a minute.

Part of the long form alone: it takes a quarter of an hour, and eighty disks. What it measured goes to docs/deploy.md.
"""

import contextlib
import json
import os
import shutil
import signal
import subprocess
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from unittest import skipUnless

from ruggedraft.standins import card_maker

from . import raft_case
from .machine import Disk, Machine, can_pretend
from .raft_case import RaftCase
from .world import SHOT

STATIONS = int(os.environ.get("RAFT_STATIONS", "10"))
FIRST, LATER = 3, 2
"""Cards of each station: those that are offloaded before, and those that come while everything else is going on."""
STILLS, CLIP = 6, 8 << 20  # files; bytes

_WATCH = """
import json, sys, time
from pathlib import Path
from django.db import connection
from ruggedraft.live.notify import CHANNEL, connection_words
import psycopg
mark, listens = Path({mark!r}), psycopg.connect(**connection_words())
listens.execute(f"LISTEN {{CHANNEL}}")
counted = "SELECT xact_commit + xact_rollback, tup_returned + tup_fetched, tup_inserted + tup_updated FROM"
counted += " pg_stat_database WHERE datname = current_database()"
active = "SELECT count(*) FILTER (WHERE state = 'active'), count(*) FROM pg_stat_activity"
active += " WHERE datname = current_database()"
ask = connection.cursor()
def now():
    ask.execute("SELECT pg_stat_clear_snapshot()")
    ask.execute(counted)
    return ask.fetchone()
began, before, messages, busy, most = time.monotonic(), now(), 0, [], 0
print("watching", flush=True)
while mark.exists():
    messages += sum(1 for _ in listens.notifies(timeout=1.0))
    ask.execute(active)
    at_work, there = ask.fetchone()
    busy.append(at_work - 1)
    most = max(most, there)
took = time.monotonic() - began
each = [round((after - start) / took) for after, start in zip(now(), before)]
print("watched " + json.dumps({{"s": round(took), "messages_per_s": round(messages / took, 1),
    "transactions_per_s": each[0], "rows_read_per_s": each[1], "rows_written_per_s": each[2],
    "backends_at_work": round(sum(busy) / len(busy), 2), "connections": most}}), flush=True)
"""


@dataclass
class Unit:
    """A station: its machine, its drives (the third is fed), and its cards with what is on them."""

    name: str
    machine: Machine
    drives: list[Disk] = field(default_factory=list)
    cards: dict[str, tuple[Disk, Path]] = field(default_factory=dict)


@skipUnless(
    os.environ.get("RAFT_LONG") and can_pretend(), "only in the long form; needs root, loop devices, namespaces"
)
class TenStations(RaftCase):
    def test_a_hundred_runs_while_one_is_killed_and_one_is_cut_off(self):
        self.patient(600)
        hull = self.cart.disk("Hull", "ext4", 64, serial="HULL-1")
        hull.mount()
        started = self.raft("start", self.cart, "start", "--own", "--listen", self.cart.address, "--stations")
        self.begin(started, [hull])
        self.units = [self.unit(n) for n in range(STATIONS)]
        for unit in self.units:
            self.joins(unit)
        for unit in self.units:
            self.its_drives_become_stores(unit)
        for unit in self.units:
            self.cards_come(unit, list(unit.cards)[:FIRST])
        self.until(self.nothing_is_open, "the first are offloaded")
        self.assertEqual(self.ended(), {"offload well": FIRST * STATIONS})
        self.a_hundred_at_once()
        self.what_is_claimed_is_there()

    def patient(self, seconds: float) -> None:
        usual = raft_case.PATIENCE
        raft_case.PATIENCE = seconds
        self.addCleanup(setattr, raft_case, "PATIENCE", usual)

    def unit(self, n: int) -> Unit:
        unit = Unit(f"unit {n + 1}", self.machine(f"unit{n + 1}"))
        for letter in "abc":
            drive = unit.machine.disk(f"U{n + 1}{letter}", "ext4", 256, serial=f"DRIVE-{n + 1}{letter}")
            drive.mount()
            unit.drives.append(drive)
        for one in range(FIRST + LATER):
            label = f"U{n + 1}-{one + 1}"
            card = unit.machine.disk(f"card{one + 1}", "ext4", 32, serial=f"READER-{n + 1}-{one + 1}")
            made = self.base / f"made-{label}"
            prefix = f"U{chr(65 + n)}C{chr(65 + one)}"
            card_maker.add_stills(made, prefix=prefix, first=1, count=STILLS, start=SHOT, kinds=["JPG"])
            (made / "DCIM/100SKERR" / f"{prefix}0999.MOV").write_bytes(os.urandom(CLIP))
            place = card.mount()
            unit.machine.run("cp", "-r", "--preserve=timestamps", str(made / "DCIM"), str(place))
            shutil.rmtree(place / "lost+found", ignore_errors=True)
            card.unmount()
            unit.cards[label] = card, made
        return unit

    def joins(self, unit: Unit) -> None:
        ticket = self.client.ask("POST", "/api/stations/tickets")["ticket"]
        self.raft(unit.name, unit.machine, "station", unit.name, "--join", f"{self.cart.address}:8640", ticket)
        self.until(lambda: self.stations().get(unit.name, {}).get("running"), f"{unit.name} is there")

    def its_drives_become_stores(self, unit: Unit) -> None:
        for drive in unit.drives:
            name = drive.place.name
            seen = self.until(lambda name=name: self.volume(unit.name, name), f"{name} is told of")
            said = {"station": unit.name, "path": seen["path"], "name": name, "medium": "ssd", "place": unit.name}
            self.client.ask("POST", f"{self.here}/stores", said)

    def slots_of(self, unit: Unit) -> list[dict[str, Any]]:
        slots = self.client.ask("GET", f"{self.here}/bench")["slots"]
        return [one for one in slots if one["station"] == unit.name and one["insertion_id"]]

    def cards_come(self, unit: Unit, labels: list[str]) -> None:
        """One after the other, as hands put them in; each is offloaded to the first two drives of its station."""
        for label in labels:
            card, _ = unit.cards[label]
            card.put_into_reader()
            card.mount()

            def unknown() -> dict[str, Any] | None:
                found = (one for one in self.slots_of(unit) if not one["label"] and one["listing"])
                return next(found, None)

            stay = self.until(unknown, f"{label} hangs in {unit.name}")["insertion_id"]
            self.client.ask("POST", f"{self.here}/bench/insertions/{stay}/introduce", {"label": label, "camera": "A"})
            self.offload_to(unit, label)

    def offload_to(self, unit: Unit, label: str) -> None:
        to = [drive.place.name for drive in unit.drives[:2]]

        def started() -> bool:
            """Others may have begun a roll meanwhile: then it has the next number."""
            slot = next((one for one in self.slots_of(unit) if one["label"] == label and one["proposal"]), None)
            if slot is None:
                return False
            words = {"tag": slot["proposal"]["tag"], "take": {"to": to}}
            try:
                self.client.ask("POST", f"{self.here}/bench/cards/{slot['card_id']}/offload", words)
            except AssertionError as refused:
                self.refused.append(str(refused))
                return False
            return True

        self.refused: list[str] = []
        self.until(started, f"{label} is being offloaded")

    def ledger(self, query: str) -> list[list[Any]]:
        """What the cart's own database says."""
        code = f"import json; from django.db import connection as c; k = c.cursor(); k.execute({query!r});"
        said = self.raft(
            "asked", self.cart, "manage", "shell", "-c", code + "print('told ' + json.dumps(k.fetchall()))"
        )
        self.running.pop("asked").wait(60)
        found: list[list[Any]] = json.loads(self.said(said, r"told (.*)\n"))
        return found

    def nothing_is_open(self) -> bool:
        return self.ledger("SELECT count(*) FROM runs_run WHERE finished_at IS NULL") == [[0]]

    def rolls(self) -> list[dict[str, Any]]:
        """Every page of them."""
        found, after = [], ""
        while after is not None:
            page = self.client.ask("GET", f"{self.here}/tally?after={after}")
            found += page["rolls"]
            after = page["after"]
        return found

    def ended(self) -> dict[str, int]:
        rows = self.ledger('SELECT kind, "end", count(*) FROM runs_run GROUP BY 1, 2')
        return {f"{kind} {end}": count for kind, end, count in rows}

    def a_hundred_at_once(self) -> None:
        mark = self.base / "watch"
        mark.touch()
        code = f"exec({_WATCH.format(mark=str(mark))!r})"
        watching = self.raft("watch", self.cart, "manage", "shell", "-c", code)
        self.said(watching, r"(watching)")
        rolls = self.rolls()
        began, asked = time.monotonic(), 0
        for unit in self.units:
            first, _, third = (drive.place.name for drive in unit.drives)
            onward = {"of": "a store", "which": first, "store": third}
            asked += len(self.client.ask("POST", f"{self.here}/bench/onward", onward)["going"])
        for plank in (plank for roll in rolls for plank in roll["planks"]):
            self.client.ask("POST", f"{self.here}/copies/{plank['copy_id']}/check")
            asked += 1
        killed, cut, *others = reversed(self.units)
        self.kill(killed.name)
        self.wire.cut(cut.machine.address)
        cut_at = time.monotonic()
        for unit in others:
            self.cards_come(unit, list(unit.cards)[FIRST:])
        self.raft(killed.name, killed.machine, "station", killed.name)
        time.sleep(max(0.0, cut_at + 60 - time.monotonic()))
        self.wire.mend(cut.machine.address)
        for unit in (killed, cut):
            self.until(lambda unit=unit: self.stations()[unit.name]["running"], f"{unit.name} is back")
            self.cards_come(unit, list(unit.cards)[FIRST:])
        self.until(self.nothing_is_open, "all of it came to an end")
        took = time.monotonic() - began
        asked += LATER * STATIONS
        mark.unlink()
        found = json.loads(self.said(watching, r"watched (.*)\n"))
        found |= {"stations": STATIONS, "runs": asked, "runs_per_min": round(asked / took * 60, 1)}
        print(f"\nten stations: {json.dumps(found)}")
        ended = self.ended()
        self.assertEqual(sum(ended.values()), asked + FIRST * STATIONS, "no run was lost")
        self.assertEqual({words for words in ended if not words.endswith(" well")}, set(), ended)

    def kill(self, name: str) -> None:
        """As if its power had gone: the command and all that it started."""
        process = self.running.pop(name)
        mine = [process.pid]
        for parent in mine:
            children = Path(f"/proc/{parent}/task/{parent}/children")
            mine += map(int, children.read_text().split() if children.exists() else [])
        for pid in mine:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
        process.wait(30)

    def what_is_claimed_is_there(self) -> None:
        rolls = {one["card"]: one for one in self.rolls()}
        self.assertEqual(set(rolls), {label for unit in self.units for label in unit.cards})
        for unit in self.units:
            names = [drive.place.name for drive in unit.drives]
            for n, (label, (_, made)) in enumerate(unit.cards.items()):
                wanted = names if n < FIRST else names[:2]
                planks = {one["store"]: one for one in rolls[label]["planks"]}
                self.assertEqual(
                    {store: (one["state"], one["level"]) for store, one in planks.items()},
                    dict.fromkeys(wanted, ("verified", "read back")),
                )
                for drive in unit.drives:
                    self.holds(unit, drive, made) if drive.place.name in wanted else None
            for drive in unit.drives:
                self.outside_check(unit.machine, drive)

    def holds(self, unit: Unit, drive: Disk, made: Path) -> None:
        """Each file, byte for byte, as another program finds."""
        for file in (one for one in made.rglob("*") if one.is_file()):
            (found,) = unit.machine.run("find", str(drive.place), "-name", file.name).splitlines()
            subprocess.run([*unit.machine.inside(), "cmp", found, str(file)], check=True)
