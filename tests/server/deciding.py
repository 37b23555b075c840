"""Deciding about the card in slot 1: put in, chosen from, offloaded, as the Bench does it."""

from ruggedraft.intake.models import Card
from ruggedraft.intake.watching import look
from ruggedraft.runs.queue import open_runs
from ruggedraft.runs.tasks import carry_out_first
from ruggedraft.standins import card_maker as make
from ruggedraft.standins import hub

from .world import SHOT, World

ONE, TWO = "DCIM/100AAAAA/AAAA0001.JPG", "DCIM/100AAAAA/AAAA0002.JPG"


class Deciding(World):
    def put_in(self, label: str, slot: str = "slot-1") -> None:
        hub.remove(slot)
        look(self.station)
        hub.insert(label, slot)
        look(self.station)

    def stills(self, count: int = 4) -> None:
        self.blank_card()
        make.add_stills(self.card_folder, prefix="SKR_", first=1, count=count, start=SHOT, kinds=["JPG"])
        self.put_in("A-01")

    def start(self, card: Card | None = None, **wanted):
        card = card or self.card
        take = {name: value for name, value in wanted.items() if name != "uneven"} or None
        proposal = self.post(f"bench/cards/{card.pk}/choice", take or {}).json()["proposal"]
        body = {"tag": proposal["tag"], "take": take, "uneven": wanted.get("uneven", False)}
        return self.post(f"bench/cards/{card.pk}/offload", body)

    def run_all(self) -> None:
        while run := open_runs(self.station).first():
            carry_out_first(run_id=run.pk)

    def change_plan(self, **words) -> int:
        plan = next(one for one in self.get("setup")["plans"] if one["name"] == "all")
        return self.post(f"setup/plans/{plan['id']}", {**plan, **words}, method="put").status_code

    def planks(self, tag: str = "A001") -> dict[str, tuple[str, int]]:
        """By store: the copy's state, and how many files it is known to hold."""
        roll = self.get(f"tally/rolls/{tag}")["roll"]
        return {plank["store"]: (plank["state"], plank["files"]) for plank in roll["planks"]}

    def slot(self) -> dict:
        return self.get("bench")["slots"][0]

    def refused(self, answer, words: str) -> None:
        self.assertEqual(answer.status_code, 409, answer.content)
        self.assertIn(words, answer.json()["title"])

    def on_store(self, store: str = "one") -> list[str]:
        """What lies on a store, but for records and what begins with a dot."""
        root = hub.home() / "drives" / store
        files = (f for f in root.rglob("*") if f.is_file() and not f.name.endswith(".record.json"))
        return sorted(str(f.relative_to(root)) for f in files if not str(f.relative_to(root)).startswith("."))
