"""The picture by which a production shows itself on its clients' pages."""

import io
import os
import zlib

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image, PngImagePlugin

from ruggedraft.delivering.models import Emblem
from ruggedraft.journal.models import JournalEntry

from .test_deliveries import Deliveries


def drawn(kind: str = "PNG", size=(1200, 300), mode: str = "RGBA", **more) -> bytes:
    """A red bar on nothing at all."""
    image = Image.new(mode, size, (0, 0, 0, 0)[: len(mode)])
    image.paste((200, 0, 0, 255)[: len(mode)], (100, 100, size[0] - 100, size[1] - 100))
    out = io.BytesIO()
    image.save(out, kind, **more)
    return out.getvalue()


class Shown(Deliveries, TestCase):
    def show(self, given: bytes, person=None):
        self.client.force_login(person or self.wren)
        body = {"file": SimpleUploadedFile("whatever.png", given)}
        return self.client.post("/api/productions/heron/deliveries/emblem", body)

    def test_the_clients_page_shows_it_and_nobody_else_does(self):
        page = self.deliver()
        self.assertNotIn("<img", self.by_link(page).content.decode().partition("<main>")[0])
        self.assertEqual(self.by_link(page + "production.jpg").status_code, 404)
        self.assertEqual(self.get("deliveries/emblem")["picture"], "")
        self.assertEqual(self.show(drawn()).status_code, 200)
        self.assertIn('src="production.jpg"', self.by_link(page).content.decode())
        answer = self.by_link(page + "production.jpg")
        with Image.open(io.BytesIO(answer.content)) as seen:
            self.assertEqual((seen.format, seen.size), ("JPEG", (480, 120)))
            self.assertGreater(min(seen.getpixel((2, 2))), 245, "what was transparent is white")
            self.assertGreater(seen.getpixel((240, 60))[0], 180)
        self.assertTrue(self.get("deliveries/emblem")["picture"].startswith("data:image/jpeg;base64,"))
        self.assertEqual(self.by_link("/d/guess/production.jpg").status_code, 404)
        self.post(f"deliveries/{self.rows()[0]['id']}", method="delete")
        self.assertEqual(self.by_link(page + "production.jpg").status_code, 404, "the link opens nothing")

    def test_another_replaces_it_and_none_takes_it_away(self):
        self.show(drawn())
        first = bytes(Emblem.objects.get().picture)
        self.assertEqual(self.show(drawn("JPEG", mode="RGB")).status_code, 200)
        self.assertNotEqual(bytes(Emblem.objects.get().picture), first)
        for _ in range(2):
            self.assertEqual(self.post("deliveries/emblem", method="delete").status_code, 200)
        self.assertFalse(Emblem.objects.exists())
        acts = [*JournalEntry.objects.filter(act__endswith="emblem").order_by("pk").values_list("act", flat=True)]
        self.assertEqual(acts, ["keep emblem", "keep emblem", "forget emblem"])

    def test_what_is_no_picture_is_refused_and_the_one_there_is_stays(self):
        self.show(drawn())
        before = bytes(Emblem.objects.get().picture)
        for given, said in (
            (b"", "no picture that can be shown"),
            (b"<svg onload='x'/>", "no picture that can be shown"),
            (drawn()[:200], "no picture that can be shown"),
            (os.urandom(20_000_001), "20 MB at most"),
            (_bomb(), "too many pixels"),
        ):
            self.refused(self.show(given), said)
        self.assertEqual(bytes(Emblem.objects.get().picture), before)

    def test_nothing_of_the_file_goes_out_but_what_is_seen(self):
        hidden = PngImagePlugin.PngInfo()
        hidden.add_text("where", "61.4978 N 23.7610 E")
        self.show(drawn(pnginfo=hidden))
        self.assertNotIn(b"61.4978", bytes(Emblem.objects.get().picture))


def _bomb() -> bytes:
    """A picture of 30,000 by 30,000 pixels that says so in a few bytes."""
    made = drawn(size=(300, 300))
    head = b"IHDR" + (30_000).to_bytes(4, "big") * 2 + made[24:29]
    return made[:12] + head + zlib.crc32(head).to_bytes(4, "big") + made[33:]
