"""Tables as text for spreadsheets (CSV, RFC 4180), written and read."""

from .writing import as_csv, plain_cell

__all__ = ["as_csv", "plain_cell"]
