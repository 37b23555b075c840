"""Copies that we did not write: looking through a store for rolls, and taking them for copies once they are read."""
