"""CSV: written so that no spreadsheet works anything out, read as people's programs write it."""

import csv
import io
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from ruggedraft.core.errors import TableRefused
from ruggedraft.core.tables import MOST_BYTES, as_csv, read_table
from ruggedraft.core.tables.reading import MOST_ROWS


class Writing(TestCase):
    def test_no_cell_begins_a_formula(self):
        """The cases of OWASP, 'CSV Injection'."""
        for evil in ("=1+1", "+1", "-1", "@SUM(A1)", "\t=1", "\r=1", '=HYPERLINK("http://evil","x")'):
            (_, (cell,)) = csv.reader(io.StringIO(as_csv(["name"], [[evil]]).decode("utf-8-sig"), newline=""))
            self.assertEqual(cell, f"'{evil}")

    def test_numbers_stay_numbers_and_lines_end_as_the_standard_asks(self):
        """RFC 4180, 2.1 and 2.6."""
        self.assertEqual(as_csv(["a", "b"], [[-3, 'x,"y"']]), b'\xef\xbb\xbfa,b\r\n-3,"x,""y"""\r\n')


class Reading(TestCase):
    def test_the_ways_that_programs_write_it(self):
        head, row = ("Roll", "Clip", "Notes"), ("A012", "7", "soft, from 03:10")
        for separator in (",", ";", "\t", "|"):
            for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
                made = io.StringIO()
                table = csv.writer(made, delimiter=separator)
                table.writerows([head, row, ("A012", "8", "café"), ()])
                found = read_table(made.getvalue().encode(encoding))
                self.assertEqual(found.head, head, (separator, encoding))
                self.assertEqual(found.rows[0].cells, row)
                self.assertEqual(found.rows[1].cells[2], "café")
                self.assertEqual([one.line for one in found.rows], [2, 3])

    def test_a_title_above_the_head_is_none_of_it(self):
        found = read_table(b"Camera report\n\nDay,4\nRoll,Clip,Scene,Take\nA1,7,12,3\n")
        self.assertEqual(found.head, ("Roll", "Clip", "Scene", "Take"))
        self.assertEqual([(one.line, one.cells) for one in found.rows], [(5, ("A1", "7", "12", "3"))])

    def test_columns_of_one_name_and_of_none_are_told_apart(self):
        self.assertEqual(read_table(b"a,a,,b\n1,2,3,4\n").head, ("a", "a (2)", "column 3", "b"))

    def test_what_is_no_csv_is_refused_with_what_it_is(self):
        for data, words in (
            (b"", "nothing in this file"), (b"\n\n  \n", "nothing in this file"), (b"PK\x03\x04rest", "a spreadsheet"),
            (b"%PDF-1.7", "a PDF"), (b"\x00\x01\x02", "no text"), (b"one line and no cells\nanother\n", "no table"),
            (b"x" * (MOST_BYTES + 1), "at most 1,000,000 are read"),
            (b"a,b\n" + b"1,2\n" * (MOST_ROWS + 1), "more than"),
            (b'a,b\n"' + b"x" * 200_000 + b'",2\n', "no CSV that can be read"),
            ((",".join(map(str, range(300))) + "\n").encode() * 2, "300 columns"),
        ):  # fmt: skip
            with self.assertRaisesRegex(TableRefused, words):
                read_table(data)

    @given(st.binary(max_size=300))
    def test_whatever_comes_in_is_a_table_or_refused(self, data):
        try:
            found = read_table(data)
        except TableRefused:
            return
        self.assertTrue(all(len(row.cells) == len(found.head) for row in found.rows))
        self.assertEqual(len(set(found.head)), len(found.head))
