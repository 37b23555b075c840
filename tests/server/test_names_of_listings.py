"""Names belong to a listing that is there, as the database itself sees to: by hand, and by two at once."""

import threading

from django.db import IntegrityError, connection, connections, transaction
from django.test import TestCase, TransactionTestCase
from psycopg.errors import ForeignKeyViolation

from ruggedraft.intake.models import CardListing, ListedEntry

from .world import World

_COLUMNS = "listing_id, path, kind, size, modified_ns, detail, fingerprint, algorithm, checksum"
_ADD = f"INSERT INTO intake_listedentry ({_COLUMNS}) VALUES (%s, %s, 'file', 1, 1, '', '', '', '')"  # noqa: S608  a table of our own
_REMOVE = "DELETE FROM intake_cardlisting WHERE id = %s"


def sql(words: str, *values: object) -> None:
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(words, values)
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")


class ByHand(World, TestCase):
    def setUp(self):
        super().setUp()
        self.listing = self.card.listings.latest()

    def refuses(self, words: str, *values: object) -> None:
        before = set(ListedEntry.objects.values_list("listing", "path"))
        with self.assertRaises(IntegrityError):
            sql(words, *values)
        self.assertEqual(set(ListedEntry.objects.values_list("listing", "path")), before)

    def test_names_of_no_listing_are_refused_also_among_others(self):
        self.refuses(_ADD, self.listing.pk + 1000, "stray")
        self.refuses(_ADD + ", (%s, 'good', 'file', 1, 1, '', '', '', '')", self.listing.pk + 1000, "stray",
                     self.listing.pk)  # fmt: skip
        sql(_ADD, self.listing.pk, "good")

    def test_copied_names_are_watched_too(self):
        with (
            self.assertRaises(ForeignKeyViolation),
            transaction.atomic(),
            connection.cursor() as cursor,
            cursor.copy(f"COPY intake_listedentry ({_COLUMNS}) FROM STDIN") as copy,
        ):
            copy.write_row((self.listing.pk + 1000, "stray", "file", 1, 1, "", "", "", ""))

    def test_a_listing_does_not_go_without_its_names(self):
        lonely = CardListing.objects.create(
            card=self.card, insertion=self.listing.insertion, began_at=self.listing.began_at, files=1, bytes=1,
        )  # fmt: skip
        sql(_ADD, lonely.pk, "name")
        self.refuses(_REMOVE, lonely.pk)
        lonely.delete()
        self.assertFalse(ListedEntry.objects.filter(listing=lonely.pk).exists())

    def test_names_do_not_move(self):
        other = CardListing.objects.create(
            card=self.card, insertion=self.listing.insertion, began_at=self.listing.began_at, files=1, bytes=1,
        )  # fmt: skip
        self.refuses("UPDATE intake_listedentry SET listing_id = %s", other.pk)
        sql("UPDATE intake_listedentry SET fingerprint = 'x', listing_id = listing_id")


class TwoAtOnce(World, TransactionTestCase):
    def setUp(self):
        super().setUp()
        seen = self.card.listings.latest()
        self.listing = CardListing.objects.create(
            card=self.card, insertion=seen.insertion, began_at=seen.began_at, files=1, bytes=1,
        )  # fmt: skip

    def refuses_meanwhile(self, first: tuple[str, list[object]], then: tuple[str, list[object]]) -> None:
        """The second waits for the first, and is refused when that is done."""
        said: list[Exception] = []

        def second() -> None:
            try:
                sql(then[0], *then[1])
            except IntegrityError as error:
                said.append(error)
            finally:
                connections.close_all()

        other = threading.Thread(target=second)
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(*first)
            other.start()
            other.join(0.5)
            self.assertTrue(other.is_alive(), "it waits")
        other.join()
        self.assertEqual(len(said), 1)

    def test_a_listing_does_not_go_while_names_come(self):
        self.refuses_meanwhile((_ADD, [self.listing.pk, "name"]), (_REMOVE, [self.listing.pk]))
        self.assertEqual(self.listing.entries.count(), 1)
        self.assertTrue(CardListing.objects.filter(pk=self.listing.pk).exists())

    def test_names_do_not_come_while_their_listing_goes(self):
        self.refuses_meanwhile((_REMOVE, [self.listing.pk]), (_ADD, [self.listing.pk, "name"]))
        self.assertFalse(ListedEntry.objects.filter(listing=self.listing.pk).exists())
