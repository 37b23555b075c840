"""What every screen is asked after each act of the random walk, compared with what the oracle knows."""

from dataclasses import replace

from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.cases import case as case_in_full
from ruggedraft.clearing.roll_cases import overview
from ruggedraft.intake.models import Card
from ruggedraft.journal import clock
from ruggedraft.productions.models import Production
from ruggedraft.rolls.acts.look_at_copy import look_at_copy
from ruggedraft.rolls.models import Copy, Roll
from ruggedraft.rolls.summaries import places_of_all, roll_standings
from ruggedraft.stores.models import Store

from .acts_on_copies import ActsOnCopies

SAFE = ("ready to sign", "waiting for a signature", "cleared", "empty")


class Judging(ActsOnCopies):
    """Every screen, and what is remembered, against the oracle."""

    def end_of_a_walk(self) -> None:
        """What has to be undone before the next begins."""

    def judge(self) -> str:
        """Ask every screen, and return where the card stands.

        First the station looks at the copies, as it does by itself now and then.
        """
        for copy in Copy.objects.filter(store__sightings__online=True).select_related("roll", "store__device"):
            look_at_copy(copy)
        return self.compare()

    def compare(self) -> str:
        with self.oracle.still():
            return self.ask_every_screen()

    def ask_every_screen(self) -> str:
        case = self.standing()
        self.judge_card(case)
        rolls = self.get("tally")["rolls"]
        self.judge_rolls(rolls)
        self.judge_bench(case)
        self.judge_line(case, rolls)
        self.judge_what_is_remembered(rolls)
        return case["standing"]

    def judge_what_is_remembered(self, rolls: list[dict]) -> None:
        """Lists are answered from summaries: they say what follows from every reading and every file."""
        known, places = list(Roll.objects.values_list("pk", flat=True)), places_of_all()
        self.assertEqual(roll_standings(known, places), roll_standings(known, places, in_full=True))
        (of_list,) = [one for one in cases(active_cards()) if one.card.pk == self.card.pk]
        in_full = case_in_full(self.card_row())
        self.assertEqual((of_list.digest, of_list.gone, of_list.signatures, of_list.rolls),
                         (in_full.digest, in_full.gone, in_full.signatures, in_full.rolls))  # fmt: skip
        self.assertEqual(replace(of_list.verdict, blocks=()), replace(in_full.verdict, blocks=()))
        timeless = [[block for block in one.verdict.blocks if block.kind != "listing"] for one in (of_list, in_full)]
        self.assertEqual(*timeless)
        states = overview(Production.objects.get(pk=self.production.pk), places, clock.now()).states
        self.assertEqual({Roll.objects.get(pk=pk).tag: str(state) for pk, state in states.items()},
                         {roll["tag"]: roll["state"] for roll in rolls})  # fmt: skip

    def card_row(self) -> Card:
        return active_cards().get(pk=self.card.pk)

    def wrong_if(self, wrong: object, said: str) -> None:
        self.assertFalse(wrong, f"'{said}' is not so: {wrong}; after {', '.join(self.done[-8:])}")

    done: list[str] = []

    def judge_card(self, case: dict) -> None:
        standing, known = case["standing"], self.as_listed()
        if standing in SAFE and known:
            self.wrong_if(self.oracle.in_danger(self.here), standing)
            self.wrong_if(self.oracle.owed(self.here), standing)
        if case["lashed"] and known:
            self.wrong_if(self.oracle.in_danger(self.here), "lashed")
        self.wrong_if(case["may_go_back"] and not (self.in_reader() or standing == "cleared"), "may go back")
        self.wrong_if(case["may_go_back"] and standing not in ("cleared", "empty"), "may go back")
        if standing == "empty":
            self.wrong_if(self.oracle.files(self.here) if known else [], "empty")
        if "Every file on it is in enough copies" in case["sentence"] and known:
            self.wrong_if(self.oracle.in_danger(self.here), case["sentence"])
        self.judge_planks(case["planks"], case["tag"])

    def as_listed(self) -> bool:
        """Whether the card is as the station last saw it: what came since nobody can know before it looks."""
        return self.oracle.files(self.here) <= self.oracle.seen and self.in_reader()

    def judge_planks(self, planks: list[dict], tag: str | None) -> None:
        for plank in planks:
            copy = Copy.objects.select_related("store", "roll").get(pk=plank["copy_id"])
            really, files = self.oracle.held(copy.roll, copy), copy.roll.files.count()
            self.wrong_if(plank["files"] > really and plank["state"] != "lost", f"{tag} on {plank['store']}: {plank}")
            if plank["state"] in ("verified", "stale", "weak"):
                self.wrong_if(really + copy.roll.waivers.count() < files, f"{tag} whole on {plank['store']}")
            lost = copy.store.device.losses.filter(found_at=None).exists()
            self.wrong_if(lost != (plank["state"] == "lost"), f"{plank['store']} is {plank['state']}")

    def judge_rolls(self, rolls: list[dict]) -> None:
        for roll in rolls:
            row = Roll.objects.get(tag=roll["tag"])
            self.judge_planks(roll["planks"], roll["tag"])
            self.assertEqual(roll["files"] + roll["waived"], row.files.count())
            unsafe = self.unsafe_files(row)
            self.wrong_if(roll["state"] == "safe" and unsafe, f"{roll['tag']} is safe")
        for roll in self.some(rolls):
            detail = self.get(f"tally/rolls/{roll['tag']}")
            self.assertEqual(detail["roll"], roll)
            unsafe = self.unsafe_files(Roll.objects.get(tag=roll["tag"]))
            self.wrong_if(detail["survives_devices"] >= 1 and unsafe, f"{roll['tag']} survives")

    def unsafe_files(self, roll: Roll) -> list[str]:
        """Files of a roll, none of them waived, that are not on two devices with the bytes that were read."""
        waived = {one[0] for one in self.oracle.shown_waived}
        paths = [path for path in roll.files.values_list("path", flat=True) if path not in waived]
        return [path for path in paths if len(self._devices_of(roll, path)) < 2]

    def _devices_of(self, roll: Roll, path: str) -> set[str]:
        content = self.oracle.truth.get((roll.tag, path))
        return set() if content is None else self.oracle.drives_with(path, content)

    def judge_bench(self, case: dict) -> None:
        slot = self.get("bench")["slots"][0]
        if not slot["label"]:
            return
        self.assertEqual(slot["standing"], case["standing"], "one place judges")
        proposal = slot["proposal"] or {}
        if proposal.get("startable") in ("all held", "chosen held") and self.as_listed():
            stores = {store["store"] for store in proposal["stores"]}
            lacking = [one[0] for one in self.oracle.files(self.here) if not self._on_all(one, stores)]
            self.wrong_if(lacking, proposal["hint"])
        run = slot["offload"]
        if run and "agree" in run["sentence"]:
            self.wrong_if(any(store["state"] != "verified" for store in run["stores"]), run["sentence"])
        contents = self.get(f"bench/insertions/{slot['insertion_id']}/contents")
        clips = contents["clips"] if contents else {"paths": [], "holdings": []}
        there = {one[0]: one[3] for one in self.oracle.files(self.here)}
        for path, holding in zip(clips["paths"], clips["holdings"], strict=True):
            if holding == "held" and self.as_listed():
                known = [bytes_ for (_, of), bytes_ in self.oracle.truth.items() if of == path]
                self.wrong_if(there.get(path) not in known, f"{path} is held")

    def _on_all(self, one, stores: set[str]) -> bool:
        devices = set(Store.objects.filter(name__in=stores).values_list("device__name", flat=True))
        return devices <= self.oracle.drives_with(one[0], one[3])

    def judge_line(self, case: dict, rolls: list[dict]) -> None:
        line = self.get("waterline")
        waits = self.as_listed() and (self.oracle.in_no_copy(self.here) or self.oracle.owed(self.here))
        self.wrong_if(waits and "A-01" not in line["cards_waiting"], "no card waits")
        short = [roll["tag"] for roll in rolls if roll["state"] != "safe"]
        self.assertEqual(sorted(short), sorted([*line["rolls_short"], *line["rolls_below"]]))
        danger = self.as_listed() and case["standing"] != "being offloaded" and self.oracle.in_danger(self.here)
        unread = danger and self.oracle.in_no_copy(self.here) and any(
            len(content) for path, _, _, content in self.oracle.files(self.here)
            if path in self.oracle.in_no_copy(self.here)
        )  # fmt: skip
        self.wrong_if(unread and line["bytes_short"] == 0, "no bytes are short")
