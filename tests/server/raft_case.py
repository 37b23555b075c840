"""`./raft` as people run it, on machines of their own: `./raft start`, `./raft station`, and the API over the network.

Each machine is a mount and a network namespace with disks of its own. Everything else is what people run.
"""

import http.client
import json
import os
import re
import shutil
import ssl
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import TestCase

from django.conf import settings

from ruggedraft.bootstrap import python_env, web_build
from ruggedraft.standins import card_maker

from .machine import Disk, Machine, Wire
from .world import SHOT

PATIENCE = 90  # seconds; the machine may be busy
PASSWORD = "a raft of nine planks"


class Client:
    """A browser's part of talking to the API: cookies, and the page's token."""

    def __init__(self, host: str, port: int) -> None:
        self._where = host, port
        self._cookies: dict[str, str] = {}
        self.ask("GET", "/api/begin")

    def ask(self, method: str, path: str, body: object = None) -> Any:
        """Raises AssertionError with the answer where it is none of success."""
        context = ssl.create_default_context()
        context.check_hostname, context.verify_mode = False, ssl.CERT_NONE
        server = http.client.HTTPSConnection(*self._where, timeout=30, context=context)
        headers = {
            "Content-Type": "application/json", "X-CSRFToken": self._cookies.get("csrftoken", ""),
            "Referer": f"https://{self._where[0]}:{self._where[1]}/",
            "Cookie": "; ".join(f"{name}={value}" for name, value in self._cookies.items()),
        }  # fmt: skip
        server.request(method, path, json.dumps(body) if body is not None else None, headers)
        answer = server.getresponse()
        said = answer.read()
        for line in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = line.partition(";")[0].partition("=")
            self._cookies[name] = value
        server.close()
        if answer.status != 200:
            raise AssertionError(f"{method} {path}: {answer.status} {said[:300]!r}")
        return json.loads(said)


class RaftCase(TestCase):
    def setUp(self):
        self.base = Path(tempfile.mkdtemp(prefix="raft-two-"))
        self.base.chmod(0o755)
        self.addCleanup(shutil.rmtree, self.base, ignore_errors=True)
        self.wire = Wire()
        self.addCleanup(self.wire.end)
        self.cart = self.machine("cart")
        python_env.ensure(development=False)
        web_build.ensure()
        self.running: dict[str, subprocess.Popen[bytes]] = {}
        self.addCleanup(self.end_all)

    def machine(self, name: str) -> Machine:
        made = Machine(self.base, name, self.wire)
        self.addCleanup(made.end)
        return made

    def raft(self, name: str, machine: Machine, *words: str) -> Path:
        """Run a command on a machine, with a folder of its own for what it makes. Returns the file that it says to."""
        var, said = self.base / f"var-{machine.address}", self.base / f"{name}.said"
        if not var.exists():
            var.mkdir()
            for known in ("stamps", "tools", "node"):  # what is installed already: there is no way out of here
                if (Path(settings.VAR) / known).exists():
                    shutil.copytree(Path(settings.VAR) / known, var / known, symlinks=True)
        env = {key: value for key, value in os.environ.items() if not key.startswith(("RAFT_", "DJANGO"))}
        env |= {"RAFT_VAR": str(var), "PYTHONUNBUFFERED": "1"}
        if "RAFT_VENV" in os.environ:
            env["RAFT_VENV"] = os.environ["RAFT_VENV"]
        command = [*machine.inside(settings.ROOT), sys.executable, str(Path(settings.ROOT) / "raft"), *words]
        with said.open("wb") as out:
            self.running[name] = subprocess.Popen(command, env=env, stdout=out, stderr=out, stdin=subprocess.DEVNULL)
        return said

    def end(self, name: str) -> None:
        process = self.running.pop(name)
        process.terminate()
        try:
            process.wait(30)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()

    def end_all(self) -> None:
        for name in reversed(list(self.running)):
            self.end(name)

    def until(self, holds: Callable[[], Any], words: str, patience: float | None = None) -> Any:
        deadline = time.monotonic() + (patience or PATIENCE)
        while not (found := holds()):
            if time.monotonic() > deadline:
                said = {one.name: one.read_text(errors="replace")[-1500:] for one in self.base.glob("*.said")}
                raise AssertionError(f"{words}\n" + "\n".join(f"--- {name}\n{text}" for name, text in said.items()))
            time.sleep(0.2)
        return found

    def said(self, file: Path, pattern: str, patience: float | None = None) -> str:
        words = f"{file.name}: {pattern}"
        found = self.until(lambda: re.search(pattern, file.read_text(errors="replace")), words, patience)
        return str(found[1])

    def slot(self, label: str | None = None) -> dict[str, Any] | None:
        """The slot that holds a card, of this label if one is given."""
        slots = self.client.ask("GET", f"{self.here}/bench")["slots"]
        return next((one for one in slots if one["insertion_id"] and one["label"] == label), None)

    def stations(self) -> dict[str, dict[str, Any]]:
        return {one["name"]: one for one in self.client.ask("GET", "/api/stations")}

    def volume(self, station: str, name: str) -> dict[str, Any] | None:
        found = self.client.ask("GET", f"{self.here}/stores/volumes")
        return next((one for one in found if one["station"] == station and one["path"].endswith(f"/{name}")), None)

    def fill(self, machine: Machine, card: Disk, prefix: str, stills: int) -> None:
        made = self.base / f"made-{prefix}"
        made.mkdir()
        card_maker.add_stills(made, prefix=prefix, first=1, count=stills, start=SHOT)
        place = card.mount()
        machine.run("cp", "-r", "--preserve=timestamps", *map(str, made.iterdir()), str(place))
        card.unmount()

    def begin(self, started: Path, drives: list[Disk]) -> None:
        """Make the empty ledger one's own, with these drives."""
        token = self.said(started, r"begin#(\S+)\n", patience=4 * PATIENCE)  # a database is made first
        self.client = Client(self.cart.address, 8640)
        self.client.ask("POST", "/api/begin", {
            "token": token, "name": "Wren", "password": PASSWORD, "production": "Heron", "time_zone": "UTC",
            "first_day": "2026-05-14", "copies": 2, "devices": min(2, len(drives)), "offsite": 0,
            "drives": [
                {"path": str(one.place), "name": one.place.name, "medium": "ssd", "place": "here"} for one in drives
            ],
        })  # fmt: skip
        slug = self.client.ask("GET", "/api/session")["productions"][0]["slug"]
        self.here = f"/api/productions/{slug}"

    def introduce(self, label: str, station: str) -> dict[str, Any]:
        """The card that hangs unknown in a reader, and is listed. Returns its slot."""
        slot = self.until(lambda: (one := self.slot()) and one["listing"] and one, "a card hangs there")
        self.assertEqual(slot["station"], station)
        said = {"label": label, "camera": "A"}
        self.client.ask("POST", f"{self.here}/bench/insertions/{slot['insertion_id']}/introduce", said)
        return self.until(lambda: (one := self.slot(label)) and one["proposal"] and one, f"{label} can go")

    def offload(self, slot: dict[str, Any]) -> None:
        """As soon as the station has looked for the drives."""
        stores = f"{self.here}/stores"
        self.until(lambda: all(one["online"] for one in self.client.ask("GET", stores)), "drives are seen")
        self.client.ask("POST", f"{self.here}/bench/cards/{slot['card_id']}/offload", {"tag": slot["proposal"]["tag"]})

    def finished(self, label: str) -> dict[str, Any] | None:
        slot = self.slot(label)
        run = slot and slot["offload"]
        return run if run and run["finished_at"] else None

    def outside_check(self, machine: Machine, drive: Disk) -> None:
        """What lies on a drive is what its lists say, as another program finds."""
        check = "find . -ignore_readdir_race -name '*.xxh128' -execdir xxhsum -c --quiet {} +"
        self.assertEqual(machine.run("sh", "-c", f"cd {drive.place} && {check}"), "")
