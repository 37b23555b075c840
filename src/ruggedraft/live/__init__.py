"""Tells every open screen what changed."""
