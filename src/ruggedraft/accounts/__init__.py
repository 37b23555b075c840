"""Accounts of rolls, file by file, as they are handed out: by edition, on paper, as a table and as data."""
