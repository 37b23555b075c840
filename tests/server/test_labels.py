"""Labels on paper: read back from the rendered PDF by other libraries than those that drew them."""

from unittest import TestCase as PlainTestCase
from urllib.parse import urlencode

import pypdfium2
import zxingcpp
from django.test import Client, TestCase

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.labels import SHEETS, sheet_named, spots
from ruggedraft.reports.documents.labels import Label, label_sheets
from ruggedraft.reports.documents.paper import as_pdf

from .world import World, address

_DPI = 300
_MM = _DPI / 25.4


def codes_on(pdf: bytes) -> list[list[tuple[str, str, float, float]]]:
    """By page: format, words and middle in millimetres of every code that zxing (C++) reads off it at 300 dpi."""
    found = []
    for page in pypdfium2.PdfDocument(pdf):
        picture = page.render(scale=_DPI / 72).to_pil().convert("L")
        found.append([
            (str(one.format).replace(" ", ""), one.text,
             (one.position.top_left.x + one.position.bottom_right.x) / 2 / _MM,
             (one.position.top_left.y + one.position.bottom_right.y) / 2 / _MM)
            for one in zxingcpp.read_barcodes(picture)
        ])  # fmt: skip
    return found


def words_on(pdf: bytes) -> str:
    return "\n".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(pdf))


class Sheets(PlainTestCase):
    def test_labels_lie_side_by_side_and_on_the_page(self):
        for sheet in SHEETS:
            self.assertTrue(sheet.fits, sheet.name)
            self.assertIn(f"{sheet.count} labels", sheet.name)

    def test_every_label_is_read_back_where_it_should_lie(self):
        """On each kind of sheet, begun at its third label and going on to a second page."""
        for sheet in SHEETS:
            with self.subTest(sheet.name):
                names = [f"A-{n:02}" for n in range(1, sheet.count + 1)]
                made = [Label(name, "A", f"http://cart.test/tidewrack/cards/{name}", "Tidewrack") for name in names]
                pages = codes_on(label_sheets(made, sheet, first=3))
                self.assertEqual([len(page) for page in pages], [2 * (sheet.count - 2), 4])
                read = {(kind, words): (n, x, y) for n, page in enumerate(pages) for kind, words, x, y in page}
                for name, spot in zip(names, spots(sheet, sheet.count, 3), strict=True):
                    for kind, words in (("Code128", name), ("QRCode", f"http://cart.test/tidewrack/cards/{name}")):
                        n, x, y = read[(kind, words)]
                        self.assertEqual(n, spot.sheet)
                        self.assertTrue(spot.x < x < spot.x + sheet.width, f"{name} {kind} at {x} mm")
                        self.assertTrue(spot.y < y < spot.y + sheet.height, f"{name} {kind} at {y} mm")

    def test_a_sheet_or_a_start_that_is_not_there_is_refused(self):
        for first in (0, -1, 22):
            with self.assertRaisesRegex(ActRefused, "has labels 1 to 21"):
                list(spots(SHEETS[0], 1, first))
        with self.assertRaisesRegex(ActRefused, "no label sheet 'napkin'"):
            sheet_named("napkin")

    def test_odd_names_are_text_and_never_markup_and_nothing_is_fetched(self):
        image = "<img src='http://elsewhere.test/x.png'>&\"'"
        odd = [
            Label("<i>'", "", "http://cart.test/", image),
            Label(image, "", "http://cart.test/", "<b>x</b>"),
            Label("潮", "R1", "http://c.test/", ""),
        ]
        pdf = label_sheets(odd, SHEETS[0])
        self.assertIn("<img", words_on(pdf))
        self.assertIn("<b>x</b>", words_on(pdf))
        bars = [words for kind, words, _, _ in codes_on(pdf)[0] if kind == "Code128"]
        self.assertEqual(bars, ["<i>'"], "one is too long for bars, and bars cannot say 潮")
        self.assertTrue(as_pdf("<img src='file:///etc/passwd'>", "").startswith(b"%PDF"))


class Labels(World, TestCase):
    def pdf(self, query: str = "", person=None):
        path = address(f"reports/labels{query}")
        return self._same_client(person or self.pip).get(path, headers={"host": "localhost"})

    def test_every_card_and_named_drives_get_one_that_leads_to_its_page(self):
        self.new_card("A-02", {})
        answer = self.pdf()
        self.assertEqual(answer["Content-Type"], "application/pdf")
        said = {words for _, words, _, _ in codes_on(answer.content)[0]}
        self.assertEqual(said, {
            "A-01", "A-02", "http://localhost/heron/cards/A-01", "http://localhost/heron/cards/A-02",
        })  # fmt: skip
        self.assertIn("Heron · Halyard", words_on(answer.content))
        drive = {words for _, words, _, _ in codes_on(self.pdf("?stores=one").content)[0]}
        self.assertEqual(drive, {"one", "http://localhost/heron/stores?store=one"})

    def test_what_a_scanner_types_of_either_code_leads_to_the_card(self):
        for code in ("A-01", "http://localhost/heron/cards/A-01"):
            self.assertEqual(self.get(f"clearing/scan?code={code}")["card"], "A-01")

    def test_what_a_scanner_types_of_a_drives_label_leads_to_the_drive(self):
        """It comes without spaces, as keys that are shortcuts do not."""
        self.drive("Cart SSD 1")
        for code in ("CartSSD1", "cart ssd 1", "http://localhost/heron/stores?store=Cart+SSD+1"):
            told = self.get(f"clearing/scan?{urlencode({'code': code})}")
            self.assertEqual((told["card"], told["roll"], told["store"]), (None, None, "Cart SSD 1"))
        self.assertEqual(self.get("clearing/scan?code=")["store"], None)

    def test_what_is_not_there_is_said(self):
        for query in ("?cards=Z-99", "?stores=none", "?first=99", "?sheet=napkin"):
            with self.subTest(query):
                self.assertEqual(self.pdf(query).status_code, 409)
        self.assertEqual(Client().get(address("reports/labels"), headers={"host": "localhost"}).status_code, 401)
