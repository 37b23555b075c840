from typing import Any

from django.core.management.base import BaseCommand

from ruggedraft.core.errors import StoreError
from ruggedraft.journal.anchors import anchors_beneath
from ruggedraft.journal.writing import find_broken_seal
from ruggedraft.stores.folders import folder_of
from ruggedraft.stores.models import Store

_TAMPERED = 1


class Command(BaseCommand):
    help = (
        "Prove that nobody rewrote or cut the journal: every row against the seal before it, and its head against the "
        "records beside the copies on every connected store. Exit 1 if it was."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        found = self._seals() + self._anchors()
        if found:
            raise SystemExit(_TAMPERED)

    def _seals(self) -> int:
        broken = find_broken_seal()
        if broken is None:
            self.stdout.write("Every row of the journal follows from the one before it.")
            return 0
        self.stdout.write(f"Row {broken.entry_id} of the journal is not as it was written.")
        return 1

    def _anchors(self) -> int:
        seen = wrong = 0
        for store in Store.objects.select_related("device"):
            try:
                folder = folder_of(store)
            except StoreError as error:
                self.stdout.write(f"Not asked: {error.sentence}.")
                continue
            for anchor in anchors_beneath(folder):
                seen += 1
                if not anchor.holds:
                    wrong += 1
                    self.stdout.write(f"{anchor.path} knows row {anchor.entry_id}; the journal has another, or none.")
        words = "agree with the journal" if not wrong else f"{wrong} of them do not agree with the journal"
        self.stdout.write(f"{seen} records on connected stores: {words}.")
        return wrong
