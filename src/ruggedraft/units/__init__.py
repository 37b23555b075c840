"""Units away: a part of the crew works with a ledger of its own, and joins it later."""
