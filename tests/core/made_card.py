"""A card made by the stand-in card maker, read the way a station reads it."""

import tempfile
from datetime import UTC, date, datetime
from pathlib import Path
from unittest import TestCase

from ruggedraft.core.cards import CardDescription, Circumstances, Finding, describe, read_indexes
from ruggedraft.core.cards.media import MediaFacts, read_media
from ruggedraft.core.sources import FolderSource, list_card

START = datetime(2026, 5, 14, 9, 30, tzinfo=UTC)
GROUND = Circumstances(zone=UTC, now=datetime(2026, 5, 15, tzinfo=UTC), first_day=date(2026, 5, 11))


class MadeCard(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.card = Path(folder.name) / "card"
        self.card.mkdir()

    def media(self, card: Path | None = None) -> dict[str, MediaFacts]:
        source = FolderSource(card or self.card)
        found = ((entry.path, read_media(source, entry)) for entry in list_card(source).files)
        return {path: facts for path, facts in found if facts}

    def described(self, around: Circumstances = GROUND, card: Path | None = None) -> CardDescription:
        source = FolderSource(card or self.card)
        listing = list_card(source)
        return describe(listing, around, self.media(card), read_indexes(listing, source))

    def findings(self, kind: str, around: Circumstances = GROUND) -> list[Finding]:
        return [finding for finding in self.described(around).findings if finding.kind == kind]
