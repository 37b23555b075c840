"""Productions, their cameras, rules and plans."""
