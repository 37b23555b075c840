"""A ledger goes on with the kind of fingerprints that it began with; those of another kind count as none."""

from django.test import TransactionTestCase

from ruggedraft.checks.models import CheckRun
from ruggedraft.clearing.cases import case
from ruggedraft.core.redundancy import CardStanding
from ruggedraft.core.sources import FingerprintKind
from ruggedraft.intake import queries
from ruggedraft.intake.fingerprints import comparable, fingerprint_kind, go_on_with
from ruggedraft.intake.models import Card, ListedEntry
from ruggedraft.intake.watching import look
from ruggedraft.rolls.models import RollFile

from . import test_rebuild

NEW, OLD = FingerprintKind.XXH3, FingerprintKind.BLAKE2B


class OlderLedger(test_rebuild.RebuildCase, TransactionTestCase):
    def setUp(self):
        queries._kept.clear()  # a process serves one ledger; here one follows another, and numbers its rows anew
        self.addCleanup(queries._kept.clear)
        go_on_with(OLD)
        super().setUp()

    def kinds(self, rows) -> set[FingerprintKind]:
        return {
            FingerprintKind.of(taken) for taken in rows.exclude(fingerprint="").values_list("fingerprint", flat=True)
        }

    def test_runs_and_looks_at_cards_go_on_with_its_kind(self):
        self.assertEqual(self.kinds(RollFile.objects), {OLD})
        self.assertEqual(self.kinds(ListedEntry.objects), {OLD})
        self.assertEqual(case(Card.objects.get()).standing, CardStanding.CLEARED)

    def test_it_is_made_again_from_its_records_with_the_same_kind(self):
        self.lose_everything()
        self.rebuild()
        self.assertEqual((fingerprint_kind(), self.kinds(RollFile.objects)), (OLD, {OLD}))
        self.check_all()
        look(self.this_station())
        self.assertEqual(case(Card.objects.get()).standing, CardStanding.CLEARABLE)

    def test_what_nothing_can_be_compared_with_clears_no_card(self):
        """As a ledger that was put together from others has it: names, sizes and times agree, and prove nothing."""
        self.lose_everything()
        self.rebuild()
        self.check_all()
        RollFile.objects.update(fingerprint="")
        look(self.this_station())
        found = case(Card.objects.get())
        self.assertEqual(found.standing, CardStanding.BLOCKED)
        self.assertIn("compared by content", str(found.verdict.blocks))
        self.assertEqual(CheckRun.objects.exclude(end="well").count(), 0)


class NewLedger(test_rebuild.RebuildCase, TransactionTestCase):
    def test_it_takes_the_quick_kind(self):
        self.assertEqual(fingerprint_kind(), NEW)
        taken = RollFile.objects.values_list("fingerprint", flat=True)
        self.assertEqual({(FingerprintKind.of(one), len(one)) for one in taken}, {(NEW, 32)})
        self.assertEqual([comparable(one, OLD) for one in taken], [""] * len(taken))
        self.assertEqual([comparable(one, NEW) for one in taken], list(taken))
