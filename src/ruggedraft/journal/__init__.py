"""Who did what, when, on what: append-only, each row sealed with the one before it."""
