"""Notes: written by those who may, about what is there, with words that stay words; seen by everybody on the crew."""

from django.test import TestCase

from ruggedraft.journal.models import JournalEntry
from ruggedraft.notes.models import Note

from .world import World


class Notes(World, TestCase):
    def write(self, on: str, name: str, words: str, person=None, **more):
        return self.post("notes", {"on": on, "name": name, "words": words, **more}, person or self.pip)

    def test_a_note_is_on_a_roll_a_clip_a_card_a_store_or_a_day(self):
        roll = self.offload()
        path = "DCIM/100AAAAA/AAAA0001.JPG"
        for on, name, more in (
            ("roll", roll.tag, {}), ("roll", roll.tag, {"clip": path}), ("card", "a-01", {}), ("store", "one", {}),
            ("day", "2026-05-14", {}),
        ):  # fmt: skip
            with self.subTest(on, more=more):
                self.assertEqual(self.write(on, name, "soft from 03:10", **more).status_code, 200)
        said = [(one["on"], one["name"], one["clip"], one["by"]) for one in self.get("notes")]
        self.assertEqual(said, [
            ("day", "2026-05-14", "", "Pip"), ("store", "one", "", "Pip"), ("card", "A-01", "", "Pip"),
            ("roll", "A001", path, "Pip"), ("roll", "A001", "", "Pip"),
        ])  # fmt: skip

    def test_what_is_not_there_or_says_nothing_is_refused(self):
        for on, name, words, more in (
            ("roll", "Z999", "x", {}), ("card", "Z-99", "x", {}), ("store", "none", "x", {}),
            ("day", "yesterday", "x", {}), ("card", "A-01", "  ", {}), ("card", "A-01", "x" * 2001, {}),
            ("card", "A-01", "x", {"clip": "DCIM/100AAAAA/AAAA0001.JPG"}),
        ):  # fmt: skip
            with self.subTest(on, name=name):
                self.assertIn(self.write(on, name, words, **more).status_code, (404, 409))
        self.assertFalse(Note.objects.exists())

    def test_whoever_is_named_with_an_at_is_told(self):
        self.write("card", "A-01", "@wren, door sticks <b>badly</b>; ask @nobody or sol@example.test")
        (note,) = self.get("notes", self.wren)
        self.assertTrue(note["for_me"])
        self.assertFalse(self.get("notes", self.sol)[0]["for_me"])
        self.assertIn("<b>badly</b>", note["words"], "words are kept as they were said; screens show text")

    def test_whoever_wrote_it_or_a_supervisor_withdraws_it_and_the_journal_keeps_it(self):
        self.write("card", "A-01", "door sticks")
        note = self.get("notes")[0]["id"]
        self.assertEqual(self.post(f"notes/{note}", person=self.wren, method="delete").status_code, 403)
        self.assertEqual(self.post(f"notes/{note}", person=self.pip, method="delete").status_code, 200)
        self.assertEqual(self.get("notes"), [])
        self.write("card", "A-01", "door sticks again")
        note = self.get("notes")[0]["id"]
        self.assertEqual(self.post(f"notes/{note}", person=self.sol, method="delete").status_code, 200)
        told = list(JournalEntry.objects.filter(act="withdraw note").values_list("sentence", flat=True))
        self.assertIn("A note on A-01 was withdrawn: door sticks", told)

    def test_no_verdict_rests_on_a_note(self):
        self.offload()
        before = self.standing()["digest"]
        self.write("card", "A-01", "do not clear this card!")
        self.assertEqual(self.standing()["digest"], before)
