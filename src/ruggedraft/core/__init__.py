"""The computation: reading cards, moving and proving bytes, judging redundancy. Knows no framework, no clock."""
