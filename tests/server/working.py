"""A folder that somebody works in, with a roll's files in it: looked into, and brought back to."""

import shutil
import subprocess
from pathlib import Path

from ruggedraft.core.sources import from_ledger
from ruggedraft.returning.looking import carry_out_look
from ruggedraft.returning.models import FolderLook, Return
from ruggedraft.returning.running import carry_out
from ruggedraft.rolls.models import RollFile
from ruggedraft.standins.drives import make_drive

from .world import World

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Working(World):
    def setUp(self):
        super().setUp()
        self.roll = self.offload()
        self.drive_folder = make_drive(self.base / "edit drive", identity="edit", capacity=10**9)
        self.edit = self.drive_folder / "barge"
        shutil.copytree(self.on_drive("one"), self.edit / "A001", ignore=shutil.ignore_patterns("*.xxh128", "*.json"))
        for path in list((self.edit / "A001").rglob("*")):
            if path.is_file() and not self._is_of_roll(path):
                path.unlink()

    def _is_of_roll(self, path: Path) -> bool:
        kept = {from_ledger(one) for one in RollFile.objects.values_list("path", flat=True)}
        return str(path.relative_to(self.edit / "A001")) in kept

    def at(self, path: str) -> Path:
        return self.edit / "A001" / path

    def look_into(self, folder: Path | None = None, *, by_content: bool = True, **words) -> dict:
        said = {"station": "cart", "folder": str(folder or self.edit), "by_content": by_content, **words}
        answer = self.post("returns/looks", said)
        self.assertEqual(answer.status_code, 200, answer.content)
        carry_out_look(FolderLook.objects.get(pk=answer.json()["id"]))
        return self.get(f"returns/looks/{answer.json()['id']}")

    @staticmethod
    def told(found: dict) -> list[tuple[str, str, str]]:
        return [(row["kind"], row["path"], row["elsewhere"]) for row in found["rows"]]

    def bring(self, found: dict, rows: list[int] | None = None, **words) -> Return:
        answer = self.post(f"returns/looks/{found['look']['id']}/returns", {"rows": rows or [], **words})
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.carried_out()

    def carried_out(self) -> Return:
        run = Return.objects.latest("pk")
        carry_out(run.pk)
        run.refresh_from_db()
        return run

    def is_as_on_card(self, path: str, at: Path) -> bool:
        return subprocess.run(["cmp", "-s", str(self.card_folder / path), str(at)], check=False).returncode == 0
