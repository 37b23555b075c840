"""Stations, readers, cards, and what was on a card when it was read."""
