"""The people, and what each role may do."""
