"""Runs that read a card and write its copies."""
