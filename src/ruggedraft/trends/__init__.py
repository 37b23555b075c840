"""How it goes: what room, rates, cards and copies came to, over days."""
