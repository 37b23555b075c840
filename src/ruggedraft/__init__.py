"""Rugged Raft: verified copies of camera cards, and a truthful answer before a card is reused."""
