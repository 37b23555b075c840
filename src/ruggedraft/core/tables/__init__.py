"""Tables as text for spreadsheets (CSV, RFC 4180), written and read."""

from .reading import MOST_BYTES, Row, Table, read_table
from .writing import as_csv, plain_cell

__all__ = ["MOST_BYTES", "Row", "Table", "as_csv", "plain_cell", "read_table"]
