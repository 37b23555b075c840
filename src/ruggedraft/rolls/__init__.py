"""Rolls and their copies: what exists where, and how well that is proven."""
