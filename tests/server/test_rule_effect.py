"""What another rule would change is said before it is saved, and is what then happens."""

from django.test import TransactionTestCase

from ruggedraft.clearing.cases import active_cards, cases
from ruggedraft.clearing.rule_effect import effect_of
from ruggedraft.core.redundancy import judge_roll
from ruggedraft.intake.watching import look
from ruggedraft.journal.clock import now
from ruggedraft.productions.acts.change_rule import change_rule, rule_with
from ruggedraft.productions.models import Production, RuleChange
from ruggedraft.rolls.models import Roll
from ruggedraft.rolls.summaries import roll_standings
from ruggedraft.standins import hub

from .world import World

RULES = (
    {"copies": 3, "devices": 3}, {"copies": 1, "devices": 1}, {"offsite": 1}, {"locations": 2}, {"signers": 2},
    {"level": 0}, {"media": 2},
)  # fmt: skip


class RuleEffects(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        self.offload()
        card, _ = self.new_card("A-02", {"DCIM/100AAAAA/AAAA0009.JPG": b"new"})
        hub.insert(card.label, "slot-2")
        look(self.station)
        self.plan.stores.set([self.drives["one"]])
        self.offload(card)

    def fresh(self) -> Production:
        return Production.objects.select_related("rule").get(pk=self.production.pk)

    def stand(self) -> tuple[dict[str, str], dict[str, bool]]:
        rule = self.fresh().rule.as_rule()
        cards = {one.card.label: one.standing.value for one in cases(active_cards())}
        rolls = roll_standings(Roll.objects.values_list("pk", flat=True)).values()
        return cards, {one.roll.tag: judge_roll(one.facts, rule, now()).met for one in rolls}

    def test_what_it_says_is_what_happens_when_it_is_saved(self):
        for wanted in RULES:
            with self.subTest(str(wanted)):
                cards, rolls = self.stand()
                told = effect_of(self.fresh(), rule_with(self.production, wanted))
                original = {name: getattr(self.fresh().rule, name) for name in wanted}
                change_rule(self.sol, self.production, wanted, "to see")
                cards_after, rolls_after = self.stand()
                changed = {label: (cards[label], to) for label, to in cards_after.items() if cards[label] != to}
                self.assertEqual({one.label: (one.before.value, one.after.value) for one in told.cards}, changed)
                self.assertEqual(set(told.falls), {tag for tag in rolls if rolls[tag] and not rolls_after[tag]})
                self.assertEqual(set(told.rises), {tag for tag in rolls if rolls_after[tag] and not rolls[tag]})
                change_rule(self.sol, self.production, original, "back again")

    def test_some_of_these_rules_do_change_something(self):
        told = effect_of(self.fresh(), rule_with(self.production, {"copies": 1, "devices": 1}))
        self.assertEqual(told.rises, ("A002",))
        told = effect_of(self.fresh(), rule_with(self.production, {"copies": 3, "devices": 3}))
        self.assertEqual(told.falls, ("A001",))
        self.assertIn("A-01", [one.label for one in told.cards])

    def test_asking_changes_nothing_and_nonsense_is_refused(self):
        before = self.stand()
        answer = self.post("setup/rule/effect", {"copies": 3, "devices": 3}, self.pip)
        self.assertEqual(answer.status_code, 200)
        self.assertIn("3 copies on 3 devices", answer.json()["sentence"])
        self.assertEqual(self.stand(), before)
        self.assertFalse(RuleChange.objects.exists())
        for wanted in ({"copies": 0}, {"level": 9}, {"signers": 101}, {"copies": None}):
            with self.subTest(str(wanted)):
                self.assertEqual(self.post("setup/rule/effect", wanted, self.sol).status_code, 409)
