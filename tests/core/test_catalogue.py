"""The catalogue of the screens' sentences: each is said somewhere, and plural forms are those of its language."""

import json
from pathlib import Path
from unittest import TestCase

WEB = Path(__file__).resolve().parents[2] / "web" / "src"


class Catalogue(TestCase):
    def test_every_sentence_is_said_somewhere(self):
        """That each one which is said is there, the types see to."""
        sources = "".join(path.read_text() for path in WEB.rglob("*") if path.suffix in (".ts", ".vue"))
        rooms: dict[str, dict[str, str]] = json.loads((WEB / "words" / "en.json").read_text())
        asked_by_parts = {"counted", "matters", "may"}  # rooms of which the second half of an address is put together
        unsaid = [
            f"{room}.{name}"
            for room, sentences in rooms.items()
            for name in sentences
            if f"{room}.{name}" not in sources and (room not in asked_by_parts or f"'{name}'" not in sources)
        ]
        self.assertEqual(unsaid, [])

    def test_a_sentence_with_plural_forms_has_the_two_of_english(self):
        rooms: dict[str, dict[str, str]] = json.loads((WEB / "words" / "en.json").read_text())
        several = [text for sentences in rooms.values() for text in sentences.values() if " | " in text]
        self.assertTrue(several)
        self.assertEqual({len(text.split(" | ")) for text in several}, {2})
