import json
import time
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.runs import RunEnd
from ruggedraft.crew.models import Person
from ruggedraft.intake.models import Card, Insertion
from ruggedraft.offloads.acts.start_offload import start_offload
from ruggedraft.offloads.models import Offload
from ruggedraft.offloads.proposal import propose
from ruggedraft.rolls.summaries import roll_standings

VERIFIED, SOME_FAILED, NOTHING_DONE = 0, 1, 2
_LOOK_AGAIN = 0.5  # seconds


class Command(BaseCommand):
    help = (
        "Offload the card in a reader through the ledger, as the Bench does. Exit 0: started (with --wait: verified)."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("source", help="the reader's folder, or the card's label")
        parser.add_argument("--plan", required=True, help="the plan; it must be that of the card's camera")
        parser.add_argument(
            "--to", action="append", metavar="STORE", help="instead of the plan's stores; may be given again"
        )
        parser.add_argument("--roll", help="the roll's tag, if it must be this one")
        parser.add_argument("--by", required=True, help="the name of the person who answers for it")
        parser.add_argument("--wait", action="store_true", help="until the run has ended")
        parser.add_argument("--json", action="store_true", help="print one object about the run")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            offload = self._start(options)
        except ActRefused as error:
            raise CommandError(error.sentence, returncode=NOTHING_DONE) from error
        while options["wait"] and offload.finished_at is None:
            time.sleep(_LOOK_AGAIN)
            offload.refresh_from_db()
        told = _as_data(offload)
        self.stdout.write(json.dumps(told) if options["json"] else f"{told['roll']}: {told['state']}")
        if options["wait"] and told["state"] != "verified":
            raise SystemExit(SOME_FAILED)

    def _start(self, options: dict[str, Any]) -> Offload:
        person = Person.objects.filter(username=options["by"]).first()
        if person is None:
            raise ActRefused(f"There is nobody called {options['by']} in this ledger.")
        card = _card_in(options["source"])
        proposal = propose(card, to=options["to"])
        if proposal.plan.name.lower() != options["plan"].lower():
            raise ActRefused(
                f"Card {card.label} is of camera {proposal.card.owner.letter}, whose plan is '{proposal.plan.name}'."
            )
        return start_offload(person, card, options["roll"] or proposal.tag, to=options["to"])


def _card_in(source: str) -> Card:
    cards = Card.objects.select_related("camera__production__rule", "camera__plan")
    stay = Insertion.objects.filter(removed_at=None, reader__path=str(Path(source).absolute())).first()
    card = cards.filter(pk=stay.card_id or 0).first() if stay else cards.filter(label__iexact=source).first()
    if card is None:
        raise ActRefused(f"{source} is neither a reader with a known card in it nor a card's label.")
    return card


def _as_data(offload: Offload) -> dict[str, object]:
    standing = roll_standings([offload.roll_id], in_full=True)[offload.roll_id]
    findings = [
        {"store": f.store.name if f.store else None, "path": f.path, "reason": f.reason}
        for f in offload.findings.select_related("store")
    ]
    copies = [
        {
            "store": c.facts.store.name,
            "folder": c.folder,
            "level": c.facts.level.words,
            "missing": c.facts.missing_files,
        }
        for c in standing.copies
    ]
    whole = all(c.facts.whole_and_read_back for c in standing.copies)
    well = offload.end == RunEnd.WELL and whole and not findings
    state = "under way" if offload.finished_at is None else "verified" if well else "not safe everywhere"
    return {
        "roll": offload.roll.tag,
        "state": state,
        "files": offload.read_files,
        "copies": copies,
        "findings": findings,
    }
