"""The station's worker and others as processes of their own, on the test's database and folders."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from django.conf import settings
from django.db import connection

from ruggedraft.core.errors import ActRefused
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.project.roles import ensure_role, grant_to, let_stations_in
from ruggedraft.rolls.models import Roll

from . import warm
from .world import World

PATIENCE = 40  # seconds; the machine may be busy
PASSWORD = "only-for-tests"


def app_role() -> str:
    """As in real use, web server and station connect as a role that owns nothing; each test database has its own."""
    name = f"{connection.settings_dict['NAME']}_app"
    ensure_role(name, PASSWORD)
    grant_to(name)
    let_stations_in(name)
    return name


class Processes(World):
    """Mixed into a Django TransactionTestCase; everything started ends with the test."""

    reader_rate = 10**9
    apart: list[str] = []
    """What the commands begin with, where the processes see another machine than the test does."""
    more_env: dict[str, str] = {}

    def setUp(self):
        super().setUp()
        self.app_role = app_role()
        with (
            connection.cursor() as cursor
        ):  # no flush empties it, and jobs of earlier tests are for runs of these numbers
            cursor.execute("TRUNCATE procrastinate_jobs CASCADE")
        self.role_of_stations = f"{self.app_role}:{PASSWORD}"
        self.processes: dict[str, subprocess.Popen[bytes] | warm.WarmProcess] = {}
        self.before_the_station: list[int] = []
        self.addCleanup(self._end_all)

    def launch(self, name: str, words: list[str], base: Path | None = None, out_of_sight: Path | None = None) -> None:
        """base: the process's own folder of readers and drives, if not this test's

        out_of_sight: a folder that this process finds empty, as if it were on another machine; needs root
        """
        database = connection.settings_dict
        role = self.role_of_stations if "station" in words else f"{self.app_role}:{PASSWORD}"
        address = f"{role}@{database['HOST']}:{database['PORT']}/{database['NAME']}"
        env = {
            **os.environ,
            "RAFT_DATABASE_URL": f"postgresql://{address}",
            "RAFT_VAR": str(base or self.base),
            "RAFT_STANDINS": "1",
            "RAFT_STANDIN_READER_RATE": str(self.reader_rate),
            **self.more_env,
        }
        apart = self.apart
        if out_of_sight:
            hide = 'mount -t tmpfs none "$0" && exec "$@"'
            apart = ["unshare", "--mount", "sh", "-c", hide, str(out_of_sight)]
        if apart:
            self.processes[name] = subprocess.Popen([*apart, sys.executable, *words], env=env, cwd=settings.ROOT)
        else:
            self.processes[name] = warm.begin(words, env, Path(settings.ROOT))

    def start_station(self, name: str = "cart", base: Path | None = None, out_of_sight: Path | None = None) -> None:
        stays = Insertion.objects.filter(removed_at=None, reader__station__name=name)
        self.before_the_station += stays.values_list("pk", flat=True)
        key = "station" if name == "cart" else name
        self.launch(key, [str(Path(settings.ROOT) / "manage.py"), "station", name], base, out_of_sight)

    def kill_station(self) -> None:
        self.processes["station"].send_signal(signal.SIGKILL)
        self.processes["station"].wait()

    def begin(self, card: Card | None = None) -> Offload:
        """Start an offload as Wren; the worker runs it. A station forgets the stays it did not see."""
        deadline = time.monotonic() + PATIENCE
        stays = Insertion.objects.filter(card=card or self.card, removed_at=None).exclude(listings=None)
        here = stays.exclude(pk__in=self.before_the_station)
        while "station" in self.processes and not here.exists() and time.monotonic() < deadline:
            time.sleep(0.1)
        while True:
            fresh = Card.objects.select_related("camera__production__rule", "camera__plan").get(
                pk=(card or self.card).pk
            )
            try:
                return start_offload(self.wren, fresh, propose(fresh).tag)
            except ActRefused as refused:  # it was just put in again
                if "has not been read there yet" not in refused.sentence or time.monotonic() > deadline:
                    raise
                time.sleep(0.1)

    def offload(self, card: Card | None = None) -> Roll:
        """Start an offload as Wren and wait until the station's own worker has run it."""
        offload = self.begin(card)
        self.wait_for(offload)
        return offload.roll

    def wait_for(self, offload: Offload) -> None:
        deadline = time.monotonic() + PATIENCE
        while not Offload.objects.exclude(finished_at=None).filter(pk=offload.pk).exists():
            if time.monotonic() > deadline:
                raise AssertionError("the station did not run the offload")
            time.sleep(0.05)

    def _end_all(self) -> None:
        for process in self.processes.values():
            process.kill()
            process.wait()
