"""Simulated readers, cards and drives, and the demo. Nothing imports this but start-up."""
